# frozen_string_literal: true

module Web
  # How an exam is run and marked, as fields on a page.
  class PolicyForm < Form
    SECTIONS = Nurv::Grading::Policy::SECTIONS

    def self.of(policy)
      new(
        {
          "name" => policy.name,
          "pass_mark" => format("%g", policy.pass_mark),
          "tolerance_psid" => policy.tolerance_psid.to_s,
          "time_limit_min" => policy.time_limit_min.to_s,
          "critical_fails" => policy.critical_fails? ? "1" : "",
          "hints" => policy.hints? ? "1" : "",
          "skip_waiting" => policy.skip_waiting? ? "1" : "",
          "retest" => policy.retest.to_s,
          "fail_outright" => policy.fail_outright.map(&:to_s),
          **policy.weights.to_h { |name, weight| ["w_#{name}", format("%g", weight)] }
        }
      )
    end

    def policy = Nurv::Grading::Policy.new(data)

    def data
      {
        id: "own",
        name: self[:name],
        weights: SECTIONS.to_h { |name| [name, number(:"w_#{name}").to_f] },
        pass_mark: number(:pass_mark).to_f,
        tolerance_psid: number(:tolerance_psid).to_f,
        fail_outright: list(:fail_outright) & Nurv::Grading::Policy::OUTRIGHT.map(&:to_s),
        time_limit_min: self[:time_limit_min].empty? ? nil : self[:time_limit_min].to_i,
        critical_fails: self[:critical_fails] == "1",
        hints: self[:hints] == "1",
        skip_waiting: self[:skip_waiting] == "1",
        retest: self[:retest]
      }
    end

    private

    def check
      need(:name, "Give the policy a name.", most: 60)
      SECTIONS.each { |name| decimal(:"w_#{name}", 0..100, "Enter the weight of #{name} from 0 to 100, like 25.") }
      @errors[:w_procedure] ||= "Some weight must be above 0." if SECTIONS.sum { |name| number(:"w_#{name}").to_f } <=
        0
      decimal(:pass_mark, 0..100, "Enter the pass mark from 0 to 100, like 80.")
      decimal(:tolerance_psid, 0..2, "Enter the tolerance in psid, like 0.2.")
      unless self[:time_limit_min].empty?
        whole(:time_limit_min, 1..480, "Enter the time in whole minutes, like 45, or leave it empty for no limit.")
      end
      @errors[:retest] = "Choose whether there is a second attempt." unless Nurv::Grading::Policy::RETESTS.include?(
        self[:retest].to_sym
      )
      fit_the_schema if @errors.empty?
    end

    # The net under the sentences above: what a policy is held to wherever it comes from.
    def fit_the_schema
      found = Nurv::Grading::Policy.problems_of(Nurv::Facts.of(data))
      @errors[:name] = "This cannot be kept: #{found.map(&:first).join(", ")}." if found.any?
    end
  end
end
