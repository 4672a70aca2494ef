# frozen_string_literal: true

module Web
  module Helpers
    # Practice on one's own.
    module Practising
      def practice = ::Benches::Practice.new(stores, keeper)

      PRINCIPLES = {}
      private_constant :PRINCIPLES

      # Worked out once for all: nothing in it is anybody's.
      def principles = PRINCIPLES[:shipped] ||= Nurv::Teaching::Principles.new(stores.catalog)

      # @param said [Hash{Symbol => String}] what was predicted
      # @param seen [Nurv::Teaching::Lab::Outcome, nil] once it is predicted
      def show_case(id, said, seen: nil, problem: nil)
        cases = Nurv::Teaching::Principles.cases
        done = stores.drills.predictions(current_user)
        one = cases.find { |item| item.id.to_s == id.to_s } || cases.find { |item| !done.key?(item.id) } || cases.first
        page :"lab/cases",
          title: "Eight cases",
          cases: cases,
          done: done,
          one: one,
          said: said,
          seen: seen,
          problem: problem
      end

      def drilling = ::Benches::Drills.new(stores, keeper)

      # @return [Benches::SkillMap] by all procedures that its trainees may practise; by all, where it is shut
      def skill_map(course, **how)
        own = practised_procedures(course)
        own = stores.catalogs.of(stores.users.find(course.owner_id)).procedures.values if own.empty?
        ::Benches::SkillMap.new(stores, course, drilling.by(own), **how)
      end

      # @return [Array<Symbol>] what this trainee should drill next, the first first
      def next_drills(course)
        map = skill_map(course, published: true)
        skills = map.drills.map(&:id)
        given = stores.drills.left_of_set(current_user) & [*skills, Nurv::Teaching::Principles::SKILL]
        given | map.of(current_user).in_need(skills)
      end

      def start_drill(course, id)
        redirect "/lab/cases" if id == Nurv::Teaching::Principles::SKILL
        drill = drilling.by(practised_procedures(course)).find { |one| one.id == id } || halt(404)
        attempt = drilling.begin(current_user, course, drill, wall_ms)
        prepare_drill(course, id)
        redirect "/attempts/#{attempt.id}/bench"
      end

      # @param id [Symbol, nil] what they are likely to drill soon
      def prepare_drill(course, id)
        drill = drilling.all[id]
        drilling.prepare(course, drill) if drill
      end

      # @return [Store::Classes::Course, nil] in which this trainee may practise
      def practised_course = stores.classes.practised_by(current_user).first

      # @return [Array<Nurv::Procedures::Procedure>] as their instructor has adopted them
      def practised_procedures(course) = course ? stores.catalogs.practised(course) : []

      def practise_form(course, raw)
        faults = course ? stores.catalogs.of(stores.users.find(course.owner_id)).faults.values : []
        PractiseForm.new(raw, practised_procedures(course), faults)
      end

      def show_practise(course, form)
        page :"practise/show",
          title: "Practise",
          course: course,
          procedures: practised_procedures(course),
          form: form
      end
    end
  end
end
