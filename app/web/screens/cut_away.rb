# frozen_string_literal: true

module Web
  # The inside of an assembly as a section, on the grid of its drawing: where each part lies, and how it stands now.
  # What moves it was worked out in the core.
  class CutAway
    # Of a check: x [Float] its middle; from, to [Symbol] chambers before and after it; dirty [Boolean]
    Check = Struct.new(:id, :x, :from, :to, :dirty, keyword_init: true)
    # Of what runs along the pipe: x of its arrow
    Flow = Struct.new(:id, :x, keyword_init: true)
    # A disc's way off its seat, and a relief valve's, in the drawing.
    TRAVEL = 14
    LIFT = 12
    # What a full tint stands for, psi.
    FULL_PSI = 80.0
    SCALE_PSI = [0, 20, 40, 60, 80].freeze

    # @param screen [BenchScreen]
    def initialize(screen)
      @screen = screen
    end

    # @return [Array<Check>]
    def checks
      @screen.assembly.edges.select { |edge| edge[:kind] == "check_valve" }.map do |edge|
        id = edge[:id].to_sym
        from, to = edge.values_at(:from, :to).map(&:to_sym)
        dirty = @screen.frames.dig(:cut, :dirty).to_a.include?(id)
        Check.new(id: id, x: @screen.along(id), from: from, to: to, dirty: dirty)
      end
    end

    # @return [Array<Flow>] beside each part that they pass
    def flows
      %i[shutoff_valve_1 check_valve_1 check_valve_2 shutoff_valve_2].filter_map do |id|
        place = @screen.assembly.drawing[id] or next
        Flow.new(id: id, x: place[:x] + (id.start_with?("check") ? 74 : 38))
      end
    end

    # @return [Float] 0..1 of a tint
    def self.tint(psi) = (psi.to_f / FULL_PSI).clamp(0.0, 1.0).round(2)

    # @return [Float] width of an arrow's stroke; 0 for what does not run
    def self.width(ml_s) = (ml_s.abs < 0.05) ? 0.0 : (1.5 + Math.log10(1.0 + ml_s.abs) * 2.2).round(1)
  end
end
