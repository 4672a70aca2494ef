# frozen_string_literal: true

module Web
  # Practice benches to be given: which stations, and to whom.
  class PracticeForm < Form
    attr_reader :rows, :members

    # @param rows [Array<Store::Stations::Row>] this instructor's stations
    # @param members [Array<Store::Users::User>] of the class
    def initialize(raw, rows, members)
      super(raw)
      @rows = rows
      @members = members
    end

    def stations = rows.select { |row| list(:stations).include?(row.id.to_s) }

    def trainees = members.select { |member| list(:trainees).include?(member.id.to_s) }

    private

    def check
      @errors[:stations] = "Choose at least one station." if stations.empty?
      @errors[:trainees] = "Choose at least one trainee." if trainees.empty?
    end
  end
end
