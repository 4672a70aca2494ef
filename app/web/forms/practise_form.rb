# frozen_string_literal: true

module Web
  # What a trainee wants to practise.
  class PractiseForm < Form
    DIFFICULTIES = {
      "easy" => "plain to see",
      "medium" => "takes care",
      "hard" => "hard to see, or two at a time"
    }.freeze

    # @param procedures [Array<Nurv::Procedures::Procedure>] that may be practised
    # @param faults [Array<Nurv::Equipment::Fault>] all that are known
    def initialize(raw, procedures, faults)
      super(raw)
      @procedures = procedures
      @faults = faults
    end

    # @return [Nurv::Procedures::Procedure, nil]
    def procedure = @procedures.find { |one| one.id.to_s == self[:procedure] }

    # @return [Array<Nurv::Equipment::Fault>] of an assembly
    def faults_of(assembly) = @faults.select { |fault| fault.applies_to?(assembly) }

    # @return [Benches::Practice::Wish]
    def wish =
      Benches::Practice::Wish.new(
        procedure: procedure,
        wrong: fault ? :chosen : self[:wrong].to_sym,
        fault: fault,
        difficulty: (DIFFICULTIES.keys & [self[:difficulty]]).fetch(0, "medium").to_sym,
        swings: self[:swings] == "1",
        preliminaries: self[:preliminaries] == "1"
      )

    private

    # Chosen as “fault:ID” among what may be wrong.
    def fault
      id = self[:wrong][/\Afault:(\w+)\z/, 1]
      id && faults_of(procedure&.assembly).find { |one| one.id.to_s == id }
    end

    def check
      @errors[:procedure] = "Choose a procedure." unless procedure
      return if fault || Benches::Practice::WRONG.first(2).map(&:to_s).include?(self[:wrong])

      @errors[:wrong] = "Choose what may be wrong at this assembly."
    end
  end
end
