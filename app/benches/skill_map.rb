# frozen_string_literal: true

module Benches
  # A class as a map: trainees down, skills across, from all that they drilled, practised and were examined in.
  class SkillMap
    # So many drills make a set.
    SET = 10
    # Attempts whose grades are read, the newest.
    MOST = 400

    # @param stores [Store::Cabinet]
    # @param course [Store::Classes::Course]
    # @param drills [Array<Nurv::Teaching::Drill>]
    # @param published [Boolean] for trainees: an exam that is not published tells them nothing
    def initialize(stores, course, drills, published: false)
      @published = published
      @stores = stores
      @course = course
      @drills = drills
    end

    attr_reader :drills

    # @return [Hash{Symbol => String}] every skill and its name: the drills, and what is predicted in the lab
    def skills = {**@drills.to_h { |drill| [drill.id, drill.label] }, PRINCIPLES => "How an RP protects"}

    PRINCIPLES = Nurv::Teaching::Principles::SKILL

    # @return [Array<Array(Store::Users::User, Nurv::Teaching::Skills)>] by name
    def rows = @rows ||= @stores.classes.members(@course).map { |member| [member, of(member)] }

    # @param member [Store::Users::User]
    # @return [Nurv::Teaching::Skills]
    def of(member)
      graded = over.fetch(member.id, []).flat_map { |attempt| shown_by(attempt) }
      Nurv::Teaching::Skills.new(tried.fetch(member.id, []) + graded + predicted(member))
    end

    # What each of them needs most, as a set of drills.
    #
    # @param ids [Array<Integer>] users
    # @param cases [Boolean] the eight cases before them
    # @return [Hash{Integer => Array<Symbol>}]
    def sets(ids, cases: false)
      skills = @drills.map(&:id)
      rows.select { |member, _| ids.include?(member.id) }.to_h do |member, standing|
        need = standing.in_need(skills)
        weak = need.reject { |skill| standing.standing(skill)&.word == :sure }
        [member.id, (cases ? [PRINCIPLES] : []) + (weak.empty? ? need : weak).cycle.first(SET)]
      end
    end

    private

    # The last prediction of each case that was made, as one try of the whole.
    def predicted(member)
      cases = @stores.drills.predicted(member) or return []

      [Nurv::Teaching::Skills::Seen.new(skill: PRINCIPLES, score: cases.score, at: cases.last_at)]
    end

    def tried
      @tried ||=
        @stores.drills.of_class(@course).group_by(&:user_id).transform_values do |tries|
          tries.map { |try| Nurv::Teaching::Skills::Seen.new(skill: try.drill, score: try.score, at: try.done_at) }
        end
    end

    # Exams and practice that are graded; what waits for its grade is not waited for.
    def over
      @over ||=
        begin
          over = @stores.attempts.of_class(@course).select(&:over?).last(MOST)
          over = over.select(&:open_to_trainee?) if @published
          missing = @stores.grades.missing(over).map(&:id)
          over.reject { |attempt| missing.include?(attempt.id) || attempt.proctored? }.group_by(&:trainee_id)
        end
    end

    def shown_by(attempt)
      grade = @stores.grades.computed(attempt)
      Nurv::Teaching::Skills.of_grade(@drills, grade, attempt.submitted_at || attempt.created_at)
    end
  end
end
