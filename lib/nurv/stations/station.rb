# frozen_string_literal: true

module Nurv
  module Stations
    # Assembly + site + line + kit + faults + allowed procedures: one place to be tested at, before a seed fixes its
    # numbers.
    class Station
      FaultAt = Struct.new(:fault, :severity)

      # Of the format of its file. One that says none is of the first.
      VERSION = 1
      # The day of the test where a station names none; accuracy checks are counted back from it.
      USUAL_DATE = "2026-11-20"
      # A kit whose accuracy was checked longer ago may not be used.
      ACCURACY_DAYS = 366
      # A test is due so many days after it was ordered.
      DUE_DAYS = 14
      # What a part may have read more than now, a year ago.
      SINCE_PSID = [0.4, 0.5, 0.6, 0.7].freeze
      # A work order says when the tester is expected.
      ARRIVAL = "9:00"
      # A needle this far off its zero is seen to be off.
      ZERO_SEEN_PSID = 0.15

      attr_reader :id,
        :title,
        :assembly,
        :size_in,
        :plate,
        :site,
        :line,
        :springs_psid,
        :openings_psid,
        :kit,
        :kit_state,
        :faults,
        :procedures,
        :findings,
        :data,
        :catalog,
        :debris,
        :weeping,
        :meter,
        :date

      # @param path [String] a station file
      # @param catalog [Catalog] the facts it is read by
      # @raise [DataError]
      def self.read(path, catalog) = parse(File.read(path), catalog, path)

      # @param text [String] YAML as in docs/formats.md
      # @raise [DataError] with every problem found
      def self.parse(text, catalog, path = "station")
        data = carried_over(Facts.parse(text, path), path)
        problems = Check.new(data, catalog).problems
        raise DataError.new(path, problems) if problems.any?

        new(data, catalog)
      end

      # What versions of before wrote, as this one has it.
      def self.carried_over(data, path)
        return data unless data.key?(:version)
        return data.except(:version).freeze if data[:version] == VERSION

        raise DataError.new(path, [["version", Remark.new(:version_unknown, typed: data[:version].inspect)]])
      end
      private_class_method :carried_over

      # @param data [Hash] frozen, symbol keys, checked
      # @param catalog [Catalog] assemblies, kits, sites, faults, findings, repairs and procedures that it may name
      def initialize(data, catalog)
        @data = data
        @catalog = catalog
        @id = data[:id].to_sym
        @title = data[:title]
        @assembly = catalog.assemblies.fetch(data[:assembly].to_sym).stood(data[:direction].to_s.to_sym)
        @size_in = data.fetch(:size_in, 1.0).to_f
        @plate = data[:plate]
        @site = catalog.sites.fetch(data[:site].to_sym)
        @line = data[:line]
        @springs_psid = @assembly.springs_psid.merge(data[:springs_psid] || {})
        @openings_psid = @assembly.openings_psid.merge(data[:openings_psid] || {})
        @kit = catalog.kits.fetch(data.dig(:kit, :id).to_sym)
        @kit_state = kit_as_labelled
        @faults =
          (data[:faults] || [])
            .reject { |item| item[:one_of] }
            .map { |item| FaultAt.new(catalog.faults.fetch(item[:id].to_sym), item[:severity].to_sym) }
        @date = data.fetch(:date, USUAL_DATE).to_s
        @debris = (data[:debris] || []).map(&:to_sym)
        @weeping = (data[:weeping] || []).map(&:to_sym)
        @meter = data[:meter]
        @findings = (data[:findings] || []).map { |name| catalog.findings.fetch(name.to_sym) } | kit_findings |
          use_findings
        @procedures = data[:procedures].map { |name| catalog.procedures.fetch(name.to_sym) }
        freeze
      end

      # @param name [String, Symbol, nil] as the tester wrote it on the report
      # @return [Procedures::Procedure] that one if it is allowed here, or the first allowed
      def procedure_named(name) = procedures.find { |procedure| procedure.id.to_s == name.to_s } || procedures.first

      # @return [Float] psid the gauge shows of nothing; 0.0 where a range is not drawn yet
      def zero_error_psid = kit_state[:zero_error_psid].is_a?(Numeric) ? kit_state[:zero_error_psid].to_f : 0.0

      # @return [Array<Symbol>] names of a digital kit's memories: one for each differential that a report here asks for
      def memories = procedures.flat_map(&:memories).uniq

      # Whether a failed assembly is to be mended here and tested again.
      def repairs? = data[:after_failure] == "repair_and_retest"

      # The same station where what is found is only reported.
      def as_reported = repairs? ? Station.new(Facts.of(data.merge(after_failure: "report")), catalog) : self

      # @return [Boolean] whoever stands before it sees the water go to the left; of one that stands, up
      def to_the_left? = %w[to_the_left upwards].include?(data[:direction])

      # @return [Boolean] it is in a pipe that goes up or down
      def standing? = Equipment::Standing::WAYS.include?(data[:direction].to_s.to_sym)

      # @return [Boolean] cocks and shutoffs bear no names: the tester hangs tags on them
      def tags_to_hang? = data[:tags] == "to_hang"

      # @return [Boolean] every test cock has its cap on when the tester comes
      def capped? = data.dig(:test_cocks, :capped) == true

      # @return [Boolean] a hose does not fit a test cock without an adapter
      def adapters? = data.dig(:test_cocks, :adapters) == true

      # @return [Boolean] whether the plate must be cleaned before it can be read
      def plate_corroded? = data[:plate_state] == "corroded"

      # @return [Boolean] every seed draws a bench of its own from it
      def drawn? = data[:varies] == true || Draw.new(1).open?(data)

      # The same station with plate, serial, pressure and springs drawn for each seed; itself where something is drawn
      # already.
      def varied = drawn? ? self : Station.new(Facts.of(data.merge(varies: true)), catalog)

      # The same station allowing only some of its procedures.
      def limited_to(ids)
        kept = data[:procedures].map(&:to_s) & ids.map(&:to_s)
        if kept.empty? || kept == data[:procedures]
          self
        else
          Station.new(Facts.of(data.merge(procedures: kept)), catalog)
        end
      end

      # @param changes [Array<Hash>] repairs done and troubles put in, in order
      # @return [Station]
      def changed(changes)
        Station.new(Facts.of(changes.reduce(data) { |now, change| change_one(now, change) }), catalog)
      end

      # @return [Finding, nil] what is to be seen when one looks there
      def finding_at(thing) = findings.find { |finding| finding.at == thing }

      # @return [String] a station file, read back by .parse
      def to_yaml = YAML.dump(JSON.parse(JSON.generate({version: VERSION, **data})))

      # What a tester was sent to: the plate as it should be. At the wrong assembly the serial is another.
      #
      # @return [Hash{Symbol => String}] type, make, model, size, serial; owner, address; licence (the tester's own),
      #   due_date, arrival (time of day)
      def work_order
        wrong = findings.any? { |finding| finding.id == :wrong_assembly }
        serial = plate[:serial].to_s
        {
          **plate.slice(:type, :make, :model, :size),
          serial: wrong ? another(serial) : serial,
          owner: site.name,
          address: site.place,
          licence: "TR-#{1000 + Zlib.crc32(id.to_s) % 9000}",
          due_date: (Date.iso8601(date) + DUE_DAYS).iso8601,
          arrival: ARRIVAL
        }
      end

      # What was written here a year ago, when nothing was wrong. Springs have worked since: who copies it is off.
      #
      # @return [Array(String, Hash{Symbol => Float})] the day, and psid by part that is read
      def last_report
        healthy = assembly.springs_psid.merge(assembly.openings_psid)
        psid =
          springs_psid.merge(openings_psid).filter_map do |part, number|
            least = least_psid(part) or next
            now = (number.is_a?(Numeric) && number >= least) ? number : healthy.fetch(part)
            [part, (now + SINCE_PSID.fetch(Zlib.crc32("#{id} #{part}") % SINCE_PSID.size)).round(1)]
          end
        [(Date.iso8601(date) - 365).iso8601, psid.to_h]
      end

      # What a trainee may be told: nothing that hints at the fault.
      def public_name = "#{assembly.short} at #{site.name}"

      private

      # @return [Float, nil] what its procedures ask of a part; nil of one that none reads
      def least_psid(part) =
        procedures
          .flat_map { |procedure| procedure.items.values }
          .filter_map { |item| item.at_least if item.component == part }
          .max

      # One like it, with its last digit moved on.
      def another(serial) = serial.sub(/\d(?=\D*\z)/) { |digit| ((digit.to_i + 3) % 10).to_s }

      # A station that says its kit is out of date needs no date worked out by hand.
      def kit_as_labelled
        return data[:kit] unless (data[:findings] || []).include?("kit_out_of_date")

        data[:kit].merge(checked_on: (Date.iso8601(data.fetch(:date, USUAL_DATE).to_s) - 400).iso8601).freeze
      end

      # What is wrong with a kit shows on its label and its needle.
      def kit_findings
        list = []
        list << catalog.findings.fetch(:kit_out_of_date) if out_of_date?
        list << catalog.findings.fetch(:gauge_off_zero) if zero_error_psid.abs >= ZERO_SEEN_PSID
        list
      end

      # The wrong type for the use is a finding wherever it occurs.
      def use_findings
        back_psi = line[:back_pressure_psi]
        return [] if assembly.suits?(site.hazard, back_psi.is_a?(Numeric) ? back_psi.to_f : 0.0)

        [catalog.findings[:wrong_application]].compact
      end

      # A label that says no date says nothing against the kit.
      def out_of_date? =
        !kit_state[:checked_on].nil? && Date.iso8601(date) - Date.iso8601(kit_state[:checked_on].to_s) > ACCURACY_DAYS

      # A repair takes away every fault of its component that it mends; a trouble is added, or moves the line.
      def change_one(now, change)
        faults = now[:faults] || []
        case change[:kind].to_s
        when "repair", "clean"
          firm_again(now.merge(faults: faults.reject { |item| mended?(item, change) }), change)
        when "inject"
          return now.merge(line: now[:line].merge(swing_psi: change[:swing_psi].to_f)) if change[:swing_psi]
          return now unless change[:fault]

          now.merge(
            faults:
              faults.reject { |item| item[:id] == change[:fault] } +
                [{id: change[:fault], severity: change[:severity]}]
          )
        end
      end

      # A renewed shutoff shuts without force.
      def firm_again(now, change)
        return now unless now[:weeping] && catalog.faults.values.any? { |fault| mended_so?(fault, change) }

        now.merge(weeping: now[:weeping] - [change[:component].to_s])
      end

      def mended?(item, change)
        fault = catalog.faults[item[:id].to_s.to_sym]
        fault && mended_so?(fault, change)
      end

      def mended_so?(fault, change) =
        fault.component.to_s == change[:component].to_s && fault.mended_by.include?(change[:action].to_s.to_sym)
    end
  end
end
