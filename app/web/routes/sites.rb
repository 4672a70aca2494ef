# frozen_string_literal: true

module Web
  module Routes
    # Sites of an instructor's own, kept with their own facts.
    module Sites
      def self.registered(app)
        app.get("/sites/new") do
          need_instructor!
          page :"sites/edit", title: "A site of your own", form: SiteForm.of(own_site), own: own_sites
        end

        app.post("/sites") do
          need_instructor!
          form = SiteForm.new(params)
          unless form.valid? && stores.catalogs.add_own(current_user, :sites, form.data)
            status 422
            next page(:"sites/edit", title: "A site of your own", form: form, own: own_sites)
          end
          audit "kept a site", "site #{form.id}", form[:name]
          flash "#{form[:name]} can be chosen in the station builder."
          redirect "/stations/new?site=#{form.id}"
        rescue Nurv::DataError => error
          status 422
          form.errors[:site] = catalog.words.error(error)
          page :"sites/edit", title: "A site of your own", form: form, own: own_sites
        end
      end
    end
  end
end
