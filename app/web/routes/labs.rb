# frozen_string_literal: true

module Web
  module Routes
    # What one learns from beside the bench: the principles lab and the procedures with their reasons.
    module Labs
      def self.registered(app)
        app.get("/lab") do
          need_user!
          page :"lab/show", title: "How an RP protects", form: LabForm.new(params, catalog)
        end

        # In an exam, choosing what comes next is the exam.
        app.get("/reference") do
          need_user!
          if current_user.trainee? && stores.attempts.examined?(current_user)
            next(
              page(
                :"shared/message",
                title: "Not during an exam",
                text: "You have an exam running. The procedures can be read again when it is handed in."
              )
            )
          end
          procedures = adopted_procedures
          page :"lab/reference",
            title: "Procedures",
            procedures: procedures,
            shown: procedures.find { |item| item.id.to_s == params[:procedure] } || procedures.first
        end
      end
    end
  end
end
