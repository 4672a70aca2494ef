# frozen_string_literal: true

require "tzinfo"

# Times as they are told where their reader is.
class LocalTime
  # @param zone [String] like Atlantic/Azores
  def initialize(zone)
    @zone = TZInfo::Timezone.get(zone)
  end

  # @return [String] like 3 May, 09:30; a dash for what has not been
  def moment(time) = told(time, "%-d %b, %H:%M")

  def day(time) = told(time, "%-d %b %Y")

  private

  def told(time, format) = time ? @zone.to_local(time.to_time.utc).strftime(format) : "–"
end
