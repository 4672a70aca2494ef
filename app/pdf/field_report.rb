# frozen_string_literal: true

module Pdf
  # The field report as the trainee filled it in: a practice form, and it says so.
  class FieldReport < Sheet
    # @param view [Web::ReportView]
    def initialize(view)
      @view = view
    end

    def title = "Field report · #{@view.name}"

    private

    def body
      heading("Field report, training", @view.place, @view.procedure.title)
      @view.sections.each do |name, rows|
        section(name)
        (rows.first&.size == 2) ? pairs(rows) : table(rows, header: true)
      end
      @doc.move_down 10
      note(@view.caution)
    end
  end
end
