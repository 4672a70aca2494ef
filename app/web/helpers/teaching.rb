# frozen_string_literal: true

module Web
  module Helpers
    # What an instructor owns, found or not there; and the note of what they did.
    module Teaching
      def room_of_mine
        need_instructor!
        Store::Classes.new.find(current_user, params[:id].to_i) || halt(404)
      end

      def exam_of_mine
        need_instructor!
        Store::Exams.new.find(current_user, params[:id].to_i) || halt(404)
      end

      def room_of_exam(exam) = Store::Classes.new.find(current_user, exam.class_id)

      def station_of_mine
        need_instructor!
        Store::Stations.new.find(current_user, params[:id].to_i) || halt(404)
      end

      def audit(act, subject, detail = nil) = Store::Audits.new.note(current_user, act, subject, detail)

      def show_class(room, roster = nil)
        classes = Store::Classes.new
        page :"classes/show", title: room.name, room: room, members: classes.members(room), exams: Store::Exams.new.of_class(room),
          roster: roster || RosterForm.new({}, [])
      end

      def show_station(row, form) = page(:"stations/show", title: row.title, row: row, sheet: TruthSheet.new(row.station, seed: [params[:seed].to_i, 1].max), form: form)

      def show_stations(rows, query: "", import_error: nil) = page(:"stations/index", title: "Stations", stations: rows, query: query, import_error: import_error)

      def show_builder(form, row: nil, code: 200)
        status code
        page :"stations/edit", title: row ? "Change #{row.title}" : "New station", wide: true, form: form, row: row
      end

      def show_settings(problem: nil, policy: nil, account: nil)
        need_instructor!
        status 422 if problem || policy || account
        store = Store::Policies.new
        policies = store.of(current_user)
        page :"settings/index", title: "Settings", problem: problem, policies: policies, overlays: store.overlays(current_user), instructors: Store::Users.new.instructors,
          policy: policy || PolicyForm.of(policies["standard"]), account: account || AccountForm.new({}, Store::Users.new)
      end

      def procedure_named(name) = Nurv::Catalog.default.procedures[name.to_s.to_sym] || halt(404)

      def show_procedure(procedure, form = nil)
        current = Store::Policies.new.overlays(current_user).fetch(procedure.id, {})
        page :"settings/procedure", title: procedure.title, procedure: procedure, form: form || ProcedureForm.of(procedure, current)
      end

      def gradebook(room)
        Store::Gradebook.new(room, query: params[:q], sort: params[:sort].to_s, descending: params[:desc] == "1", state: params[:state].to_s, page: params[:page] || 1, practice: params[:practice] == "1")
      end

      # Whether the policy leaves a second attempt to give, after the first.
      def second_attempt?(attempt)
        return false unless attempt.over? && attempt.trainee_id != current_user.id && attempt.retest_of.nil?

        attempt.grading_policy.second_attempt?(Store::Attempts.new.retests_of(attempt).size)
      end

      # A result for who may see it; to its instructor with what can be changed.
      def show_result(attempt, override = nil)
        mine = attempt.instructor_id == current_user.id
        page :"attempts/result", title: "Result", wide: true, attempt: attempt, taught: mine, sheet: GradeSheet.of(attempt), override: override,
          name: Store::Users.new.find(attempt.trainee_id)&.name, first: attempt.retest_of, again: mine ? Store::Attempts.new.retests_of(attempt) : []
      end

      def show_exam_form(room, form, policies) = page(:"exams/new", title: "Set up an exam", room: room, form: form, policies: policies)

      def room_view(attempts) = RoomView.new(attempts, wall_ms)

      def built_assembly = Nurv::Catalog.default.assemblies[params[:assembly].to_s.to_sym] || halt(404)

      # An exam brought up to the clock: who has run out of time is handed in.
      def tick(exam, progress: false)
        attempts = Store::Attempts.new
        now = wall_ms
        list = attempts.of_exam(exam, progress: progress)
        late = list.select { |attempt| attempt.overdue?(now) }
        return list if late.empty?

        attempts.hand_in(late, now)
        attempts.of_exam(exam, progress: progress)
      end
    end
  end
end
