# frozen_string_literal: true

module Web
  # A proctor's sheet: the steps of a procedure beside a real bench, what was marked, and what the gauge of a correct
  # tester shows at the step in hand.
  class ProctorSheet
    AS = {"done" => "Done", "wrong" => "Wrong", "out_of_order" => "Out of order"}.freeze
    # Fields of the report that a proctor takes down; the rest is the trainee's paper.
    PAPER = %i[make model size serial notified kit_serial kit_checked signature].freeze

    # A field of the report: choices [Array<Array(String, String)>, nil] as value and label; number: it is one
    Entry = Struct.new(:field, :label, :value, :choices, :number, keyword_init: true)
    Step = Struct.new(:step, :as, :at_ms, :current, keyword_init: true)

    attr_reader :attempt

    # @param attempt [Store::Attempt]
    # @param stores [Store::Cabinet]
    def initialize(attempt, stores)
      @attempt = attempt
      @log = stores.attempts.log(attempt)
    end

    def procedure = @procedure ||= attempt.grading_policy.adjust(attempt.station.procedure_named(field(:procedure)))

    def truth = @truth ||= Nurv::Expert::Truth.of(attempt.variant, procedure)

    def steps
      marked = @log.of(:mark).to_h { |action| [action.named(:step), action] }
      now = current_step
      wanted.map do |step|
        Step.new(step: step, as: marked[step.id]&.[](:as), at_ms: marked[step.id]&.at_ms, current: step.id == now&.id)
      end
    end

    # The first step after the last one marked; the first of all at the start.
    def current_step
      last = @log.of(:mark).last&.named(:step)
      place = last ? wanted.index { |step| step.id == last }.to_i + 1 : 0
      wanted[place] || wanted.last
    end

    def field(name) = fields[name].to_s

    def fields = @fields ||= @log.of(:fill).to_h { |action| [action.named(:field), action[:value]] }

    def noted?(finding) = @log.of(:find).any? { |action| action.named(:finding) == finding.at }

    # The correct tester's bench at the end of the step in hand.
    def screen
      @screen ||=
        truth
          .end_of(current_step&.id)
          .then do |at_s|
            at_ms = (at_s * 1000).round
            truth.at(at_s) { |span| BenchScreen.new(attempt, span, now_ms: at_ms, seq: 0, until_ms: at_ms + 200) }
          end
    end

    def seq = attempt.last_seq

    # @return [Array<Entry>] what a proctor takes down for the trainee, in the order of the paper
    def entries = readings + results + paper

    private

    def readings =
      procedure.items.values.map do |item|
        choices = item.reading? ? nil : item.choices.keys.map { |word| [word, word] }
        Entry.new(field: item.id, label: item.label, value: field(item.id), choices: choices, number: item.reading?)
      end

    def results
      words = screen.words
      parts = attempt.station.assembly.components.map { |part| [:"result_#{part}", words.part(part), screen.results] }
      chosen = [
        *parts,
        [:overall, "Overall", screen.overall_results],
        [:diagnosis, "Diagnosis", screen.diagnoses],
        [:diagnosis_2, "Second cause", screen.diagnoses]
      ]
      chosen.map { |id, label, choices| Entry.new(field: id, label: label, value: field(id), choices: choices) }
    end

    def paper = PAPER.map { |id| Entry.new(field: id, label: screen.words.field(id), value: field(id)) }

    # Steps of this station's test, as a correct tester would take them.
    def wanted = @wanted ||= truth.steps.map { |id| procedure.step(id) }
  end
end
