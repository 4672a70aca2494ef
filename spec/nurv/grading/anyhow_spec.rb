# frozen_string_literal: true

# Trainees do what no list of mistakes foresees. Whatever was done, it gets a grade that holds together.
RSpec.describe "A test done anyhow" do
  stations = SHIPPED.demo_stations.reject { |station| station.line[:swing_psi].to_f.positive? || station.repairs? }

  # What has no place in a test, or none just then.
  def stray(variant, random)
    cocks = variant.station.assembly.test_cocks.keys
    valves = cocks + variant.station.kit.valves.keys + variant.station.assembly.shutoff_valves
    [
      {kind: "turn", valve: valves.sample(random: random), to: [0.0, 0.3, 1.0].sample(random: random), speed: "fast"},
      {kind: "connect", hose: variant.station.kit.hoses.keys.sample(random: random), to: cocks.sample(random: random)},
      {kind: "disconnect", hose: variant.station.kit.hoses.keys.sample(random: random)},
      {kind: "jot", item: "check_valve_1_apparent", value: random.rand(0.0..9.0).round(1).to_s},
      {kind: "watch", at: %w[gauge relief_port air_inlet].sample(random: random)},
      {kind: "level", to: random.rand(-20..20)}
    ].sample(random: random)
  end

  # An expert's acts at another pace, some left out, some with something else after them; what is refused is not done.
  def anyhow(variant, random)
    span = Nurv::Bench::Span.new(variant, Nurv::Bench::Opening.new(variant).state)
    pace = [0.4, 1.0, 1.7].sample(random: random)
    early_ms = at_ms = 0
    done = expert_actions(variant).flat_map do |act|
      at_ms += ((act[:at_ms] - early_ms) * pace).round
      early_ms = act[:at_ms]
      next [] if act[:kind] != "submit" && random.rand < 0.08

      acts = (random.rand < 0.08) ? [stray(variant, random), act] : [act]
      acts.filter_map do |one|
        action = Nurv::Bench::Action.new({**one, at_ms: at_ms += 100, id: "a#{at_ms}"})
        span = span.after(action)
        action
      rescue Nurv::RefusedAction
        nil
      end
    end
    Nurv::Bench::Log.new(done)
  end

  Sample.of(stations.each_with_index.to_a, 4).each do |station, number|
    it "is graded at #{station.id}: line by line, with words, the same from a file, and no better than done right" do
      variant = Nurv::Stations::Variant.new(station, number)
      log = anyhow(variant, Random.new(number))
      expect(log.size).to be > 20
      grade = Nurv::Grading::Grader.grade(variant, log)

      expect(grade.score).to be >= 0.0
      expect(grade.score).to be < 100.0
      expect(grade.lines.map(&:key)).to eq(grade.lines.map(&:key).uniq)
      expect(grade.lines.select { |line| line.earned > line.points }).to eq([])
      expect(grade.lines.filter_map(&:at_s)).to all(be_between(0.0, log.last_ms / 1000.0))
      expect(grade.mistakes).not_to be_empty

      told = Nurv::Words::ToldGrade.new(grade, SHIPPED).lines
      expect(told.map(&:title) + told.map(&:why)).to all(match(/\A\S.*\S\z/m))
      expect(told.map(&:why).grep(/missing|%\{|:[a-z_]+=>/)).to eq([])

      procedure = grade.procedure
      expect(Nurv::Grading::Grade.load(grade.dump, grade.policy, [procedure]).dump).to eq(grade.dump)
      read = Nurv::Bench::Log.parse(log.to_jsonl)
      expect(Nurv::Grading::Grader.grade(variant, read).dump).to eq(grade.dump)
    end
  end
end
