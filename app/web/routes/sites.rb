# frozen_string_literal: true

module Web
  module Routes
    # Sites and findings of an instructor's own, kept with their own facts.
    module Sites
      def self.registered(app)
        app.get("/sites/new") do
          need_instructor!
          show_own(:sites, SiteForm.of(own_fact(:sites, params[:site])))
        end

        app.post("/sites") do
          need_instructor!
          form = SiteForm.new(params)
          next show_own(:sites, form) unless keep_own(:sites, form)

          audit "kept a site", "site #{form.id}", form[:name]
          flash "#{form[:name]} can be chosen in the station builder."
          redirect "/stations/new?site=#{form.id}"
        end

        app.get("/findings/new") do
          need_instructor!
          show_own(:findings, FindingForm.of(own_fact(:findings, params[:finding])))
        end

        app.post("/findings") do
          need_instructor!
          form = FindingForm.new(params)
          next show_own(:findings, form) unless keep_own(:findings, form)

          audit "kept a finding", "finding #{form.id}", form[:label]
          flash "“#{form[:label]}” can be chosen in the station builder, under “To be found by looking”."
          redirect "/stations/new"
        end
      end
    end
  end
end
