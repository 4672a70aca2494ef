# frozen_string_literal: true

module Nurv
  class Catalog
    # Says whether the facts of a catalogue go together: everything that one names is there, and is of the right kind.
    class Check
      # What a clause says besides what it requires or does.
      BESIDE_REQUIREMENT = %i[mistake unless follows_from not_with].freeze

      # @param catalog [Catalog]
      def initialize(catalog)
        @catalog = catalog
      end

      # @param path [String] a name for what was read
      # @raise [DataError] with everything that is wrong
      def check!(path)
        found = problems
        raise DataError.new(path, found) if found.any?
      end

      # @return [Array<Array(String, Remark)>] place and what is wrong there
      def problems
        shapes = shape_problems
        return shapes if shapes.any?

        equipment = EquipmentCheck.new(@catalog).problems
        return equipment if equipment.any?

        @found = []
        @catalog.procedures.each_value { |procedure| check_procedure(procedure) }
        @catalog.faults.each_value { |fault| check_fault(fault) }
        @catalog.sites.each_value { |site| check_site(site) }
        @catalog.findings.each_value { |finding| check_finding(finding) }
        @found
      end

      private

      def note(where, id, **values) = @found << [where, Remark.new(id, **values)]

      def known(where, name, set)
        note(where, :not_known, typed: name.to_s, listed: set) unless set.include?(name.to_sym)
      end

      # Each kind is read apart, so that one does not hide what is wrong with another.
      def shape_problems
        KINDS.keys.flat_map do |kind|
          @catalog.public_send(kind)
          []
        rescue DataError => error
          error.problems.map { |where, what| ["#{error.path}: #{where}", what] }
        end
      end

      def check_procedure(procedure)
        check_adopted(procedure, "procedures #{procedure.id}")
        procedure.settings.each do |setting|
          setting.choices.drop(1).each do |choice|
            adopted = procedure.adjusted({settings: {setting.id => choice.id.to_s}})
            check_adopted(adopted, "procedures #{procedure.id}: settings #{setting.id}: #{choice.id}")
          end
        end
      end

      def check_adopted(procedure, place)
        known("#{place}: assembly", procedure.assembly, @catalog.assemblies.keys)
        procedure.kits.each { |kit| known("#{place}: kits", kit, @catalog.kits.keys) }
        steps = procedure.steps.map(&:id)
        procedure.items.each_value do |item|
          known("#{place}: item #{item.id}: step", item.step, steps) if item.step
          check_part("#{place}: item #{item.id}: component", procedure, item.component)
          known("#{place}: item #{item.id}: gives_way_to", item.gives_way_to, procedure.items.keys) if item.gives_way_to
        end
        procedure.steps.each { |step| check_step("#{place}: step #{step.id}", step, steps) }
      end

      # What a reading is of, is a part of the assembly.
      def check_part(place, procedure, component)
        assembly = @catalog.assemblies[procedure.assembly]
        known(place, component, assembly.components + assembly.shutoff_valves) if assembly && component
      end

      def check_step(place, step, steps)
        step.after.each { |id| known("#{place}: after", id, steps) }
        [step.missed, *step.other_names].each { |id| known("#{place}: missed", id, @catalog.mistakes) }
        conditions = step.matched + (step.tried || []) + step.before + step.at_end + (step.situation || [])
        conditions.flat_map(&:keys).each { |name| condition("#{place}: #{name}", name) }
        step.must.each { |clause| check_requirement("#{place}: must", clause) }
        step.acts.each do |act|
          note("#{place}: do", :no_verb, typed: act.keys.join(", ")) unless Expert::Tester.verb(act)
        end
      end

      def condition(place, name) = (note(place, :no_condition) unless Grading::Conditions.known?(name))

      def check_requirement(place, clause)
        names = clause.keys - BESIDE_REQUIREMENT
        unless names.size == 1 && Grading::Requirements.known?(names.first)
          note(place, :no_requirement, typed: names.join(", "))
        end
        return note(place, :missing_mistake) unless clause[:mistake]

        named = [clause[:mistake], *clause[:follows_from], *clause[:not_with]]
        named.each { |id| known("#{place}: mistake", id, @catalog.mistakes) }
      end

      def check_fault(fault)
        place = "faults #{fault.id}"
        fault.mended_by.each { |way| known("#{place}: mended_by", way, @catalog.repairs.keys) }
        fault.sets.each do |assembly, set|
          known("#{place}: sets", assembly, @catalog.assemblies.keys)
          Shapes::FaultSet.problems(set).each { |where, what| @found << ["#{place}: sets.#{assembly}.#{where}", what] }
        end
      end

      def check_site(site)
        topics = Bench::Sight::TOPICS
        site.people.each_value do |person|
          person.topics.each { |topic| known("sites #{site.id}: #{person.id}: topics", topic, topics) }
          own = [*person.says&.keys, *person.replies&.keys]
          own.each { |topic| known("sites #{site.id}: #{person.id}", topic, person.topics.map(&:to_sym)) }
        end
        site.things.each_value do |thing|
          next unless thing.finding

          known("sites #{site.id}: #{thing.id}: finding", thing.finding, @catalog.findings.keys)
        end
      end

      def check_finding(finding)
        places = Bench::Sight::THINGS + [:permission] + @catalog.sites.values.flat_map { |site| site.things.keys }
        known("findings #{finding.id}: at", finding.at, places)
      end
    end
  end
end
