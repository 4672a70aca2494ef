# frozen_string_literal: true

module Web
  # An exam to be set up: stations or pools of them, procedures, policy, and when it opens.
  class ExamForm < PolicyForm
    # @param rows [Array<Store::Stations::Row>] this instructor's stations
    # @param zone [TZInfo::Timezone] in which times are typed
    def self.from(policy, rows, zone) = new(PolicyForm.of(policy).raw, rows, zone)

    # As a draft has it.
    def self.of(exam, rows, zone)
      list = exam.station_list
      new(
        {
          **PolicyForm.of(exam.policy).raw,
          "title" => exam.title,
          "seed" => exam.seed.to_s,
          "shuffled" => exam.shuffled ? "1" : "",
          "varied" => exam.varied? ? "1" : "",
          "stations" => list.map { |item| item[:station_id].to_s },
          "procedures" => list.flat_map { |item| Array(item[:limited]) }.uniq,
          "opens_at" => exam.opens_at ? zone.to_local(exam.opens_at.to_time.utc).strftime("%Y-%m-%dT%H:%M") : "",
          **list.to_h { |item| ["pool_#{item[:station_id]}", item[:pool].to_s] }
        },
        rows,
        zone
      )
    end

    attr_reader :rows

    def initialize(raw, rows, zone)
      super(raw)
      @rows = rows
      @usual_zone = zone
    end

    # The zone in which the opening time is typed: it is asked for beside it.
    #
    # @return [TZInfo::Timezone, nil] nil for one that there is not
    def zone
      return @usual_zone if self[:time_zone].empty?

      TZInfo::Timezone.get(self[:time_zone])
    rescue TZInfo::InvalidTimezoneIdentifier
      nil
    end

    # Plate, serial, pressure and springs are drawn for each trainee at stations that are the same for all otherwise.
    def varied? = self[:varied] == "1"

    def chosen?(row) = list(:stations).include?(row.id.to_s)

    # Stations in the order of the list; those of one pool stand together at the place of its first.
    #
    # @return [Array<Hash>] station_id, title, body, pool, and the procedures it was limited to
    def stations
      chosen =
        rows
          .select { |row| chosen?(row) }
          .map do |row|
            {
              station_id: row.id,
              title: row.title,
              body: body(row),
              pool: self["pool_#{row.id}"].upcase[0],
              limited: procedures.empty? ? nil : procedures
            }.compact
          end
      chosen.group_by { |item| item[:pool] || item[:station_id] }.values.flatten
    end

    def procedures = list(:procedures)

    def shuffled? = self[:shuffled] == "1"

    def seed = @seed ||= self[:seed].empty? ? rand(1..999_999) : Integer(self[:seed], 10, exception: false)

    # @return [Time, nil] in UTC; nil where it is opened by hand
    def opens_at
      return if self[:opens_at].empty? || zone.nil?

      local = self[:opens_at].match(/\A(\d{4})-(\d\d)-(\d\d)[T ](\d\d):(\d\d)\z/) or return
      # Of an hour that comes twice, the first.
      zone.local_to_utc(Time.utc(*local.captures.map(&:to_i)), true)
    rescue TZInfo::PeriodNotFound, ArgumentError
      nil
    end

    private

    # Only the procedures allowed in this exam, where a station has one of them.
    def body(row)
      station = procedures.empty? ? row.station : row.station.limited_to(procedures)
      station = station.varied if varied?
      station.equal?(row.station) ? row.body : station.to_yaml
    end

    def check
      super
      need(:title, "Give the exam a title, like Spring certification.", most: 80)
      @errors[:stations] = "Choose at least one station." if rows.none? { |row| chosen?(row) }
      unless seed&.between?(
        1,
        999_999
      )
        @errors[
          :seed
        ] = "Enter the seed as a whole number from 1 to 999999, like 7, or leave it empty."
      end
      @errors[:time_zone] = "Enter a time zone as Area/City, such as Atlantic/Azores, or UTC." if zone.nil?
      @errors[:opens_at] = "Enter day and time like 2026-05-04 08:30, or leave it empty to open it by hand." if !self[
        :opens_at
      ].empty? && opens_at.nil?
    end
  end
end
