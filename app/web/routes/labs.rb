# frozen_string_literal: true

module Web
  module Routes
    # What one learns from beside the bench: the principles lab and the procedures with their reasons.
    module Labs
      def self.registered(app)
        app.get("/lab") do
          need_user!
          not_in_an_exam! if current_user.trainee? && stores.attempts.examined?(current_user)
          page :"lab/show", title: "How they protect", form: LabForm.new(params, catalog)
        end

        # The eight cases: predicted one by one, scored, explained and kept.
        app.get("/lab/cases") do
          need_user!
          not_in_an_exam! if current_user.trainee? && stores.attempts.examined?(current_user)
          show_case(params[:case], {})
        end

        app.post("/lab/cases/:case") do
          need_user!
          not_in_an_exam! if current_user.trainee? && stores.attempts.examined?(current_user)
          one = Nurv::Teaching::Principles.cases.find { |item| item.id.to_s == params[:case] } || halt(404)
          said = LabForm::PREDICTIONS.keys.to_h { |name| [name, Form.new(params)[name]] }
          unless said.all? { |name, word| LabForm::PREDICTIONS[name].last.key?(word) }
            status 422
            next show_case(one.id, said, problem: "Predict all three first; then it is shown.")
          end
          stores.drills.keep_prediction(current_user, one.id, principles.score(one, said))
          show_case(one.id, said, seen: principles.outcome(one))
        end

        # In an exam, choosing what comes next is the exam.
        app.get("/reference") do
          need_user!
          if current_user.trainee? && stores.attempts.examined?(current_user)
            next(
              page(
                :"shared/message",
                title: "Not during an exam",
                text: "Your exam is open. You can read the procedures again when you have handed in all of it."
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
