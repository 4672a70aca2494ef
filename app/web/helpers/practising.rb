# frozen_string_literal: true

module Web
  module Helpers
    # Practice on one's own.
    module Practising
      def practice = ::Benches::Practice.new(stores, keeper)

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
        (stores.drills.left_of_set(current_user) & skills) | map.of(current_user).in_need(skills)
      end

      def start_drill(course, id)
        procedures = practised_procedures(course)
        drill = drilling.by(procedures).find { |one| one.id == id } || halt(404)
        attempt = drilling.begin(current_user, course, drill, procedures, wall_ms)
        redirect "/attempts/#{attempt.id}/bench"
      end

      # @return [Store::Classes::Course, nil] in which this trainee may practise
      def practised_course = stores.classes.practised_by(current_user).first

      # @return [Array<Nurv::Procedures::Procedure>] as their instructor has adopted them
      def practised_procedures(course)
        return [] unless course

        teacher = stores.users.find(course.owner_id)
        policy = stores.policies.with_procedures(teacher, stores.policies.of(teacher)["standard"])
        known = stores.catalogs.of(teacher).procedures
        course.practises.filter_map { |id| known[id] && policy.adjust(known[id]) }
      end

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
