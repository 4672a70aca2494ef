# frozen_string_literal: true

module Web
  # A proctor's sheet: the steps of a procedure beside a real bench, what was marked, and what the gauge of a correct
  # tester shows at the step in hand.
  class ProctorSheet
    AS = {"done" => "Done", "wrong" => "Wrong", "out_of_order" => "Out of order"}.freeze
    # Fields of the report that a proctor takes down; the rest is the trainee's paper.
    PAPER = %i[make model size serial notified kit_serial kit_checked signature].freeze

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
      marked = @log.of(:mark).to_h { |action| [action.name(:step), action] }
      now = current_step
      wanted.map do |step|
        Step.new(step: step, as: marked[step.id]&.[](:as), at_ms: marked[step.id]&.at_ms, current: step.id == now&.id)
      end
    end

    # The first step after the last one marked; the first of all at the start.
    def current_step
      last = @log.of(:mark).last&.name(:step)
      place = last ? wanted.index { |step| step.id == last }.to_i + 1 : 0
      wanted[place] || wanted.last
    end

    def field(name) = fields[name].to_s

    def fields = @fields ||= @log.of(:fill).to_h { |action| [action.name(:field), action[:value]] }

    def noted?(finding) = @log.of(:find).any? { |action| action.name(:finding) == finding.at }

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

    # What is chosen on the report: field, label, and its choices as value and label.
    def choices
      words = screen.words
      parts = attempt.station.assembly.components.map { |part| [:"result_#{part}", words.part(part), screen.results] }
      parts + [
        [:overall, "Overall", screen.overall_results],
        [:diagnosis, "Diagnosis", screen.diagnoses],
        [:diagnosis_2, "Second cause", screen.diagnoses]
      ]
    end

    private

    # Steps of this station's test, as a correct tester would take them.
    def wanted = @wanted ||= truth.steps.map { |id| procedure.step(id) }
  end
end
