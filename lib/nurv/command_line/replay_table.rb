# frozen_string_literal: true

require "csv"

module Nurv
  class CommandLine
    # A replay as a table.
    class ReplayTable
      # @param replay [Bench::Replay]
      # @param every_s [Float] simulated seconds from row to row
      def initialize(replay, every_s)
        @replay = replay
        @every_s = every_s
      end

      # @return [Array<Hash>] time_s [Float], reading_psid [Float, nil] nil while a digital face shows nothing, and
      #   outlets [String]
      def rows
        0.0
          .step(@replay.end_s, @every_s)
          .map do |time|
            span = @replay.span_at(time)
            wet = span.outlets_at(time).select { |_, flow| flow >= Bench::Flow::LEAST[:drip] }
            {
              time_s: time.round(3),
              reading_psid: span.shown_at(time)&.round(3),
              outlets: wet.map { |outlet, flow| "#{outlet}:#{Bench::Flow.seen(flow)}" }.join(" ")
            }
          end
      end

      # @return [String] the rows as a JSON array
      def to_json(*) = JSON.pretty_generate(rows)

      # @return [String] the rows with a head
      def to_csv
        CSV.generate do |csv|
          csv << %w[time_s reading_psid outlets]
          rows.each { |row| csv << row.values }
        end
      end
    end
  end
end
