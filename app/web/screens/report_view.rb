# frozen_string_literal: true

module Web
  # A field report laid out for reading and for print, with what follows from the readings worked out beside what was
  # written.
  class ReportView
    attr_reader :name

    # @param sheet [GradeSheet]
    # @param name [String] the tester
    def initialize(sheet, name)
      @sheet = sheet
      @name = name
      @fields = sheet.report
      @state = sheet.state
      @station = sheet.attempt.station
      @words = @station.catalog.words
    end

    def procedure = @procedure ||= @sheet.grade.procedure

    def place = "#{@station.site.name}, #{@station.site.place}"

    def caution =
      "A training record: no certification and no field test. Local codes, the adopted procedure and the " \
      "licensed tester's judgement come first."

    # @return [Array<Array(String, Array)>] name of a section and its rows; rows of two are label and value, others
    #   have a head
    def sections
      list = [
        [
          "Place",
          [
            ["Service", "#{@station.site.service}; hazard #{@station.site.hazard}"],
            ["Date", @station.date],
            ["Notified", @fields[:notified].to_s],
            *times
          ]
        ],
        *ordered,
        ["Assembly", named(%i[make model size serial meter_number meter_reading])],
        ["Test kit and line", named(%i[kit_serial kit_checked line_pressure shutoffs_found])],
        ["Initial test", readings(false)],
        ["Results of the initial test", results(false)]
      ]
      list += [["Repair", repairs], ["Retest", readings(true)], ["Results of the retest", results(true)]] if repaired?
      list + [["Findings and remarks", findings], ["Close", named(%i[condition_left signature])]]
    end

    private

    def repaired? = @state.changes.any? { |change| change[:kind] == "repair" }

    def ordered
      return [] unless procedure.asks?(:particulars)

      [["As ordered", named(%i[type owner address licence due_date])]]
    end

    def times = named(%i[time_in time_out]).reject { |_, value| value.empty? }

    def named(fields) =
      fields.filter_map do |field|
        [@words.field(field), told(field)] unless @fields[field].nil? && field.to_s.start_with?("meter")
      end

    def told(field)
      value = @fields[field].to_s
      %i[shutoffs_found condition_left].include?(field) ? @words.standing(value) : value
    end

    def report(retest) = Nurv::Reports::FieldReport.new(procedure, @fields, retest: retest)

    def readings(retest)
      own = report(retest)
      rows =
        procedure.items.values.filter_map do |item|
          value = own.values[item.id] or next
          number = Nurv::Procedures::Item.number(value)
          [
            item.label,
            (number && !value.match?(/[a-z]/i)) ? "#{value} #{item.unit}" : value,
            item.at_least ? "at least #{shown(item.at_least)}" : "",
            item.result(value).to_s.tr("_", " ").sub("none", "")
          ]
        end
      rows << ["Buffer", shown(own.buffer_psid), buffer_warning(own), ""] if own.buffer_psid
      [["Item", "Recorded", "Limit", "By the limit"], *rows]
    end

    # As the tester's gauge read.
    def shown(psid) = Nurv::Units.differential(psid, unit: @sheet.attempt.grading_policy.unit)

    def buffer_warning(report) =
      report.procedure.buffer_warning(report.values) ? "below #{shown(procedure.buffer[:warn_below_psid])}" : ""

    def results(retest)
      own = report(retest)
      rows =
        own.verdict.components.map do |part, worked|
          [@words.part(part), own.result(part).to_s.tr("_", " "), worked.to_s.tr("_", " ")]
        end
      rows << ["Overall", own.overall.to_s.tr("_", " "), own.verdict.overall.to_s.tr("_", " ")]
      rows << ["Diagnosis", retest ? "" : diagnosis(own), ""] unless retest
      [["Component", "Written", "From the readings"], *rows]
    end

    def diagnosis(own) =
      own
        .diagnoses
        .map { |text| Web.diagnosis_words(text, @words) }
        .join("; ")
        .then { |text| (text.empty? && @fields[:diagnosis]) ? "Nothing wrong" : text }

    def repairs =
      [
        ["Written", @fields[:repairs].to_s],
        *@state
          .changes
          .select { |change| change[:kind] == "repair" }
          .map do |change|
            [
              "Done at #{Nurv::Units.clock(change[:at_s])}",
              @words.repairs([change.values_at(:component, :action)], @station.catalog.repairs)
            ]
          end
      ]

    def findings
      noted = @state.findings.map { |at| ["Noted", @words.look(at)] }
      noted + [["Remarks", @fields[:remarks].to_s]]
    end
  end
end
