# frozen_string_literal: true

module Nurv
  module Stations
    # Draws what a station leaves open. Each number depends on the seed and its own name only, so that changing one
    # range does not change what is drawn for another.
    class Draw
      # What is drawn where a station says "either".
      EITHER = {direction: %w[to_the_right to_the_left], tags: %w[hung to_hang]}.freeze
      private_constant :EITHER

      # Of a station that varies: by how much its line and its springs differ, as shares.
      PRESSURE_SHARE = 0.12
      SPRING_SHARE = 0.06
      # Line pressures that a bench can be worked at, psi.
      PRESSURES_PSI = (20..150)

      # @param seed [Integer]
      def initialize(seed)
        @seed = seed
      end

      # @return [Float] 0...1, the same for the same seed and name on every machine
      def share(name) = Random.new(Zlib.crc32("#{@seed}/#{name}")).rand

      # @return [Station] the station with nothing left open; itself if nothing was
      def station(station)
        data = fixed(varied(station))
        (data == station.data) ? station : Station.new(Facts.of(data), station.catalog)
      end

      # @param data [Hash] of a station
      # @return [Boolean] it leaves something to be drawn, besides what varies
      def open?(data) = fixed(data) != data

      private

      # Plate, serial, pressure and springs of its own for each seed; what is wrong stays as it is.
      def varied(station)
        data = station.data
        return data unless data[:varies]

        {
          **data.except(:varies),
          plate: plate(data[:plate]),
          line: {**data[:line], pressure_psi: pressure(data.dig(:line, :pressure_psi))},
          springs_psid: around(station.springs_psid, "springs"),
          openings_psid: around(station.openings_psid, "openings")
        }
      end

      # Another maker's plate where there is one, and another serial in any case.
      def plate(plate)
        make, model = Plates::MAKES[(share("make") * Plates::MAKES.size).floor]
        number = Plates.number(share("serial"))
        {**plate, make: make, model: Plates.model(model, plate[:type].to_s), serial: Plates.serial(make, number)}
      end

      def pressure(psi)
        return psi unless psi.is_a?(Numeric)

        (psi * (1.0 + PRESSURE_SHARE * (2.0 * share("pressure") - 1.0))).round.clamp(PRESSURES_PSI)
      end

      def around(settings, name) =
        settings.to_h do |part, psid|
          next [part, psid] unless psid.is_a?(Numeric)

          [part, (psid * (1.0 + SPRING_SHARE * (2.0 * share("#{name}.#{part}") - 1.0))).round(1)]
        end

      def fixed(data)
        result =
          data.to_h do |key, value|
            [key, %i[line springs_psid openings_psid kit].include?(key) ? numbers(value, key) : value]
          end
        result[:faults] = faults(data[:faults]) if data[:faults]
        EITHER.each { |name, two| result[name] = two[(share(name.to_s) * 2).floor] if data[name] == "either" }
        result
      end

      def numbers(section, place) =
        section.to_h { |key, value| [key, range?(value) ? number(value, "#{place}.#{key}") : value] }

      def range?(value) = value.is_a?(Hash) && value.key?(:from)

      # To a tenth, as one would read it.
      def number(range, name) = (range[:from] + share(name) * (range[:to] - range[:from])).round(1)

      # An entry may be a choice, of which one is drawn; "none" draws nothing.
      def faults(list)
        list.each_with_index.filter_map do |item, index|
          next item unless item[:one_of]

          chosen = item[:one_of][(share("faults.#{index}") * item[:one_of].size).floor]
          chosen unless chosen[:id] == "none"
        end
      end
    end
  end
end
