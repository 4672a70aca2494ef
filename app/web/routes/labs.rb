# frozen_string_literal: true

module Web
  module Routes
    # The principles of operation lab.
    module Labs
      def self.registered(app)
        app.get("/lab") do
          need_user!
          page :"lab/show", title: "How an RP protects", form: LabForm.new(params)
        end
      end
    end
  end
end
