# frozen_string_literal: true

module Web
  module Helpers
    # Long work: put on the list, and shown while it is done.
    module Work
      def job_of_mine
        need_user!
        stores.jobs.find_for(current_user, whole(:id)) || halt(404)
      end

      # Puts work on the list and shows its bar.
      def set_to_work(kind, **data)
        redirect "/jobs/#{stores.jobs.push(kind, owner: current_user, **data)}"
      end

      # Where finished work leads, if it leads somewhere.
      def redirect_to_outcome(job)
        to = job.state == "done" && job.result[:to] or return
        flash job.result[:words] if job.result[:words]
        redirect to
      end

      # Puts grades that are missing on the list.
      #
      # @return [Array<Store::Attempt>] those still to be graded
      def want_grades(attempts)
        stores.grades.want(attempts)
      rescue Sequel::DatabaseError => error
        # Asked again in a moment.
        warn "grading: #{error.message.lines.first&.strip}"
        missing_grades(attempts)
      end

      # The same without putting anything on the list, for whoever only looks.
      def missing_grades(attempts) = stores.grades.missing(attempts)
    end
  end
end
