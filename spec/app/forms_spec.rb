# frozen_string_literal: true

require "support/web"

RSpec.describe "Forms" do
  describe Web::ProcedureForm do
    it "keeps what the bench sees of a step of one's own, whatever it is called, and goes by what is picked" do
      r1 = SHIPPED.procedures.fetch(:r1)
      own = [{id: "back", title: "Put them back", points: 3, critical: false, shown_by: "caps_on"}]
      form = described_class.of(r1, Nurv::Facts.of(own_steps: own), SHIPPED.words)
      expect(form.overlay[:own_steps].map { |step| step[:shown_by] }).to eq(["caps_on"])
      picked = form.raw.to_h.merge("own_title_0" => "Stored values cleared", "own_shown_0" => "")
      again = described_class.new(picked, r1, SHIPPED.words).overlay[:own_steps]
      expect(again.map { |step| step[:shown_by] }).to eq(["nothing_stored"])
      said = described_class.new(picked.merge("own_title_0" => "Goggles"), r1, SHIPPED.words).overlay[:own_steps]
      expect(said.first).not_to have_key(:shown_by)
    end
  end

  describe Web::StationForm do
    SHIPPED.demo_stations.each do |station|
      it "shows #{station.id} field by field and makes the same station of the fields" do
        form = described_class.of(station)
        expect(form.valid?).to be(true), form.errors.inspect
        made = form.station
        expect(made.data[:faults].to_a).to eq(station.data[:faults].to_a)
        expect([made.faults, made.findings, made.procedures, made.line.slice(:pressure_psi), made.plate]).to eq(
          [station.faults, station.findings, station.procedures, station.line.slice(:pressure_psi), station.plate]
        )
        found = ->(item) do
          state = Nurv::Bench::Opening.new(Nurv::Stations::Variant.new(item, 4)).state
          state.to_h.except(:water).merge(controls: state.controls.transform_values(&:to_a))
        end
        expect(found.call(made)).to eq(found.call(station))
        readied = ->(item) { [item.weeping, item.capped?, item.adapters?, item.kit_state[:in_the_dark] || false] }
        expect(readied.call(made)).to eq(readied.call(station))
        bench = ->(item) do
          Nurv::Stations::Variant
            .new(item, 4)
            .then do |variant|
              [
                variant.edge_settings,
                variant.pressure_psi,
                variant.swing_psi,
                variant.demand,
                variant.zero_error_psid,
                variant.station.faults
              ]
            end
        end
        expect(bench.call(made)).to eq(bench.call(station))
      end
    end

    it "carries along what it has no field for" do
      base = SHIPPED.demo_stations.first.data
      faults = [
        {id: "check_valve_1_fouled", severity: "light"},
        {one_of: [{id: "relief_valve_stuck", severity: "gross"}, {id: "none"}]}
      ]
      written =
        Nurv::Stations::Station.new(
          Nurv::Facts.of(
            {
              **base,
              note: "Ask Wenna first.",
              date: "2026-10-01",
              faults: faults,
              line: {
                **base[:line],
                back_pressure_psi: 80
              },
              kit: {
                **base[:kit],
                cracked_open: {
                  low_bleed: 0.25
                },
                strainer_at_kit: ["low"]
              }
            }
          ),
          SHIPPED
        )
      form = described_class.new(described_class.of(written).raw.merge("title" => "Renamed"), written.assembly, SHIPPED)
      expect(form).to be_valid
      expect(form.data[:title]).to eq("Renamed")
      expect(form.data.slice(:note, :date, :faults)).to eq(written.data.slice(:note, :date, :faults))
      expect([form.data[:line][:back_pressure_psi], form.data[:kit].slice(:cracked_open, :strainer_at_kit)]).to eq(
        [80, written.data[:kit].slice(:cracked_open, :strainer_at_kit)]
      )
      expect(described_class.new(form.raw.merge("carried" => "{not json"), written.assembly, SHIPPED)).to be_valid
      expect(
        described_class.new(form.raw.merge("carried" => '{"line": {"pressure_psi": 9000}}'), written.assembly, SHIPPED)
      ).not_to be_valid
    end

    it "reads a range however it is written, and says at the field what is wrong with a number" do
      form =
        lambda do |**changes|
          raw =
            described_class
              .fresh(SHIPPED.assemblies.fetch(:rp), SHIPPED)
              .raw
              .merge("title" => "X")
              .merge(changes.transform_keys(&:to_s))
          described_class.new(raw, SHIPPED.assemblies.fetch(:rp), SHIPPED)
        end
      ["50 to 70", "50-70", "50 – 70", "50..70"].each do |text|
        expect(form.call(pressure: text).data[:line][:pressure_psi]).to eq({from: 50.0, to: 70.0})
      end
      expect(form.call(pressure: "60,5").data[:line][:pressure_psi]).to eq(60.5)
      wrong = form.call(pressure: "500", n_check_valve_1: "much", checked_on: "yesterday", title: "")
      expect(wrong).not_to be_valid
      expect(wrong.errors.keys).to include(:pressure, :n_check_valve_1, :checked_on, :title)
      expect(wrong.field(:title, "Title").error).to include("Give the station a title")
      expect(form.call(fault_0: "air_inlet_stuck", severity_0: "gross")).not_to be_valid
      expect(form.call(procedures: ["d1"]).tap(&:valid?).errors[:procedures]).to match(/not for this assembly/)
    end
  end

  describe Web::PolicyForm do
    let(:standard) { SHIPPED.policies.fetch(:standard) }

    it "makes the same policy of a policy's fields" do
      policy = described_class.of(standard).tap { |form| expect(form).to be_valid }.policy
      %i[weights pass_mark tolerance_psid fail_outright time_limit_min retest].each do |name|
        expect(policy.public_send(name)).to eq(standard.public_send(name))
      end
      expect([policy.hints?, policy.skip_waiting?, policy.critical_fails?]).to eq([false, false, true])
    end

    {
      w_procedure: "lots",
      pass_mark: "101",
      tolerance_psid: "",
      time_limit_min: "half an hour",
      name: "",
      retest: "always"
    }.each do |field, text|
      it "says at #{field} what to enter instead of #{text.inspect}" do
        form = described_class.new(described_class.of(standard).raw.merge(field.to_s => text))
        expect(form).not_to be_valid
        expect(form.errors.keys).to include(field)
        expect(form.errors[field]).to match(/[.]\z/)
        expect(form[field]).to eq(text)
      end
    end

    it "tells a trainee everything that an exam is marked by" do
      told = Nurv::Words::ToldPolicy.new(standard, SHIPPED.words).rows.to_h
      expect(told["Marked on"]).to include("Procedure 40").and include("Records 10")
      expect(told["To pass"]).to eq("80 of 100")
      expect(told["Fails outright"]).to eq(
        "went on where testing must stop; water shut off without asking; water back on without telling anyone; " \
        "a reading the gauge never showed; wrong overall result; a failing part passed; shutoff left closed; " \
        "shutoff left open that was found closed; a critical step left out"
      )
      expect(told["Time"]).to include("45 minutes")
      expect(told["Second attempt"]).to include("another variant")
    end

    it "leaves a second attempt as its rule says" do
      allowed =
        %w[none once open].map do |rule|
          Nurv::Grading::Policy
            .new({**standard.data, retest: rule})
            .then { |policy| [policy.second_attempt?(0), policy.second_attempt?(1)] }
        end
      expect(allowed).to eq([[false, false], [true, false], [true, true]])
    end
  end

  describe Web::ProcedureForm do
    let(:procedure) { SHIPPED.procedures.fetch(:r1) }

    it "keeps only what differs, and shows it again" do
      raw = described_class.of(procedure, {}, SHIPPED.words).raw
      expect(described_class.new(raw, procedure, SHIPPED.words).overlay).to eq({})
      expect(described_class.new(raw.merge("diagnosis_only" => "1"), procedure, SHIPPED.words).overlay).to eq(
        {diagnosis_only: true}
      )
      expect(procedure.adjusted({diagnosis_only: true})).to be_diagnosis_only
      changed =
        described_class.new(
          raw.merge(
            "label" => "Form 7",
            "points_flush" => "9",
            "limit_relief_valve_opening" => "2.2",
            "critical_notify" => ""
          ),
          procedure,
          SHIPPED.words
        ).overlay
      expect(changed).to eq(
        {label: "Form 7", limits: {relief_valve_opening: 2.2}, points: {flush: 9}, critical: {notify: false}}
      )
      kept = Nurv::Facts.of(JSON.parse(JSON.generate(changed)))
      expect(
        described_class
          .of(procedure, kept, SHIPPED.words)
          .raw
          .values_at("label", "points_flush", "limit_relief_valve_opening", "critical_notify")
      ).to eq(["Form 7", "9", "2.2", nil])
      adjusted = procedure.adjusted(kept)
      expect(
        [
          adjusted.title,
          adjusted.step(:flush).points,
          adjusted.items[:relief_valve_opening].at_least,
          adjusted.step(:notify).critical?
        ]
      ).to eq([procedure.title.sub(procedure.label, "Form 7"), 9, 2.2, false])
    end

    it "moves the conclusion with the limit: an opening of 2.1 is low where 2.2 is asked" do
      strict = procedure.adjusted({limits: {relief_valve_opening: 2.2}})
      bench =
        Nurv::Stations::Variant.new(
          SHIPPED.demo_stations.first.then do |item|
            Nurv::Stations::Station.new(Nurv::Facts.of({**item.data, openings_psid: {relief_valve: 2.1}}), SHIPPED)
          end,
          1
        )
      usual, changed = [procedure, strict].map { |kind| Nurv::Expert::Truth.of(bench, kind) }
      expect([usual.verdict.overall, usual.diagnoses]).to eq([:pass, []])
      expect([changed.verdict.overall, changed.diagnoses]).to eq([:fail, ["relief_valve:opens_low"]])
    end
  end

  describe Web::RosterForm do
    def roster(text, taken = []) = described_class.new({"roster" => text}, taken)

    it "takes names with or without PIN, with or without a heading, quotes and a byte order mark" do
      form = roster("\uFEFFName,PIN\n\"Pell, Asa\",4821\n  Bo   Quill \n\n")
      expect(form).to be_valid
      expect(form.entries).to eq([{name: "Pell, Asa", pin: "4821"}, {name: "Bo Quill", pin: nil}])
    end

    it "reads a spreadsheet's file in the old Western encoding" do
      file = {"tempfile" => StringIO.new("J\xF6rn \xC5kesson,4821\n".b)}
      expect(described_class.new({"file" => file}, []).tap(&:valid?).entries).to eq(
        [{name: "Jörn Åkesson", pin: "4821"}]
      )
    end

    {
      "Asa,12" => "is not a PIN",
      ",1234" => "no name",
      "Asa,1234,x" => "3 columns",
      "Asa\nasa" => "stands on line 1 already",
      "Teo" => "in the class already",
      "#{"x" * 81}\n" => "at most 80"
    }.each do |text, sentence|
      it "says of #{text[0, 12].inspect} that #{sentence}" do
        form = roster(text, ["Teo"])
        expect(form).not_to be_valid
        expect(form.problems.map(&:problem).join).to include(sentence)
      end
    end

    it "asks for something when there is nothing" do
      expect(roster(" \n").tap(&:valid?).errors[:roster]).to include("one name a line")
    end
  end

  describe Web::ActForm do
    it "reads what a tester may do, and no act of an instructor" do
      read = ->(**params) { described_class.new(Sinatra::IndifferentHash.new.merge(params), [], SHIPPED.words).act }
      expect(read.call(kind: "turn", valve: "low_control", to: "0.25", speed: "slow", action_id: "a")[0]).to eq(
        {kind: "turn", valve: "low_control", to: 0.25, speed: "slow"}
      )
      expect(read.call(kind: "turn", valve: "low_control", to: "a bit", action_id: "a")[1]).to include("as a number")
      expect(read.call(kind: "turn", valve: "low_control", to: "1")[1]).to include("without its number")
      %w[inject mark explode].each do |kind|
        expect(read.call(kind: kind, action_id: "a")[1]).to include("not something that can be done")
      end
    end
  end

  describe Web::LabForm do
    it "compares a prediction with what the water does, part by part" do
      form =
        described_class.new(
          {
            "supply" => "-6",
            "downstream" => "40",
            "check_valve_1" => "tight",
            "check_valve_2" => "fouled",
            "relief_valve" => "sound",
            "relief" => "wet",
            "zone" => "below",
            "protected" => "yes"
          },
          SHIPPED
        )
      expect(form).to be_predicted
      expect(form.compared.map(&:last)).to eq([true, false, true])
      expect(described_class.new({"supply" => "wild"}, SHIPPED)).not_to be_predicted
      expect(described_class.new({"supply" => "wild"}, SHIPPED).chosen(:supply)).to eq("60")
    end
  end
end
