# frozen_string_literal: true

module Web
  # The part of a bench's screen that is paper: notebook, report, and what is asked before it is handed in.
  module BenchPaper
    # A note of anything: no reading, and nothing that is marked.
    LOOSE = :loose

    # The procedure the tester means to follow.
    def procedure = adjusted(station.procedure_named(report(:procedure)))

    def procedures = station.procedures.map { |item| adjusted(item) }

    def items = [procedure].flat_map { |procedure| procedure.items.values }.uniq(&:id)

    def notes =
      state.notebook.map do |note|
        [
          note,
          item_label(note.item)
        ]
      end

    # @return [String] what is read, or the field of the report where it is none
    def item_label(id) =
      station.procedures.flat_map { |item| item.items.values }.find { |item| item.id == id }&.label || words.field(id)

    def report(field) = state.report[field].to_s

    BLANK = {
      identification: "nothing off the plate",
      readings: "no reading",
      overall: "no verdict",
      signature: "no signature"
    }.freeze

    # What is asked before it is handed in: what stands nowhere in the report, so that nobody hands in an empty one by
    # mistake.
    def hand_in_question
      blank = Nurv::Reports::FieldReport.new(procedure, state.report).blank_parts.map { |part| BLANK.fetch(part) }
      lacking =
        (
          if blank.empty?
            ""
          else
            "Your report has #{[blank[0..-2].join(", "), blank.last].reject(&:empty?).join(" and ")}. "
          end
        )
      "#{lacking}Hand in? After this nothing can be changed."
    end

    def components = assembly.components

    def diagnoses
      Nurv::Reports::FieldReport
        .diagnoses(assembly, catalog.faults.values)
        .map { |name| [name, Web.diagnosis_words(name, words)] }
    end

    private

    # As this attempt's policy has it, with an instructor's labels and limits.
    def adjusted(procedure) = attempt.grading_policy.adjust(procedure)
  end
end
