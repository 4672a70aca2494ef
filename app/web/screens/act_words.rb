# frozen_string_literal: true

module Web
  # An act of a log in plain words.
  module ActWords
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
      words = catalog.words
      case action.kind
      when :turn then turn(action, words)
      when :connect then "#{words.hose(action.named(:hose)).capitalize} on #{words.control(action.named(:to))}"
      when :disconnect then "#{words.hose(action.named(:hose)).capitalize} taken off"
      when :look then "Looked: #{words.look(action[:at])}"
      when :tell then "Said: #{words.topic(action[:topic])}"
      when :watch then "Eyes on the #{action[:at].to_s.tr("_", " ")}"
      when :jot then "Jotted #{action[:item].to_s.tr("_", " ")}: #{action[:value]}"
      when :level then "Gauge held at #{format("%g", action[:to])} in"
      when :find then "Noted as wrong: #{words.look(action[:finding])}#{found_as(action, catalog)}"
      when :fill then "Wrote in the report"
      when :clean then "Cleaned #{words.control(action.named(:at))}"
      when :repair then "Mended #{mending(action, catalog)}"
      when :inject then "Instructor: #{trouble(action, catalog)}"
      when :mark then "Marked #{action[:step].to_s.tr("_", " ")}: #{action[:as].to_s.tr("_", " ")}"
      when :fit then "#{words.fitting(action.named(:fitting)).capitalize} on #{words.control(action.named(:to))}"
      when :unfit then "#{words.fitting(action.named(:fitting)).capitalize} taken off"
      when :canopy then "Canopy #{action[:to]}"
      when :cap then "Cap #{action[:to]} #{words.control(action.named(:at))}"
      when :adapt then "Adapter #{action[:to]} #{words.control(action.named(:at))}"
      when :tighten then "#{words.control(action.named(:valve))} tightened"
      when :power then "Gauge switched #{action[:to]}"
      when :light then "Gauge's light #{action[:to]}"
      when :keep then "Stored as #{action[:as].to_s.tr("_", " ")}"
      when :forget then "Cleared what was stored"
      when :swap_ends then "#{words.hose(action.named(:hose)).capitalize} turned end for end"
      when :tag then tagged(action, words)
      when :declare then "Said to be done: #{action[:what].to_s.delete_prefix("own_").tr("_", " ")}"
      when :submit then "Handed in"
      else action.kind.to_s.capitalize
      end
    end

    # What bears which tag, by its right name.
    def tagged(action, words)
      part = words.control(action.named(:at))
      return "Took the tag off #{part}" if action[:as].to_s.empty?
      return "Hung its tag on #{part}" if action.named(:as) == action.named(:at)

      "Hung the tag #{words.control(action.named(:as))} on #{part}"
    end

    def found_as(action, catalog) =
      catalog.findings[action.named(:as)]&.then { |finding| ", #{finding.label.downcase}" }

    def mending(action, catalog) =
      catalog.words.repairs([[action[:component], action[:action]]], catalog.repairs)

    def trouble(action, catalog)
      return "supply swings by #{format("%g", action[:swing_psi])} psi" if action[:swing_psi]
      return "demand downstream #{format("%g", action[:demand])}" if action[:demand]

      "#{catalog.faults.fetch(action.named(:fault)).label.downcase}, #{action[:severity]}"
    end

    def turn(action, words)
      valve = action.named(:valve)
      speed = {"slow" => ", slowly", "fast" => ", fast"}.fetch(action[:speed].to_s, "")
      speed = format(", in %.1f s", action[:over] / 1000.0) if action[:over]
      to = action[:to].zero? ? "closed" : position(valve, action[:to])
      "#{words.control(valve)} #{to}#{speed}"
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
