# frozen_string_literal: true

require "delegate"

module Nurv
  class Words
    # A line of a grade with its title and its sentences.
    class ToldLine < SimpleDelegator
      # What an unblemished line is about, as a mistake that has a reason.
      WHY = {
        identification: :record_incomplete,
        kit: :record_incomplete,
        meter: :record_incomplete,
        line_pressure: :record_incomplete,
        shutoffs: :record_incomplete,
        particulars: :record_incomplete,
        completeness: :record_incomplete,
        notebook: :notebook_differs,
        overall: :wrong_overall,
        diagnosis: :wrong_diagnosis,
        stopped: :finding_missed,
        repair: :repair_wrong,
        retest: :repair_wrong
      }.freeze
      # A step that was not done at all, or judged by hand, is explained by what it is for.
      STEP_SAYS_WHY = %i[
        done
        not_done
        not_in_time
        marked
        not_marked
        looked_and_not
        flushed_and_not
        told_and_not
        follows_from_step
      ].freeze
      private_constant :WHY, :STEP_SAYS_WHY

      # @param line [Grading::Line]
      # @param words [Words]
      # @param about [About] with the grade's procedure
      # @param findings [Hash{Symbol => Stations::Defect}] those that are known
      def initialize(line, words, about, findings)
        super(line)
        @words = words
        @about = about
        @findings = findings
      end

      # @return [String]
      def title = retest_of ? @words.say(:"lines.of_retest", title: own_title) : own_title

      # @return [String] a sentence
      def expected = @words.tell(super, @about)

      # @return [String] a sentence
      def happened = @words.tell(super, @about)

      # @return [String, nil] what the mistake is called; nil without one
      def mistake_name = mistake && @words.mistake(mistake)

      # @return [String] why it matters
      def why
        return step_why if section == :procedure

        @words.why(mistake || WHY.fetch(own_id, fallback))
      end

      # @return [Hash{Symbol => Object}] as `bin/nurv grade --json` prints it
      def to_data
        {
          section: section,
          id: id,
          title: title,
          points: points,
          earned: earned,
          mistake: mistake,
          at_s: at_s,
          expected: expected,
          happened: happened,
          why: why,
          critical: critical
        }
      end

      private

      def own_id = about

      def fallback
        return :reading_off if section == :readings
        return :wrong_verdict if section == :judgement

        own_id.start_with?("false_") ? :finding_false : :finding_missed
      end

      def step = @about.procedure.step(own_id)

      def step_why
        says = __getobj__.happened.id
        (mistake.nil? || STEP_SAYS_WHY.include?(says)) ? step&.why.to_s : @words.why(mistake)
      end

      def own_title
        case section
        when :procedure then step&.title || @words.plain(own_id)
        when :readings then @about.procedure.items[own_id]&.label || @words.plain(own_id)
        else paper_title
        end
      end

      def paper_title
        kind, rest = own_id.to_s.split("_", 2)
        case kind
        when "finding" then @words.say(:"lines.finding", label: @findings.fetch(rest.to_sym).label.downcase)
        when "false" then @words.say(:"lines.no_finding", thing: @words.plain(rest))
        when "result" then @words.say(:"lines.result", part: @words.part(rest))
        else @words.say(:"lines.#{own_id}")
        end
      end
    end
  end
end
