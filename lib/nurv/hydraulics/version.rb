# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Goes up when a law of the water or a number in it changes what a gauge would show. A grade that is kept stands
    # as it is and says under which it was worked out; a bench answers by the newest.
    #
    # 1: as first shipped. 2: a free surface has play at its brim, a one-way opening a slope below it.
    # 3: air, needle, feel and tracer. 4: steps of fourth order, that know how air stiffens. 5: cavities, slow water as
    # a plug in a hose, bleeds that spit what their own hose gives, test cocks that grow with the assembly.
    VERSION = 5
  end
end
