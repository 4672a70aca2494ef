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

      # @param tries [Array<Attempted>] of its steps
      # @return [String, nil] nil where it cannot be told
      def words(tries)
        return (dry_at_rest? ? @item.at_rest : nil) if @item.at_rest
        return if @item.signs.empty? || tries.empty?

        showing = @item.signs.find { |_, signs| shows?(signs, tries.last) }
        showing ? showing.first : (@item.choices.keys - @item.signs.keys).first
      end

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

      SIGNS = {
        discharged: ->(seen, port, attempted) { seen.discharged?(port, attempted) },
        fell_psid: ->(seen, limit, attempted) { seen.fell?(limit, attempted) }
      }.freeze
      private_constant :SIGNS

      private

      def shows?(signs, attempted) = signs.all? { |name, value| SIGNS.fetch(name).call(self, value, attempted) }

      # Before anything was done to the assembly.
      def dry_at_rest?
        first = @chronicle.replay.first
        !Expert::Eyes.drips?(first, @item.component, first.from_s + 0.5)
      end
    end
  end
end
