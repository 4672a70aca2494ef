# frozen_string_literal: true

module Web
  # An exam to be set up: stations or pools of them, procedures, policy.
  class ExamForm < PolicyForm
    # @param rows [Array<Store::Stations::Row>] this instructor's stations
    def self.from(policy, rows) = new(PolicyForm.of(policy).raw, rows)

    attr_reader :rows

    def initialize(raw, rows)
      super(raw)
      @rows = rows
    end

    def chosen?(row) = list(:stations).include?(row.id.to_s)

    # Stations in the order of the list; those of one pool stand together at the place of its first.
    #
    # @return [Array<Hash>] station_id, title, body, pool
    def stations
      chosen = rows.select { |row| chosen?(row) }.map do |row|
        {station_id: row.id, title: row.title, body: body(row), pool: self["pool_#{row.id}"].upcase[0]}
      end
      chosen.group_by { |item| item[:pool] || item[:station_id] }.values.flatten
    end

    def procedures = list(:procedures)

    def shuffled? = self[:shuffled] == "1"

    def seed = @seed ||= self[:seed].empty? ? rand(1..999_999) : Integer(self[:seed], 10, exception: false)

    private

    # Only the procedures allowed in this exam, where a station has one of them.
    def body(row) = procedures.empty? ? row.body : row.station.limited_to(procedures).to_yaml

    def check
      super
      need(:title, "Give the exam a title, like Spring certification.", most: 80)
      @errors[:stations] = "Choose at least one station." if rows.none? { |row| chosen?(row) }
      @errors[:seed] = "Enter the seed as a whole number, like 7, or leave it empty." unless seed
    end
  end
end
