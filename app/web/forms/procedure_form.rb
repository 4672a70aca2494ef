# frozen_string_literal: true

module Web
  # A procedure as an instructor adopts it: settings switched, numbers, words and marks changed, steps moved, left out
  # and added.
  class ProcedureForm < Form
    # Lines for steps of one's own.
    OWN = 5
    MOST_LETTERS = 200
    # Preliminaries to pick from, and by what a bench shows those that it can.
    PRELIMINARIES = {
      "Caps off, threads clean" => "caps_off",
      "Caps back on" => "caps_on",
      "Stored values cleared" => "nothing_stored",
      "Adapters on the test cocks" => nil,
      "Washers in the hoses" => nil,
      "Bucket under what will run" => nil,
      "Kit hung up" => nil,
      "Tools that fit the cocks" => nil,
      "Canopy screws out" => nil,
      "Hang the tag" => nil
    }.freeze

    # What a bench can see of a step of one's own.
    SHOWN = {
      "caps_off" => "seen: caps off",
      "caps_on" => "seen: caps on",
      "nothing_stored" => "seen: stored values cleared"
    }.freeze

    # @param procedure [Nurv::Procedures::Procedure] as it ships
    # @param current [Hash] the overlay as it is now
    # @param words [Nurv::Words] in which what contradicts itself is said
    def self.of(procedure, current, words)
      adopted = procedure.adjusted(current)
      raw = {"label" => adopted.label}
      raw = raw.merge("order" => order_of(procedure, current).join(" "), "moved" => "1") if current.key?(:order)
      raw["diagnosis_only"] = "1" if adopted.diagnosis_only?
      raw.merge!(settings_of(adopted), numbers_of(procedure, adopted, current))
      raw.merge!(steps_of(procedure, current), own_of(current))
      new(raw, procedure, words)
    end

    def self.order_of(procedure, current)
      adopted = procedure.adjusted(current).steps.map(&:id)
      (adopted & procedure.usual_steps) + (procedure.usual_steps - adopted)
    end

    def self.settings_of(adopted) =
      adopted.settings.to_h { |setting| ["setting_#{setting.id}", adopted.way(setting).id.to_s] }

    def self.numbers_of(procedure, adopted, current)
      limits = procedure.usual_limits.to_h { |item, _| ["limit_#{item}", adopted.items[item]&.at_least.to_s] }
      waits =
        procedure.items.values.select(&:reading?).to_h do |item|
          ["wait_#{item.id}", current.dig(:not_before_s, item.id).to_s]
        end
      limits.merge(waits, "buffer" => adopted.buffer&.fetch(:warn_below_psid).to_s)
    end

    def self.steps_of(procedure, current)
      shown = procedure.adjusted(current.except(:left_out)).steps.reject(&:own?)
      shown.each_with_object({}) do |step, raw|
        raw["points_#{step.id}"] = step.points.to_s
        raw["critical_#{step.id}"] = "1" if step.critical?
        raw["title_#{step.id}"] = step.title
        raw["aid_#{step.id}"] = step.aid.to_s
        raw["asked_#{step.id}"] = "1" unless current.fetch(:left_out, []).include?(step.id.to_s)
      end
    end

    def self.own_of(current)
      current.fetch(:own_steps, []).each_with_index.with_object({}) do |(own, index), raw|
        raw["own_title_#{index}"] = own[:title]
        raw["own_points_#{index}"] = own.fetch(:points, 3).to_s
        raw["own_after_#{index}"] = own[:after].to_s
        raw["own_critical_#{index}"] = "1" if own[:critical]
        raw["own_shown_#{index}"] = own[:shown_by].to_s
      end
    end
    private_class_method :order_of, :settings_of, :numbers_of, :steps_of, :own_of

    def initialize(raw, procedure, words)
      super(raw)
      @procedure = procedure
      @words = words
    end

    # @return [Array<Symbol>] the steps that ship, in the order that is wanted: that of the settings, until somebody
    #   moves one
    def order
      return usual_order unless moved?

      named = self[:order].split.map(&:to_sym) & @procedure.usual_steps
      named + (@procedure.usual_steps - named)
    end

    def moved? = self[:moved] == "1"

    # @param step [Nurv::Procedures::Step] as the settings have it
    # @return [String] what is typed for it, or its own title, which goes with the settings
    def title_of(step)
      typed = self["title_#{step.id}"]
      (typed.empty? || typed == @procedure.step(step.id).title) ? step.title : typed
    end

    # @return [Integer] lines for own steps: those that are filled, and one
    def own_lines = [(0...OWN).count { |index| !self["own_title_#{index}"].empty? } + 1, OWN].min

    # Moves a step one place up or down.
    #
    # @param where [String] like "up:flush"
    def move(where)
      way, id = where.split(":")
      list = order
      at = list.index(id&.to_sym) or return
      to = at + ((way == "up") ? -1 : 1)
      return unless to.between?(0, list.size - 1)

      list[at], list[to] = list[to], list[at]
      @raw = @raw.to_h.merge("order" => list.join(" "), "moved" => "1")
    end

    # @return [Hash] only what differs from the shipped procedure
    def overlay
      changes.reject { |_, value| value.nil? || (value.respond_to?(:empty?) && value.empty?) }
    end

    # @return [Nurv::Procedures::Procedure] as adopted
    # @raise [Nurv::DataError] where it contradicts itself
    def adopted = @procedure.adjusted(Nurv::Facts.of(overlay))

    # @return [Nurv::Procedures::Procedure] with its settings alone: what it says where nothing else is typed
    def switched = @switched ||= @procedure.adjusted(Nurv::Facts.of({settings: settings}))

    private

    def changes =
      {
        label: (self[:label] == @procedure.label) ? nil : self[:label],
        diagnosis_only: (diagnosis_only? == @procedure.diagnosis_only?) ? nil : diagnosis_only?,
        settings: settings,
        limits: limits,
        points: points,
        critical: critical,
        words: words,
        left_out: left_out,
        order: (order == usual_order) ? nil : order.map(&:to_s),
        not_before_s: waits,
        buffer_psid: buffer,
        own_steps: own_steps
      }

    def diagnosis_only? = self[:diagnosis_only] == "1"

    def settings =
      @procedure.settings.to_h { |setting| [setting.id, setting.choice(self["setting_#{setting.id}"])] }
        .reject { |id, choice| choice == @procedure.settings.find { |one| one.id == id }.usual }
        .transform_values { |choice| choice.id.to_s }

    def usual_order
      ids = switched.steps.map(&:id)
      ids + (@procedure.usual_steps - ids)
    end

    def limits =
      @procedure.usual_limits.to_h { |item, _| [item, number(:"limit_#{item}").to_f] }
        .reject { |item, value| value == @procedure.usual_limits[item] }

    def steps = @procedure.steps

    def points =
      steps.to_h { |step| [step.id, self["points_#{step.id}"].to_i] }
        .reject { |id, value| value == @procedure.step(id).points }

    def critical =
      steps.to_h { |step| [step.id, self["critical_#{step.id}"] == "1"] }
        .reject { |id, value| value == @procedure.step(id).critical? }

    def words
      steps.each_with_object({}) do |step, changed|
        title, aid = self["title_#{step.id}"], self["aid_#{step.id}"]
        shown = switched.step(step.id)&.title || step.title
        texts = {title: title, aid: aid}.reject { |_, text| text.empty? }
        texts.delete(:title) if [shown, step.title].include?(title)
        changed[step.id] = texts if texts.any?
      end
    end

    def left_out = steps.map(&:id).reject { |id| self["asked_#{id}"] == "1" }.map(&:to_s)

    def waits =
      @procedure.items.values.select(&:reading?).filter_map { |item|
        seconds = number(:"wait_#{item.id}")
        [item.id, seconds] if seconds
      }.to_h

    def buffer
      usual = @procedure.buffer or return
      wanted = number(:buffer)
      wanted if wanted && wanted != usual[:warn_below_psid]
    end

    def own_steps
      (0...OWN).filter_map do |index|
        title = self["own_title_#{index}"]
        next if title.empty?

        after = self["own_after_#{index}"]
        {
          id: "#{title.downcase.gsub(/[^a-z0-9]+/, "_").slice(0, 40)}_#{index + 1}".squeeze("_").delete_prefix("_"),
          title: title,
          points: self["own_points_#{index}"].to_i,
          critical: self["own_critical_#{index}"] == "1",
          shown_by: shown_by(index),
          after: after.empty? ? nil : after
        }.compact
      end
    end

    # What the bench sees of it: as chosen, or as goes with a title that is picked.
    def shown_by(index)
      chosen = self["own_shown_#{index}"]
      SHOWN.key?(chosen) ? chosen : PRELIMINARIES[self["own_title_#{index}"]]
    end

    def check
      need(:label, "Give the procedure the name your authority has for it.", most: 80)
      @procedure.usual_limits.each_key do |item|
        decimal(:"limit_#{item}", 0.1..15, "Enter the limit in psid, like 5.0.")
      end
      steps.each { |step| whole(:"points_#{step.id}", 0..50, "Enter points from 0 to 50.") }
      steps.each { |step| check_words(step) }
      check_waits
      check_own
      check_adopted if @errors.empty?
    end

    def check_words(step)
      %w[title aid].each do |kind|
        name = :"#{kind}_#{step.id}"
        next if self[name].size <= MOST_LETTERS

        @errors[name] = "Keep titles and memory aids under #{MOST_LETTERS} characters."
      end
    end

    def check_waits
      names = @procedure.items.values.select(&:reading?).map { |item| :"wait_#{item.id}" }
      names.reject { |name| self[name].empty? }.each do |name|
        decimal(name, 0..600, "Enter seconds from 0 to 600, or nothing.")
      end
      decimal(:buffer, 0..15, "Enter the buffer in psid, like 3.0.") unless self[:buffer].empty?
    end

    def check_own
      (0...OWN).reject { |index| self["own_title_#{index}"].empty? }.each do |index|
        need(:"own_title_#{index}", "Say in a few words what is to be done.", most: 80)
        whole(:"own_points_#{index}", 0..50, "Enter points from 0 to 50.")
      end
    end

    # What contradicts itself is said with its place.
    def check_adopted
      adopted
    rescue Nurv::DataError => error
      about = Nurv::Words::About.new(procedure: @procedure, repairs: {})
      @errors[:adopted] = error.problems.map { |place, what| sentence(place, what, about) }.join(" ")
    end

    def sentence(place, what, about)
      step = @procedure.step(place.delete_prefix("step ").to_sym)
      "#{step ? "“#{step.title}”" : place} #{@words.tell(what, about)}."
    end
  end
end
