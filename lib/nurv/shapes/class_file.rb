# frozen_string_literal: true

module Nurv
  module Shapes
    # A class as one file: people, exams, benches and what was overridden. What stands in it as text (stations,
    # policies) has schemas of its own, and so have the logs beside it.
    ClassFile =
      Shape.define do
        moments = %i[created_at started_at submitted_at published_at]
        required(:version).value(whole?: 1..1000)
        required(:name).value(:words?)
        required(:people).array(:hash) do
          required(:id).value(whole?: 1..(10**12))
          required(:name).value(:words?)
        end
        required(:roster).value(:array).each(whole?: 1..(10**12))
        required(:exams).array(:hash) do
          required(:id).value(whole?: 1..(10**12))
          required(:title).value(:words?)
          required(:status).value(:name?)
          required(:seed).value(whole?: 0..(10**12))
          required(:policy).value(:body?)
          required(:stations).value(:body?)
          optional(:shuffled).maybe(:yes_or_no?)
          optional(:catalog).maybe(:name?)
          %i[created_at opened_at closed_at].each { |name| optional(name).maybe(:moment?) }
        end
        required(:attempts).array(:hash) do
          required(:id).value(whole?: 1..(10**12))
          required(:trainee).value(whole?: 1..(10**12))
          required(:station_body).value(:body?)
          required(:seed).value(whole?: 0..(10**12))
          required(:mode).value(:name?)
          required(:status).value(:name?)
          required(:policy).value(:name?)
          optional(:policy_body).maybe(:body?)
          optional(:exam_id).maybe(whole?: 1..(10**12))
          optional(:retest_of).maybe(whole?: 1..(10**12))
          optional(:catalog).maybe(:name?)
          optional(:comment).maybe(:body?)
          %i[position anchor_sim_ms skipped_ms extra_ms last_seq].each do |name|
            optional(name).value(whole?: (-(10**12))..(10**12))
          end
          moments.each { |name| optional(name).maybe(:moment?) }
        end
        required(:overrides).array(:hash) do
          required(:attempt_id).value(whole?: 1..(10**12))
          required(:line).value(:words?)
          required(:earned).value(within?: 0..1000)
          optional(:reason).maybe(:body?)
          optional(:at).maybe(:moment?)
        end
        optional(:catalogs).value(:by_name?)
      end
  end
end
