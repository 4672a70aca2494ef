# frozen_string_literal: true

module Web
  # An act of a log in plain words.
  module ActWords
    WORDS = Nurv::Words

    EIGHTHS = {
      0.0 => "",
      0.125 => "⅛",
      0.25 => "¼",
      0.375 => "⅜",
      0.5 => "½",
      0.625 => "⅝",
      0.75 => "¾",
      0.875 => "⅞"
    }.freeze

    module_function

    # @param action [Nurv::Bench::Action]
    # @param catalog [Nurv::Catalog] to name repairs and faults
    def of(action, catalog)
      case action.kind
      when :turn then turn(action)
      when :connect then "#{WORDS.hose(action.name(:hose)).capitalize} on #{WORDS.control(action.name(:to))}"
      when :disconnect then "#{WORDS.hose(action.name(:hose)).capitalize} taken off"
      when :look then "Looked: #{WORDS::LOOKS.fetch(action.name(:at), action[:at])}"
      when :tell then "Said: #{WORDS::TOPICS[action.name(:topic)]}"
      when :watch then "Eyes on the #{action[:at].to_s.tr("_", " ")}"
      when :jot then "Jotted #{action[:item].to_s.tr("_", " ")}: #{action[:value]}"
      when :level then "Gauge held at #{format("%g", action[:to])} in"
      when :find then "Noted as wrong: #{WORDS::LOOKS.fetch(action.name(:finding), action[:finding])}"
      when :fill then "Wrote in the report"
      when :clean then "Cleaned #{WORDS.control(action.name(:at))}"
      when :repair then "Mended #{mending(action, catalog)}"
      when :inject then "Instructor: #{trouble(action, catalog)}"
      when :mark then "Marked #{action[:step].to_s.tr("_", " ")}: #{action[:as].to_s.tr("_", " ")}"
      when :fit then "#{WORDS.fitting(action.name(:fitting)).capitalize} on #{WORDS.control(action.name(:to))}"
      when :unfit then "#{WORDS.fitting(action.name(:fitting)).capitalize} taken off"
      when :canopy then "Canopy #{action[:to]}"
      when :swap_ends then "#{WORDS.hose(action.name(:hose)).capitalize} turned end for end"
      when :submit then "Handed in"
      else action.kind.to_s.capitalize
      end
    end

    def mending(action, catalog) =
      Nurv::Equipment::Repair.words([[action[:component], action[:action]]], catalog.repairs)

    def trouble(action, catalog)
      return "supply swings by #{format("%g", action[:swing_psi])} psi" if action[:swing_psi]
      return "demand downstream #{format("%g", action[:demand])}" if action[:demand]

      "#{catalog.faults.fetch(action.name(:fault)).label.downcase}, #{action[:severity]}"
    end

    def turn(action)
      valve = action.name(:valve)
      speed = {"slow" => ", slowly", "fast" => ", fast"}.fetch(action[:speed].to_s, "")
      to = action[:to].zero? ? "closed" : position(valve, action[:to])
      "#{WORDS.control(valve)} #{to}#{speed}"
    end

    # @return [String] how far open, in the words of the trade
    def position(valve, value)
      return "closed" if value.zero?
      return "#{fraction(value)} turn#{"s" if value > 1} open" unless valve.to_s.match?(/shutoff|test_cock|tap/)

      (value >= 1.0) ? "open" : "#{(value * 100).round} % open"
    end

    def fraction(turns)
      whole, part = turns.divmod(1)
      mark = EIGHTHS[part] or return format("%.2f", turns)
      "#{whole.to_i if whole.positive? || mark.empty?}#{mark}"
    end
  end
end
