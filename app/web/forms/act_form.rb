# frozen_string_literal: true

module Web
  # An act as a browser posts it: strings in, an act's data out.
  class ActForm
    READ_LENGTH = 60
    NUMBERS = {turn: [:to], level: [:to]}.freeze

    # @param params [Hash] as posted
    # @param procedures [Array<Nurv::Procedures::Procedure>] by which readings are written
    # @param words [Nurv::Words]
    # @param unit [Symbol] :psi or :kpa: what a bare number is in
    def initialize(params, procedures, words, unit = :psi)
      @unit = unit
      @params = params
      @procedures = procedures
      @words = words
    end

    # @return [Array(Hash, String)] the act's data, and a sentence if it cannot be read
    def act
      kind = @params[:kind].to_s.to_sym
      fields = Nurv::Bench::Action::KINDS[kind]
      # What is an instructor's to do is not a tester's.
      if fields.nil? || Nurv::Bench::Action::INSTRUCTORS.include?(kind)
        return {kind: kind}, "That is not something that can be done at a bench."
      end
      if @params[:action_id].to_s.empty?
        return {kind: kind}, "This act came without its number. Load the page again."
      end

      wanted = fields | %i[speed over end as]
      data = wanted.filter_map { |field| [field, @params[field].to_s] if @params.key?(field.to_s) }.to_h
      NUMBERS
        .fetch(kind, [])
        .each do |field|
          number = Float(data[field].to_s, exception: false)
          return {kind: kind}, "Enter how far as a number, like 0.25." unless number

          data[field] = number
        end
      data[:over] = data[:over].to_i if data.key?(:over)
      problem = unreadable(kind, data)
      data[:value] = with_unit(kind, data) if data.key?(:value) && problem.nil?
      [{kind: kind.to_s, **data}, problem]
    end

    private

    BARE = /\A[+-]?[\d.,]+\z/
    NAMED = {fill: :field, jot: :item}.freeze
    private_constant :BARE, :NAMED

    # A log says its units: where gauges read in kPa, a bare number is one of those.
    def with_unit(kind, data)
      value = data[:value]
      return value unless @unit == :kpa && BARE.match?(value.strip) && pressure?(data[NAMED[kind]].to_s)

      "#{value.strip} #{Nurv::Units.unit_name(@unit)}"
    end

    def pressure?(name)
      field = name.delete_prefix(Nurv::Reports::FieldReport::RETEST).to_sym
      field == :line_pressure || @procedures.any? { |procedure| procedure.items[field]&.reading? }
    end

    # Refused at the field, where it can be put right; a log that holds it is read as one that holds nothing there.
    def unreadable(kind, data)
      field = NAMED[kind]
      # What is too long altogether, the bench itself says.
      return if field.nil? || data[:value].to_s.size > READ_LENGTH

      remark = Nurv::Reports::FieldReport.unreadable(@procedures, data[field].to_s.to_sym, data[:value].to_s)
      remark && @words.tell(remark)
    end
  end
end
