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
          near = state.hose_ends[:"#{hose.id}_near"]
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

    def joined(near, far, hose)
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
        assembly.test_cocks.keys.to_h { |cock| [cock, [cock_x(cock), COCK_TOP_Y - 2, :up, words.control(cock)]] }
      spots[:relief_valve] = [relief_x, 306, :down, "Relief port"] if relief_x
      spots[:residual] = [relief_x + 62 * side, 232, :down, "Body of CV2"] if relief_x
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
      spots[:sight_tube_brim] = [tube, 24, :up, "Sight tube"] if tube
      spots[:tee_needle] = [tee - 66, 90, :down, "Tee"] if tee
      spots[:tee_side] = [tee, 74, :up, "Tee"] if tee
      spots[:downstream_tap] = [tap.x, 222, :down, "Tap"]
      spots[:air_inlet] = [air_inlet_x, 96, :up, "Air inlet"] if air_inlet_x
      spots
    end
  end
end
