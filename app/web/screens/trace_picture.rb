# frozen_string_literal: true

module Web
  # A needle against time as a drawing, with what is worth pressing on it.
  class TracePicture
    WIDTH = 1000
    HEIGHT = 120
    # What the gauge shows at most and least, psid.
    TOP_PSID = Nurv::Hydraulics::Gauge::TOP_PSID
    BOTTOM_PSID = Nurv::Hydraulics::Gauge::BOTTOM_PSID
    # ms; x; kind [Symbol] :mistake or :reading; words [String]
    Mark = Struct.new(:ms, :x, :kind, :words, keyword_init: true)

    attr_reader :points

    # @param points [Array<Array(Integer, Float)>] ms and psid of the tester's needle
    # @param expert [Array<Array(Integer, Float)>] of the correct tester's
    # @param lines [Array<Nurv::Words::ToldLine>] of the grade
    # @param log [Nurv::Bench::Log]
    def initialize(points, expert, lines, log)
      @points = points
      @expert = expert
      @lines = lines
      @log = log
    end

    def end_ms = [@log.last_ms, 1].max

    # @return [String] points of a polyline
    def own = polyline(@points)

    # @return [String]
    def expert = polyline(@expert)

    # @return [Array<Mark>] what was read, and what was lost
    def marks
      readings = @log.of(:jot).map { |act| mark(act.at_ms, :reading, "Jotted #{act[:value]}") }
      lost = @lines.select { |line| line.lost? && line.at_s && line.mistake }
      readings + lost.map { |line| mark((line.at_s * 1000).round, :mistake, "#{line.title}: #{line.mistake_name}") }
    end

    # @return [Array<Array(Integer, Float)>] psid and where it lies, for lines across
    def grid = [0, 5, 10, 15].map { |psid| [psid, y(psid)] }

    # @return [Float] where a moment lies
    def x(ms) = (ms * WIDTH / end_ms.to_f).round(1)

    def y(psid) = (HEIGHT * (TOP_PSID - psid) / (TOP_PSID - BOTTOM_PSID)).round(1)

    private

    def mark(ms, kind, words) = Mark.new(ms: ms, x: x(ms), kind: kind, words: "#{clock(ms)} #{words}")

    def clock(ms) = Nurv::Units.clock(ms / 1000.0)

    def polyline(points) = points.map { |ms, psid| "#{x(ms)},#{y(psid)}" }.join(" ")
  end
end
