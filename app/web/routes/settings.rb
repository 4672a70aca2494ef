# frozen_string_literal: true

module Web
  module Routes
    # Settings: units and time zone, policies, procedures, accounts, and who did what.
    module Settings
      def self.registered(app)
        app.get("/setup") do
          redirect "/sign-in" if stores.users.any?
          stores.setup_code.current
          page :"settings/setup", title: "First instructor", form: SetupForm.new({}, stores)
        end

        # Only while nobody is there at all, and only for who can read the server's own words.
        app.post("/setup") do
          users = stores.users
          redirect "/sign-in" if users.any?
          tried = no_guessing!("setup")
          form = SetupForm.new(params, stores)
          user = form.valid? && users.create_first(name: form[:name], login: form[:login], password: form[:password])
          unless user
            status 422
            next page(:"settings/setup", title: "First instructor", form: form)
          end
          stores.tries.right(tried)
          stores.setup_code.forget
          sign_in!(user)
          redirect "/today"
        end

        app.get("/settings") { show_settings }

        app.post("/settings") do
          need_instructor!
          units = %w[psi kpa].include?(params[:units]) ? params[:units] : "psi"
          zone = TZInfo::Timezone.all_identifiers.include?(params[:time_zone].to_s) ? params[:time_zone] : nil
          next show_settings(problem: "Enter a time zone as Area/City, like Atlantic/Azores, or UTC.") unless zone

          stores.users.prefer(current_user, units: units, time_zone: zone)
          flash "Kept."
          redirect "/settings"
        end

        policies(app)
        facts(app)
        accounts(app)
      end

      def self.facts(app)
        app.post("/settings/facts") do
          need_instructor!
          form = FactsForm.new(params, stores.catalogs, current_user)
          next show_settings(facts: form) unless form.valid?

          stores.catalogs.change_own(current_user, form.text)
          audit "changed their own facts", "facts", form.summary
          lacking = words.problems(stores.catalogs.unfindable(current_user))
          unfindable = lacking.map { |where, what| "#{where}: #{what}" }
          kept = form.text.empty? ? "What ships with Nurv is used alone." : "Saved. #{form.summary}."
          flash [kept, *unfindable].join(" ")
          redirect "/settings"
        end

        app.get("/settings/facts.yml") do
          need_instructor!
          text = stores.catalogs.own_text(current_user)
          halt 404 if text.empty?
          attachment "facts.yml"
          content_type "application/yaml"
          text
        end
      end

      def self.policies(app)
        app.post("/settings/policies") do
          need_instructor!
          form = PolicyForm.new(params)
          next show_settings(policy: form) unless form.valid?

          stores.policies.create(current_user, form.policy)
          audit "made a policy", "policies", form[:name]
          flash "#{form[:name]} can be chosen when you set up an exam."
          redirect "/settings"
        end

        app.get("/settings/procedures/:procedure") do
          need_instructor!
          show_procedure(procedure_named(params[:procedure]))
        end

        app.post("/settings/procedures/:procedure") do
          need_instructor!
          procedure = procedure_named(params[:procedure])
          form = ProcedureForm.new(params, procedure, catalog.words)
          if params[:move].is_a?(String)
            form.move(params[:move])
            form.valid?
            next show_procedure(procedure, form)
          end
          unless form.valid?
            status 422
            next show_procedure(procedure, form)
          end
          keep_procedure(procedure, form.overlay)
          redirect "/settings/procedures/#{procedure.id}"
        end

        adopted(app)
      end

      # A version of a procedure as a file, back from one, as it ships; and what it does on the simulator.
      def self.adopted(app)
        app.get("/settings/procedures/:procedure/file") do
          need_instructor!
          procedure = procedure_named(params[:procedure])
          overlay = stores.policies.overlays(current_user).fetch(procedure.id, {})
          attachment "#{procedure.id}-#{overlay.fetch(:version, 0)}.yml"
          content_type "application/yaml"
          YAML.dump(JSON.parse(JSON.generate({procedure: procedure.id, changes: overlay})))
        end

        app.post("/settings/procedures/:procedure/file") do
          need_instructor!
          procedure = procedure_named(params[:procedure])
          overlay = Nurv::Procedures::AdoptedFile.parse(Form.upload(params[:file]), catalog).overlay(procedure)
          keep_procedure(procedure, overlay)
          redirect "/settings/procedures/#{procedure.id}"
        rescue Nurv::DataError => error
          status 422
          show_procedure(procedure, nil, problem: catalog.words.error(error))
        end

        app.post("/settings/procedures/:procedure/version") do
          need_instructor!
          procedure = procedure_named(params[:procedure])
          chosen = stores.policies.versions(current_user, procedure.id).find { |one| one.version == whole(:version) }
          if chosen
            keep_procedure(procedure, chosen.overlay.except(:version))
          else
            stores.policies.forget_procedure(current_user, procedure.id)
            audit "took a procedure as it ships", "procedure #{procedure.id}"
            flash "It is used as it ships."
          end
          redirect "/settings/procedures/#{procedure.id}"
        end

        # What is typed, tried: what contradicts itself at once, the rest as soon as it is worked out.
        app.post("/settings/procedures/:procedure/proof") do
          need_instructor!
          procedure = procedure_named(params[:procedure])
          form = ProcedureForm.new(params, procedure, catalog.words)
          next piece(:"settings/_proof", problems: form.errors.values.uniq) unless form.valid?

          show_proof(procedure, form.overlay)
        end

        app.get("/settings/procedures/:procedure/proof") do
          need_instructor!
          job = stores.jobs.find_for(current_user, whole(:job))
          halt 404 unless job&.kind == "prove"
          show_proof_of(job)
        end
      end

      def self.accounts(app)
        app.post("/settings/accounts") do
          need_instructor!
          halt 404 unless current_user.admin
          users = stores.users
          form = AccountForm.new(params, users)
          next show_settings(account: form) unless form.valid?

          made = users.create(role: "instructor", name: form[:name], login: form[:login], password: form[:password])
          audit "made an account", "user #{made.id}", made.name
          flash "#{made.name} can sign in as #{made.login}."
          redirect "/settings"
        end

        app.post("/settings/password") do
          need_instructor!
          users = stores.users
          tried = no_guessing!(current_user.name)
          unless users.authenticate(current_user.login, params[:now])
            next show_settings(problem: "The password you have now is not that one.")
          end
          if params[:password].to_s.length < 8
            next show_settings(problem: "A password has at least eight characters.")
          end

          stores.tries.right(tried)
          users.change_password(current_user, params[:password], keep: session["token"])
          audit "changed their password", "user #{current_user.id}"
          flash "The password is changed. Other devices are signed out."
          redirect "/settings"
        end

        app.get("/settings/audit") do
          need_instructor!
          page :"settings/audit",
            title: "Audit log",
            rows: stores.audits.of(current_user.admin ? nil : current_user, whole(:page))
        end
      end
    end
  end
end
