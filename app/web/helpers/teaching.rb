# frozen_string_literal: true

module Web
  module Helpers
    # What an instructor owns, found or not there; and the note of what they did.
    module Teaching
      def course_of_mine
        need_instructor!
        stores.classes.find(current_user, whole(:id)) || halt(404)
      end

      def exam_of_mine
        need_instructor!
        stores.exams.find(current_user, whole(:id)) || halt(404)
      end

      def course_of_exam(exam) = stores.classes.find(current_user, exam.class_id)

      def station_of_mine
        need_instructor!
        stores.stations.find(current_user, whole(:id)) || halt(404)
      end

      def audit(act, subject, detail = nil)
        stores.audits.note(current_user, act, subject, detail)
      rescue Sequel::DatabaseError => error
        # Looking, or printing, goes on where nothing can be written.
        raise unless request.get?

        warn "audit: #{error.message.lines.first&.strip}"
      end

      def show_class(course, roster = nil)
        members = stores.classes.members(course)
        page :"classes/show",
          title: course.name,
          course: course,
          members: members,
          exams: stores.exams.of_class(course),
          newcomers: stores.classes.newcomers(course),
          show_pins: params[:pins] == "1",
          roster: roster || RosterForm.new({}, [])
      end

      def member_of(course) = stores.classes.members(course).find { |user| user.id == whole(:user_id) } || halt(404)

      def show_member(course, member, form = nil, problem: nil)
        courses = stores.classes.of(current_user).reject { |other| other.id == course.id || other.archived? }
        others = stores.classes.members(course).reject { |other| other.id == member.id }
        page :"classes/member",
          title: member.name,
          course: course,
          member: member,
          courses: courses,
          others: others,
          problem: problem,
          form: form || NameForm.new({"name" => member.name}, others),
          attempts: stores.attempts.of_member(course, member)
      end

      # Who is no longer of a class works at no bench of its exams: what was done by now counts.
      def hand_in_work_of(course, member)
        begun = stores.attempts.of_member(course, member).select { |attempt| attempt.exam? && attempt.started? }
        keeper.hand_in(begun, wall_ms)
      end

      def show_practice_form(course, form = nil)
        members = stores.classes.members(course)
        everybody = {"trainees" => members.map { |member| member.id.to_s }}
        page :"classes/practice",
          title: "Give practice",
          course: course,
          members: members,
          form: form || PracticeForm.new(everybody, stores.stations.of(current_user), members)
      end

      def show_station(row, form) =
        page(
          :"stations/show",
          title: row.title,
          row: row,
          sheet: TruthSheet.new(row.station, seed: [whole(:seed), 1].max) { |item| usual_policy.adjust(item) },
          exams: stores.exams.using(row.id),
          benches: stores.stations.benches_at(row),
          form: form
        )

      def show_stations(rows, query: "", import_error: nil, archived: false) =
        page(
          :"stations/index",
          title: "Stations",
          stations: rows,
          query: query,
          import_error: import_error,
          archived: archived,
          put_away: stores.stations.archived_count(current_user)
        )

      def show_builder(form, row: nil, code: 200)
        status code
        page :"stations/edit", title: row ? "Change #{row.title}" : "New station", wide: true, form: form, row: row
      end

      def show_settings(problem: nil, policy: nil, account: nil, facts: nil)
        need_instructor!
        status 422 if problem || policy || account || facts
        store = stores.policies
        policies = store.of(current_user)
        page :"settings/index",
          title: "Settings",
          problem: problem,
          policies: policies,
          overlays: store.overlays(current_user),
          instructors: stores.users.instructors,
          policy: policy || PolicyForm.of(policies["standard"]),
          facts: facts || FactsForm.of(current_user, stores.catalogs),
          account: account || AccountForm.new({}, stores.users)
      end

      def procedure_named(name) = catalog.procedures[name.to_s.to_sym] || halt(404)

      def show_procedure(procedure, form = nil, problem: nil)
        current = stores.policies.overlays(current_user).fetch(procedure.id, {})
        page :"settings/procedure",
          title: procedure.title,
          wide: true,
          procedure: procedure,
          current: current,
          versions: stores.policies.versions(current_user, procedure.id),
          problem: problem,
          form: form || ProcedureForm.of(procedure, current, catalog.words)
      end

      # As this instructor, or this trainee's, has adopted them.
      #
      # @return [Array<Nurv::Procedures::Procedure>]
      def adopted_procedures
        teacher = current_user.trainee? ? stores.classes.teacher_of(current_user) : current_user
        overlays = teacher ? stores.policies.overlays(teacher) : {}
        catalog.procedures.values.map { |procedure| procedure.adjusted(overlays.fetch(procedure.id, {})) }
      end

      # @return [Array<Nurv::Stations::Site>] of this instructor's own
      # @param kind [Symbol] :sites or :findings
      def own_facts(kind) =
        stores.catalogs.own_ids(current_user, kind).filter_map { |id| catalog.public_send(kind)[id] }

      def own_fact(kind, id) = own_facts(kind).find { |fact| fact.id.to_s == id.to_s }

      OWN_PAGES = {
        sites: [:"sites/edit", "A site of your own"],
        findings: [:"sites/finding", "A finding of your own"]
      }.freeze

      def show_own(kind, form)
        view, title = OWN_PAGES.fetch(kind)
        page view, title: title, form: form, own: own_facts(kind)
      end

      # @return [Boolean] false with the form's errors set, and the answer's status
      def keep_own(kind, form)
        return true if form.valid? && stores.catalogs.add_own(current_user, kind, form.data)

        status 422
        false
      rescue Nurv::DataError => error
        status 422
        form.errors[:whole] = catalog.words.error(error)
        false
      end

      def keep_procedure(procedure, overlay)
        version = stores.policies.change_procedure(current_user, procedure.id, overlay)
        audit "changed a procedure", "procedure #{procedure.id}", "version #{version}"
        flash "Kept as version #{version}. Exams set up and benches given from now on use it."
      end

      # What an adopted procedure does: from what was worked out before, or put on the list.
      def show_proof(procedure, overlay)
        proofs = stores.proofs
        bodies = stores.stations.of(current_user).map(&:body)
        digest = proofs.digest(catalog, procedure.id, overlay, bodies)
        known = proofs.find(digest)
        return piece(:"settings/_proof", problems: [], proof: known, adopted: procedure.adjusted(overlay)) if known

        asked = {digest: digest, procedure: procedure.id, overlay: overlay}
        job = stores.jobs.push("prove", owner: current_user, subject: digest, **asked)
        show_proof_of(stores.jobs.find(job))
      end

      def show_proof_of(job)
        return piece(:"settings/_proving", job: job) unless job.over?

        problem = job.problem || "It could not be worked out."
        known = stores.proofs.find(job.data.fetch(:digest))
        return piece(:"settings/_proof", problems: [problem]) unless known

        procedure = procedure_named(job.data.fetch(:procedure))
        adopted = procedure.adjusted(Nurv::Facts.of(job.data.fetch(:overlay)))
        piece(:"settings/_proof", problems: [], proof: known, adopted: adopted)
      end

      def gradebook(course)
        stores.gradebook(
          course,
          query: params[:q],
          sort: params[:sort].to_s,
          descending: params[:desc] == "1",
          state: params[:state].to_s,
          page: params[:page] || 1,
          practice: params[:practice] == "1",
          cases: params[:cases] == "1"
        )
      end

      # Whether the policy leaves a second attempt to give, after the first.
      def second_attempt?(attempt)
        return false unless attempt.over? && attempt.trainee_id != current_user.id && attempt.retest_of.nil?

        attempt.grading_policy.second_attempt?(stores.attempts.retests_of(attempt).size)
      end

      # Never begun before the exam was closed: it can be given again.
      def missed?(attempt) =
        %w[absent unbegun].include?(attempt.status) && stores.attempts.retests_of(attempt).empty?

      # Published so short a time ago that it can be taken back.
      def may_take_back?(attempt)
        attempt.published? && attempt.published_at &&
          ::Clock.now - attempt.published_at.to_time <= Store::Attempts::TAKE_BACK_S
      end

      # A result for who may see it; to its instructor with what can be changed.
      def show_result(attempt, override = nil)
        mine = attempt.instructor_id == current_user.id
        page :"attempts/result",
          title: "Result",
          wide: true,
          attempt: attempt,
          taught: mine,
          sheet: GradeSheet.of(attempt, stores),
          override: override,
          name: stores.users.find(attempt.trainee_id)&.name,
          first: attempt.retest_of,
          again: mine ? stores.attempts.retests_of(attempt) : []
      end

      # A form for a new exam, or for a draft.
      def show_exam_form(course, form, exam = nil)
        page :"exams/new",
          title: exam ? "Change #{exam.title}" : "Set up an exam",
          course: course,
          form: form,
          exam: exam,
          practised: stores.stations.practised_by(stores.classes.members(course).map(&:id)),
          policies: stores.policies.of(current_user)
      end

      # @param changes [Array<Hash>, nil] what another policy would change, once that is worked out
      def show_regrade(exam, form, changes = nil)
        page :"review/regrade", title: "Change the policy", exam: exam, form: form, changes: changes
      end

      def draft_of_mine = exam_of_mine.tap { |exam| halt 404 unless exam.draft? }

      # What a form says of an exam, with this instructor's procedures in its policy.
      def exam_values(form)
        {
          title: form[:title],
          policy: stores.policies.with_procedures(current_user, form.policy),
          stations: form.stations,
          shuffled: form.shuffled?,
          seed: form.seed,
          opens_at: form.opens_at
        }
      end

      # The zone that was named with a time is this instructor's from then on.
      def keep_zone(form)
        return if form.zone.name == current_user.time_zone || form[:time_zone].empty?

        stores.users.prefer(current_user, units: current_user.units, time_zone: form.zone.name)
      end

      # What to know before an exam is opened: benches that are alike, and benches that were practice.
      #
      # @return [Hash{Symbol => Object}] same [Array<String>], practised [Hash{String => Integer}]; none once it is open
      def exam_warnings(exam)
        return {same: [], practised: {}} unless exam.draft?

        {same: stores.exams.same_for_all(exam), practised: stores.exams.practised(exam)}
      end

      # What benches given outside exams are marked by: the standard, with this instructor's procedures.
      def usual_policy = stores.policies.usual(current_user)

      # Benches of an exam that are not handed in.
      def benches_left(exam) =
        stores.attempts.of_exam(exam).select { |attempt| attempt.assigned? || attempt.started? }

      # On the roster, without a bench in this exam.
      #
      # @return [Array<Store::Users::User>]
      def latecomers(exam, attempts = stores.attempts.of_exam(exam))
        return [] unless exam.open?

        there = attempts.map(&:trainee_id)
        stores.classes.members_of(exam.class_id).reject { |member| there.include?(member.id) }
      end

      def room_view(attempts) = RoomView.new(attempts, wall_ms)

      def built_assembly = catalog.assemblies[params[:assembly].to_s.to_sym] || halt(404)

      # Whoever was let in from an exam's room gets benches at once.
      def to_the_room(course)
        exam = stores.exams.find(current_user, whole(:exam))
        return unless exam&.open? && exam.class_id == course.id

        stores.exams.open(exam, stores.classes.members(course))
        flash "Everybody on the roster has benches now."
        redirect "/exams/#{exam.id}/room"
      end

      # Who came by the code while an exam is open, and waits to be let in.
      #
      # @return [Array<Store::Users::User>]
      def newcomers_of(exam) = exam.open? ? stores.classes.newcomers(course_of_exam(exam)) : []

      # An exam brought up to the clock: who has run out of time is handed in.
      def tick(exam)
        attempts = stores.attempts
        now = wall_ms
        list = attempts.of_exam(exam)
        late = list.select { |attempt| attempt.overdue?(now) }
        return list if late.empty?

        keeper.hand_in(late, now)
        attempts.of_exam(exam)
      end

      # The same for who watches the room: with how far each is, and those that cannot be read.
      def room_of(exam)
        tick(exam)
        stores.attempts.room_of(exam)
      end
    end
  end
end
