# frozen_string_literal: true

module Web
  module Helpers
    # Practice on one's own.
    module Practising
      def practice = ::Benches::Practice.new(stores, keeper)

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
