# frozen_string_literal: true

require "support/web"

RSpec.describe Store::Status, :web do
  let(:attempt) { make_attempt(make_instructor, make_trainee) }
  let(:rows) { DB[:attempts].where(id: attempt.id) }

  it "moves what stands there and nothing else" do
    go = ->(from, to) { described_class::ATTEMPT.move(rows, from: from, to: to) }
    expect(go.call("started", "submitted")).to eq(0)
    expect(rows.get(:status)).to eq("assigned")
    expect([go.call("assigned", "started"), go.call("started", "submitted")]).to eq([1, 1])
    expect(go.call("assigned", "absent")).to eq(0)
    expect(rows.get(:status)).to eq("submitted")
  end

  it "lets nothing go a way that is none: no grade is public before it is handed in, no closed exam opens" do
    expect { described_class::ATTEMPT.move(rows, from: "started", to: "published") }.to raise_error(ArgumentError)
    expect { described_class::ATTEMPT.move(rows, from: "absent", to: "started") }.to raise_error(ArgumentError)
    expect(described_class::EXAM.names.reject { |name| described_class::EXAM.may?("closed", name) }).to eq(
      %w[draft open paused closed]
    )
  end

  # A name that is written out elsewhere would not be found when one is added.
  it "is named nowhere else in the application" do
    names = (described_class::ATTEMPT.names + described_class::EXAM.names).uniq
    literal = /\bstatus\b[^"\n]{0,14}"(#{names.join("|")})"/
    files = Dir["app/**/*.{rb,erb}"] - Dir["app/store/migrations/*"] - ["app/store/status.rb"]
    expect(files.select { |path| File.read(path).match?(literal) }).to eq([])
  end
end
