# frozen_string_literal: true

module Web
  # The part of a bench's screen that says where things are drawn: hoses, what runs out where, the chambers'
  # pressures.
  module BenchPlaces
    COCK_TOP_Y = 112
    KIT_TOP_Y = 345
    HoseLine =
      Struct.new(
        :id, :label, :name, :path, :tag_x, :tag_y, :place, :end_x, :end_y, :on, :port_x, keyword_init: true
      ) do
        def key = BenchScreen::KEYS[:"hose_#{id}"]
      end

    def hoses
      @hoses ||=
        kit.hoses.values.map do |hose|
          far = state.hose_ends.fetch(hose.id)
          near = state.hose_ends[hose.near]
          path, finish = (near && near != :kit) ? joined(near, far, hose) : from_port(hose, far)
          HoseLine.new(
            id: hose.id,
            label: hose.label,
            name: hose.name,
            path: path,
            place: hose_place(far, near),
            tag_x: finish[2],
            tag_y: finish[3],
            end_x: finish[0],
            end_y: finish[1],
            on: (far unless far == :free),
            port_x: kit.drawing[:ports].fetch(hose.id)[:x]
          )
        end
    end

    # Where the pressures of the chambers are written in the view of the inside.
    def inside_spots
      between = ->(one, other) { (place(one)[:x] + place(other)[:x]) / 2 }
      of = Nurv::Units.line_name(unit)
      checks = assembly.components.include?(:check_valve_2)
      list = [[:supply, across(44), 212, of], [:inlet, between.call(:shutoff_valve_1, :check_valve_1), 212, of]]
      list +=
        (
          if checks
            [
              [:zone, between.call(:check_valve_1, :check_valve_2), 178, of],
              [:outlet, between.call(:check_valve_2, :shutoff_valve_2), 212, of]
            ]
          else
            [[:body, between.call(:check_valve_1, :shutoff_valve_2), 212, of]]
          end
        )
      list << [:downstream, across(along(:downstream_tap) - 40), 178, of]
      list = list.map { |node, x, y, words| [node, *on_sheet(x, y), words] }
      ports = kit.drawing[:ports]
      list += [[:high, ports[:high][:x] - 8, 508, "H"]] if ports[:high]
      list += [[:low, ports[:low][:x] + 10, 508, "L"]] if ports[:low]
      list
    end

    # A hose hangs down on the far side of its cock, words stand on the near one.
    def side = to_the_left? ? -1 : 1

    # @return [String] class of words beside a cock
    def beside = to_the_left? ? "beside-after" : "beside"

    private

    def hose_place(far, near)
      place = (far == :free) ? "free end in the bucket" : "on #{words.control(far)}"
      (near && near != :kit) ? "#{place}, kit end on #{words.control(near)}" : place
    end

    def cock_x(cock) = place(cock)[:x]

    # Path, and [end x, end y, tag x, tag y].
    def from_port(hose, far)
      x = kit.drawing[:ports].fetch(hose.id)[:x]
      if far == :free
        end_x, end_y = kit.drawing[:free_ends].fetch(hose.id)
        return [
          "M#{x} #{KIT_TOP_Y} C#{x} #{KIT_TOP_Y - 52} #{end_x} #{KIT_TOP_Y - 62} " \
          "#{end_x} #{KIT_TOP_Y + 30} L#{end_x} #{end_y}",
          [end_x, end_y, end_x, end_y - 40]
        ]
      end
      return to_the_side(x, far) if standing?

      cock = cock_x(far)
      lane = cock + 40 * side
      # What comes from far runs low, past the relief port.
      low = (lane - x).abs > 120
      bend, rise = low ? [14, 44] : [36, 70]
      [
        "M#{x} #{KIT_TOP_Y} C#{x} #{KIT_TOP_Y - bend} #{lane} #{KIT_TOP_Y - bend + 6} #{lane} #{KIT_TOP_Y - rise} " \
          "L#{lane} 96 " \
          "C#{lane} 62 #{cock} 62 #{cock} #{COCK_TOP_Y}",
        [cock, COCK_TOP_Y, lane, 250]
      ]
    end

    # Up from the port, over, and onto a cock that points to the kit.
    def to_the_side(x, far)
      end_x, end_y = on_sheet(cock_x(far), COCK_TOP_Y)
      points = [[x, KIT_TOP_Y], [x, KIT_TOP_Y - 120], [end_x + 120, end_y], [end_x, end_y]]
      [curve(points), [end_x, end_y, *along_curve(points, 0.72)]]
    end

    def curve(points) = "M%g %g C%g %g %g %g %g %g" % points.flatten

    # @param share [Float] 0..1 along a cubic
    def along_curve(points, share)
      rest = 1.0 - share
      weights = [rest**3, 3 * rest**2 * share, 3 * rest * share**2, share**3]
      [0, 1].map { |axis| points.zip(weights).sum { |point, weight| point[axis] * weight }.round(1) }
    end

    def joined_at_the_side(near, far)
      from_x, from_y = on_sheet(cock_x(near), COCK_TOP_Y)
      if far == :free
        points = [[from_x, from_y], [from_x + 70, from_y], [from_x + 80, from_y + 20], [from_x + 80, from_y + 60]]
        return curve(points), [from_x + 80, from_y + 60, *along_curve(points, 0.5)]
      end

      to_x, to_y = on_sheet(cock_x(far), COCK_TOP_Y)
      points = [[from_x, from_y], [from_x + 90, from_y], [to_x + 90, to_y], [to_x, to_y]]
      [curve(points), [to_x, to_y, *along_curve(points, 0.5)]]
    end

    def joined(near, far, hose)
      return joined_at_the_side(near, far) if standing?

      from = cock_x(near)
      if far == :free
        return "M#{from} #{COCK_TOP_Y} C#{from} 40 #{from + 60} 34 #{from + 90} 60", [from + 90, 60, from + 60, 46]
      end

      to = cock_x(far)
      over = (to > from) ? 40 : -40
      [
        "M#{from} #{COCK_TOP_Y} C#{from} 30 #{from + over} 30 #{from + over * 2} 30 " \
          "L#{to - over * 2} 30 C#{to - over} 30 #{to} 30 #{to} #{COCK_TOP_Y}",
        [to, COCK_TOP_Y, (from + to) / 2, 30]
      ]
    end

    def outlet_spots
      spots =
        assembly.test_cocks.keys.to_h do |cock|
          [cock, [*on_sheet(cock_x(cock), COCK_TOP_Y - 2), standing? ? :right : :up, words.control(cock)]]
        end
      spots[:relief_valve] = [*on_sheet(relief_x, 306), :down, "Relief port"] if relief_x
      spots[:residual] = [*on_sheet(relief_x + 62 * side, 232), :down, "Body of CV2"] if relief_x
      spots.merge!(fitting_spots)
      kit.valves.each_key do |valve|
        spout = kit.drawing[:valves][valve][:spout]
        spots[valve] = [spout[:x], spout[:y], :down, kit.valves[valve].label] if spout
      end
      hoses.each do |hose|
        spots[:"hose_#{hose.id}"] = [hose.end_x, hose.end_y + 4, :down, hose.name] if state.hose_ends[hose.id] ==
          :free
      end
      spots
    end

    def fitting_spots
      tube = on_cock(:sight_tube)
      tee = on_cock(:bleed_off_tee)
      spots = {}
      # From an outlet up, wherever it points.
      from_outlet = ->(x, y) {
        there = on_sheet(x, COCK_TOP_Y)
        [there[0], there[1] + y]
      }
      brim = -rule_of[:per_inch] * Nurv::Equipment::Assembly::TUBE_IN - 4
      spots[:sight_tube_brim] = [*from_outlet.call(tube, brim), :up, "Sight tube"] if tube
      if tee
        x, y = from_outlet.call(tee, -22)
        spots[:tee_needle] = [x + tee_reach.last, y, :down, "Tee"]
        spots[:tee_side] = [x, y - 16, :up, "Tee"]
      end
      spots[:downstream_tap] = [*on_sheet(tap.x, 222), :down, "Tap"]
      spots[:air_inlet] = [air_inlet_x, 96 - air_inlet_rise, :up, "Air inlet"] if air_inlet_x
      spots
    end
  end
end
