# frozen_string_literal: true

module Nurv
  module Reports
    # The fields of a field report and how a report is read back from what was typed.
    class FieldReport
      IDENTITY = %i[make model size serial].freeze
      # Fields that every report has, in the order of the paper.
      HEADER = %i[
        type
        owner
        address
        licence
        due_date
        make
        model
        size
        serial
        notified
        meter_number
        meter_reading
        kit_serial
        kit_checked
        line_pressure
        shutoffs_found
        repairs
        remarks
        time_in
        time_out
        condition_left
        signature
      ].freeze
      # What some authorities ask for besides, off the work order and the clock.
      PARTICULARS = %i[type owner address licence due_date time_in time_out].freeze
      # Fields of a retest are those of the test with this before their name.
      RETEST = "retest_"
      REQUIRED = %i[make model size serial notified kit_serial kit_checked signature].freeze
      # How two shutoffs may stand, as a report says it.
      STANDING = %i[both_open shutoff_valve_1_closed shutoff_valve_2_closed both_closed].freeze
      RESULTS = %i[pass fail not_tested].freeze
      OVERALL = %i[pass fail not_completed].freeze

      # @param assembly [Equipment::Assembly] what was tested
      # @param procedures [Enumerable<Procedures::Procedure>] by which it may have been
      # @param field [Symbol]
      # @return [Boolean] whether a report has it
      def self.field?(assembly, procedures, field)
        if field.to_s.start_with?(RETEST)
          return field?(assembly, procedures, field.to_s.delete_prefix(RETEST).to_sym)
        end

        HEADER.include?(field) || %i[overall diagnosis diagnosis_2 procedure].include?(field) ||
          assembly.components.any? { |component| field == :"result_#{component}" } ||
          procedures.any? { |procedure| procedure.items.key?(field) }
      end

      # @param open [Array<Boolean>] the inlet's first
      # @return [Symbol] one of STANDING
      def self.standing(open)
        {
          [true, true] => :both_open,
          [false, true] => :shutoff_valve_1_closed,
          [true, false] => :shutoff_valve_2_closed
        }.fetch(open, :both_closed)
      end

      # What is to be a number must be one, as people write it; the words of the paper serve as well.
      #
      # @param procedures [Enumerable<Procedures::Procedure>] by which it may be read
      # @param field [Symbol] of a report, or an item of the notebook
      # @param value [String] as typed
      # @return [Remark, nil] why it cannot be read
      def self.unreadable(procedures, field, value)
        id = field.to_s.delete_prefix(RETEST).to_sym
        item = procedures.filter_map { |procedure| procedure.items[id] }.find(&:reading?)
        return if item.nil? || value.strip.empty? || Written.number?(value) || item.choices.key?(value)

        Remark.new(:unreadable, typed: value, reading: item.label)
      end

      # What else a report may give as the cause, whatever the assembly.
      CAUSES = %w[supply:fluctuates site:must_not_test].freeze

      # Every diagnosis that this sort of assembly can have, so that the list betrays nothing.
      #
      # @param assembly [Equipment::Assembly]
      # @param faults [Enumerable<Equipment::Fault>] all that are known
      # @return [Array<String>] like "check_valve_1:fouled"; "none:healthy" first
      def self.diagnoses(assembly, faults)
        own = faults.select { |fault| fault.applies_to?(assembly.id) }
        ["none:healthy", *own.map { |fault| "#{fault.component}:#{fault.reason}" }, *CAUSES].uniq
      end

      attr_reader :fields, :procedure

      # @param procedure [Procedures::Procedure]
      # @param fields [Hash{Symbol => String}] as typed
      # @param retest [Boolean] read the fields of the test after a repair
      def initialize(procedure, fields, retest: false)
        @procedure = procedure
        @fields =
          (
            if retest
              fields
                .filter_map do |key, value|
                  [key.to_s.delete_prefix(RETEST).to_sym, value] if key.to_s.start_with?(RETEST)
                end
                .to_h
            else
              fields
            end
          )
      end

      # @return [Hash{Symbol => String}] recorded items
      def values = fields.slice(*procedure.items.keys).reject { |_, value| value.to_s.strip.empty? }

      # @return [Verdict] that follows from the readings recorded
      def verdict = Verdict.new(procedure, values)

      # @param component [Symbol]
      # @return [Symbol, nil] :pass, :fail or :not_tested as ticked; nil if nothing is
      def result(component) = choice(:"result_#{component}")

      # @return [Symbol, nil] one of OVERALL's as ticked; nil if nothing is
      def overall = choice(:overall)

      # @return [Array<String>] like "check_valve_1:fouled"
      def diagnoses = fields.values_at(:diagnosis, :diagnosis_2).compact.reject(&:empty?) - ["none:healthy"]

      # Parts of the report in which nothing stands at all.
      #
      # @return [Array<Symbol>] of :identification, :readings, :overall, :signature
      def blank_parts
        parts = {
          identification: IDENTITY.all? { |field| blank?(field) },
          readings: values.empty?,
          overall: overall.nil?,
          signature: blank?(:signature)
        }
        parts.select { |_, blank| blank }.keys
      end

      # @return [Float, nil] psid, from what was recorded
      def buffer_psid = procedure.buffer_psid(values)

      private

      def blank?(field) = fields[field].to_s.strip.empty?

      def choice(field)
        value = fields[field].to_s
        value.empty? ? nil : value.to_sym
      end
    end
  end
end
