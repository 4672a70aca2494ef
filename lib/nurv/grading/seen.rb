# frozen_string_literal: true

module Nurv
  module Grading
    # What a tester's own bench gave to see of an observation, by the item's own data: the words whose signs showed in
    # a try of its step, or those without signs where none did.
    class Seen
      # @param chronicle [Chronicle]
      # @param item [Procedures::Item]
      def initialize(chronicle, item)
        @chronicle = chronicle
        @item = item
      end

      # A part is judged by all that its tries showed: a sign in any of them is a sign. That none showed says something
      # only of a try that lasted as long as it takes to see.
      #
      # @param tries [Array<Attempted>] of its steps
      # @param least_s [Float] for how long a correct tester watches here; 0.0 where that is not known
      # @return [String, nil] nil where it cannot be told
      def words(tries, least_s = 0.0)
        return (dry_at_rest? ? @item.at_rest : nil) if @item.at_rest
        return if @item.signs.empty? || tries.empty?

        showing = @item.signs.find { |_, signs| tries.any? { |attempted| shows?(signs, attempted) } }
        return showing.first if showing

        long = tries.any? { |attempted| attempted.until_s - attempted.from_s >= least_s - WATCHED_S }
        (@item.choices.keys - @item.signs.keys).first if long
      end

      # So much sooner than a correct tester one may stop watching, s.
      WATCHED_S = 2.0

      # @param name [Symbol]
      # @return [Boolean] whether there is such a sign
      def self.known?(name) = SIGNS.key?(name)

      # @return [Boolean] water left that port in the try
      def discharged?(port, attempted) =
        !@chronicle.first_discharge(port.to_sym, attempted.first, attempted.last).nil?

      # @param limit [Numeric, Hash{Symbol => Numeric}] psid; or by [psid] and at_line_psi, where it grows with the
      #   line's pressure
      # @return [Boolean] the needle fell by so much from the beginning of the try to its end
      def fell?(limit, attempted)
        limit = {by: limit} unless limit.is_a?(Hash)
        psid = Expert::Eyes.limit_psid(limit[:by], limit[:at_line_psi], @chronicle.variant.pressure_psi)
        @chronicle.needle_at(attempted.from_s) - @chronicle.needle_at(attempted.until_s - 0.01) >= psid
      end

      # A needle that stands at nothing has nowhere to fall: what it would show is hidden.
      #
      # @return [Boolean] it stood below so much as the try began
      def stood_below?(psid, attempted) = @chronicle.needle_at(attempted.from_s) < psid

      # @param limits [Hash{Symbol => Float}] psid by item
      # @return [Boolean] so much was written down of each
      def recorded_at_least?(limits) =
        limits.all? do |item, psid|
          number = Procedures::Item.number(@chronicle.last_state.report[item])
          !number.nil? && number >= psid
        end

      SIGNS = {
        recorded_at_least: ->(seen, limits, _) { seen.recorded_at_least?(limits) },
        stood_below_psid: ->(seen, psid, attempted) { seen.stood_below?(psid, attempted) },
        discharged: ->(seen, port, attempted) { seen.discharged?(port, attempted) },
        fell_psid: ->(seen, limit, attempted) { seen.fell?(limit, attempted) }
      }.freeze
      private_constant :SIGNS

      private

      # Signs that show together; of a list of such, any.
      def shows?(signs, attempted)
        list = signs.is_a?(Array) ? signs : [signs]
        list.any? { |all| all.all? { |name, value| SIGNS.fetch(name).call(self, value, attempted) } }
      end

      # Before anything was done to the assembly.
      def dry_at_rest?
        first = @chronicle.replay.first
        !Expert::Eyes.drips?(first, @item.component, first.from_s + 0.5)
      end
    end
  end
end
