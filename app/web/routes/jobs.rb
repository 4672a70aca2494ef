# frozen_string_literal: true

module Web
  module Routes
    # Long work as its owner sees it: a bar that moves by itself, then what came of it.
    module Jobs
      def self.registered(app)
        app.get("/jobs/:id") do
          job = job_of_mine
          redirect_to_outcome(job)
          page :"jobs/show", title: "At work", job: job
        end

        app.get("/jobs/:id/bar") do
          job = job_of_mine
          halt 200, {"HX-Redirect" => "/jobs/#{job.id}"}, "" if job.over?
          piece :"jobs/_bar", job: job
        end

        app.get("/jobs/:id/file") do
          job = job_of_mine
          file = job.result && job.result[:file]
          halt 404 unless file && File.exist?(Work::Files.path(file))
          attachment job.result[:name]
          content_type job.result[:type]
          File.binread(Work::Files.path(file))
        end

        # Asked by the bar of a page that lacks grades: puts them on the list, and tells how far they are. The page is
        # loaded again when it is done. A post, since looking at a page writes nothing.
        app.post("/grading") do
          need_user!
          ids = params[:ids].to_s.split(".").first(200).map(&:to_i)
          waiting = want_grades(stores.attempts.of_ids(current_user, ids)).size
          halt 200, {"HX-Refresh" => "true"}, "" if waiting.zero?
          piece :"jobs/_grading", ids: ids, waiting: waiting, of: [whole(:of), waiting].max
        end
      end
    end
  end
end
