# frozen_string_literal: true

require "support/web"
require "zlib"

# Whatever comes in is taken, or refused with a sentence and its place. Nothing in between.
RSpec.describe "What cannot be" do
  let(:odd) do
    [
      nil,
      true,
      5,
      -1,
      0.5,
      1.0e300,
      Float::NAN,
      Float::INFINITY,
      "",
      "x",
      "x" * 3_000,
      [],
      [1],
      ["x"],
      [nil],
      [[]],
      {},
      {from: 1, to: 2},
      {from: 2, to: 1},
      {from: "a", to: []},
      {x: 1}
    ]
  end

  def data_of(id) = SHIPPED.demo_stations.find { |item| item.id == id }.data

  # Every place in some data, as lists of keys.
  def places(data, here = [])
    inner =
      case data
      when Hash
        data.flat_map { |key, value| places(value, here + [key]) }
      when Array
        data.each_with_index.flat_map { |value, index| places(value, here + [index]) }
      else
        []
      end
    here.empty? ? inner : [here] + inner
  end

  def put(data, place, value)
    return value if place.empty?

    copy = data.dup
    copy[place.first] = put(copy[place.first], place.drop(1), value)
    copy
  end

  def without(data, place)
    *outer, last = place
    inner = outer.reduce(data) { |part, key| part[key] }
    put(
      data,
      outer,
      (
        if inner.is_a?(Array)
          inner.reject.with_index { |_, index| index == last }
        else
          inner.reject { |key, _| key == last }
        end
      )
    )
  end

  it "is refused in a station with its place, or opens as a bench" do
    tried = refused = 0
    %i[rp_drawn rp_tap pvb_pair dc_masked]
      .map { |id| data_of(id) }
      .each do |data|
        data =
          data.merge(
            debris: ["test_cock_2"],
            meter: {
              number: "1",
              reading: "2"
            },
            kit:
              data[:kit].merge(
                cracked_open: {
                  high_bleed: 0.1
                },
                height_in: 4,
                strainer_at_kit: ["high"],
                zero_error_psid: 0.1
              )
          )
        data[:kit][:cracked_open] = {low_bleed: 0.1} unless SHIPPED
          .kits
          .fetch(data[:kit][:id].to_sym)
          .valves
          .key?(:high_bleed)
        places(data).each do |place|
          (odd + [:gone]).each do |value|
            bent = (value == :gone) ? without(data, place) : put(data, place, value)
            tried += 1
            frozen = Nurv::Facts.of(bent)
            problems = Nurv::Stations::Check.new(frozen, SHIPPED).problems
            refused += 1 if problems.any?
            expect(SHIPPED.words.problems(problems)).to all(match([/\A[a-z]/, /\w+ \w+/]))
            next if problems.any?

            made = Nurv::Stations::Station.new(frozen, SHIPPED)
            variant = Nurv::Stations::Variant.new(made, 3)
            [made.title, made.findings, made.public_name, variant.pressure_psi, variant.edge_settings, made.to_yaml]
            Nurv::Bench::Opening.new(variant) if value.is_a?(Numeric)
          end
        end
      end
    expect(tried).to be > 3_000
    expect(refused).to be_between(tried * 0.6, tried - 50)
  end

  {
    "size_in: {from: 1, to: 2}" => /size_in/,
    "findings: text" => /findings/,
    "debris: text" => /debris/,
    "springs_psid: 5" => /springs_psid/,
    "id: 5" => /id/,
    "line: {pressure_psi: .inf}" => /line.pressure_psi/,
    "kit: 5" => /kit/,
    "5: x" => /5/,
    "faults: [{id: check_valve_1_fouled, severity: gross, sevrity: x}]" => /sevrity/
  }.each do |line, place|
    it "says where a station with “#{line}” is wrong" do
      key = line[/\A[^:]+/]
      text =
        YAML.dump(JSON.parse(JSON.generate(data_of(:bottle_rinser).reject { |name, _| name.to_s == key }))) + line
      expect { Nurv::Stations::Station.parse(text, SHIPPED) }.to raise_error(Nurv::DataError, place)
    end
  end

  it "is not parsed for long: what nests too deep or is too large is refused at once" do
    [
      "[" * 30_000,
      "a: " + "[" * 20_000,
      "{" * 40 + "}" * 40,
      "- " * 20_000,
      (0..300).map { |depth| "#{"  " * depth}a:" }.join("\n"),
      "x" * 100_000,
      "a: \0",
      "a: \xFF"
    ].each do |text|
      began = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)
      expect { Nurv::Stations::Station.parse(text, SHIPPED) }.to raise_error(Nurv::DataError)
      expect(Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID) - began).to be < 2.0
    end
  end

  it "is refused in a log line by line" do
    {
      "5" => /line 1/,
      "null" => /line 1/,
      "[]" => /line 1/,
      '{"kind":"turn","valve":"test_cock_1","to":1.0,"at_ms":1000000000000}' => /within the day/,
      '{"kind":"level","to":1e999,"at_ms":5}' => /no number/,
      '{"kind":"jot","item":"x","value":["a"],"at_ms":5}' => /text or a number/,
      "{\"kind\":\"jot\",\"item\":\"x\",\"value\":\"#{"a" * 3_000}\",\"at_ms\":5}" => /under 2000/,
      '{"kind":"submit","at_ms":5,"extra":1}' => /does not say extra/,
      '{"kind":{},"at_ms":5}' => /line 1/,
      '{"kind":"submit","at_ms":5,"id":7}' => /number is text/
    }.each do |line, message|
      expect { Nurv::Bench::Log.parse(line) }.to be_bad_data(message), line
    end
  end

  it "leaves a bench as it was, whatever an act says" do
    random = Random.new(5)
    bench = tester
    kinds = Nurv::Bench::Action::KINDS.keys - Nurv::Bench::Action::INSTRUCTORS - [:submit]
    before = Nurv::Bench::Snapshot.dump(bench.span.state)
    names =
      %w[test_cock_1 high low plate gauge occupant shutdown sight_tube on off kit free near x] + ["", "💧", "valve_a"]
    1_500.times do |number|
      kind = kinds.sample(random: random)
      fields =
        (Nurv::Bench::Action::KINDS[kind] + %i[speed end]).to_h do |field|
          [field, [names.sample(random: random), random.rand, -1, nil, true].sample(random: random)]
        end
      action =
        Nurv::Bench::Action.new(
          {kind: kind.to_s, at_ms: (bench.span.from_s * 1000).round + 5, id: "f#{number}", **fields}
        )
      bench.span.after(action)
    rescue Nurv::RefusedAction => error
      expect(SHIPPED.words.error(error)).to match(/\A.+\.\z/m)
    end
    expect(Nurv::Bench::Snapshot.dump(bench.span.state)).to eq(before)
  end

  it "is named in a policy" do
    data = SHIPPED.policies.fetch(:standard).data
    {
      weights: {},
      pass_mark: "x",
      tolerance_psid: Float::INFINITY.to_s,
      fail_outright: ["nonsense"],
      time_limit_min: -5,
      retest: "maybe",
      procedures: [],
      surprise: 1
    }.each do |key, value|
      expect { Nurv::Grading::Policy.parse(JSON.generate(data.merge(key => value))) }.to be_bad_data(/#{key}/)
    end
    ["", "5", "null", "[]", "{}"].each do |text|
      expect { Nurv::Grading::Policy.parse(text) }.to raise_error(Nurv::DataError), text
    end
  end

  it "is not dropped in a procedure: a typing error in a key is an error" do
    text = File.read(File.join(Nurv::Catalog::ROOT, "procedures/r1.yml"))
    read = ->(bent) { SHIPPED.with(procedures: [Nurv::Facts.parse(bent, "r1.yml")]).procedures.fetch(:r1) }
    expect(read.call(text).title).to eq(SHIPPED.procedures.fetch(:r1).title)
    expect { read.call(text.sub("critical: true", "critcal: true")) }.to be_bad_data(/critcal/)
    expect { read.call(text.sub("at_least:", "atleast:")) }.to be_bad_data(/atleast/)
    expect { read.call("#{text}\nlimts: {}\n") }.to be_bad_data(/limts/)
  end

  it "still sees a gauge off its zero where the kit's label says no date" do
    data = data_of(:bottle_rinser)
    bent = Nurv::Facts.of(data.merge(kit: data[:kit].except(:checked_on).merge(zero_error_psid: 0.6)))
    expect(Nurv::Stations::Station.new(bent, SHIPPED).findings.map(&:id)).to eq([:gauge_off_zero])
  end
end

RSpec.describe "Odd requests", :web do
  include Requests

  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }

  it "are 400, 413 or 414, or answered as if nothing odd were in them, and never 500" do
    attempt = begin_attempt(instructor, trainee)
    course = make_class(instructor, trainee)
    sign_in("ines")
    token = @token
    posts = [
      "/classes",
      "/classes/#{course.id}/roster",
      "/classes/#{course.id}/exams",
      "/classes/#{course.id}/practice",
      "/stations/preview",
      "/stations/import",
      "/settings",
      "/settings/policies",
      "/settings/accounts",
      "/settings/procedures/r1",
      "/sign-in",
      "/attempts/#{attempt.id}/actions",
      "/classes/import",
      "/proctor",
      "/classes/#{course.id}/members/#{trainee.id}/rename"
    ]
    bodies = [
      "a[]=1&a[b]=1",
      "a=%FF",
      "name=%C3%28",
      "%FF=1",
      (0..5_000).map { |number| "f#{number}=1" }.join("&"),
      "a#{"[x]" * 200}=1",
      "name[]=1&name[]=2",
      "name[a]=1",
      "login[a]=1&password[]=2&code[]=3",
      "stations=5&stations[]=1",
      "kind[]=turn&action_id[]=1",
      "seq[]=1&seen_ms[a]=2&kind=turn&action_id=1",
      "policy=1&w_procedure[]=1",
      "roster[]=x",
      "file=text",
      "archive=text",
      "archive[tempfile]=x",
      "file[tempfile]=x&file[filename]=y",
      "x" * 600_000,
      "name=\0"
    ]
    posts
      .product(bodies)
      .each do |path, body|
        post path, body, "HTTP_X_CSRF_TOKEN" => token, "CONTENT_TYPE" => "application/x-www-form-urlencoded"
        expect(last_response.status).to be < 500, "#{path} #{body[0, 40]}: #{last_response.status}"
      end
    [
      "/%FF",
      "/attempts/%C3%28/bench",
      "/classes/99999999999999999999",
      "/stations?q=%FF",
      "/stations?q[]=1",
      "/stations?q[a]=1",
      "/classes/#{course.id}/gradebook?page=-1&sort[]=x&state[a]=1",
      "/grading?ids=a.b.99999999999999999999",
      "/jobs/x",
      "/attempts/#{attempt.id}/frames?seq[]=1",
      "/c/#{"Z" * 500}",
      "/settings/audit?page=-5",
      "/settings/audit?page[]=1",
      "/lab?supply[]=1",
      "/reference?procedure[]=1",
      "/stations/new?assembly[]=rp",
      "/x" * 3_000
    ].each do |path|
      get path
      expect(last_response.status).to be < 500, "#{path[0, 60]}: #{last_response.status}"
    end
    expect(stores.attempts.find(attempt.id).last_seq).to eq(0)
  end

  it "that break off in the middle of a file are refused" do
    sign_in("ines")
    [
      "--x\r\nContent-Disposition: form-data; name=\"archive\"; filename=\"a\"\r\n\r\nabc",
      "--x",
      "no boundary"
    ].each do |body|
      post "/classes/import", body, "HTTP_X_CSRF_TOKEN" => @token, "CONTENT_TYPE" => "multipart/form-data; boundary=x"
      expect(last_response.status).to be_between(400, 422)
    end
  end

  it "cannot fill a page or a log: a note is short, and an act has a number" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    post "/attempts/#{attempt.id}/actions",
      {kind: "jot", item: "check_valve_1_apparent", value: "8" * 20_000, action_id: "a", seq: 0, seen_ms: 0},
      "HTTP_X_CSRF_TOKEN" => @token
    expect(last_response.body).to include("under 2000 characters")
    expect(stores.attempts.find(attempt.id).last_seq).to eq(0)
    post "/attempts/#{attempt.id}/actions",
      {kind: "jot", item: "x", value: "8" * 600_000, action_id: "a", seq: 0, seen_ms: 0},
      "HTTP_X_CSRF_TOKEN" => @token
    expect(last_response.status).to eq(413)
  end

  it "of an archive that unpacks to much are refused while it is unpacked" do
    io = StringIO.new("".b)
    Zlib::GzipWriter.wrap(io) do |gzip|
      Gem::Package::TarWriter.new(gzip) do |tar|
        tar.add_file_simple("class.json", 0o644, 300 * 1024 * 1024) do |file|
          300.times { file.write("\0" * 1024 * 1024) }
        end
      end
      gzip.finish
    end
    expect(io.string.bytesize).to be < 1_000_000
    before = File.read("/proc/self/status")[/VmHWM:\s+(\d+)/, 1].to_i
    expect { stores.archive.unpack(instructor, StringIO.new(io.string)) }.to raise_error(
      Store::Archive::BadArchive,
      /too much/
    )
    expect(File.read("/proc/self/status")[/VmHWM:\s+(\d+)/, 1].to_i - before).to be < 60_000
  end

  it "leave one damaged attempt out of every list, and say which" do
    good = handed_in_attempt
    [
      {policy: "nobody-knows", policy_body: nil},
      {policy_body: "{\"weights\":5}"},
      {station_body: "assembly: xx"},
      {station_body: "[[["}
    ].each { |damage| DB[:attempts].where(id: handed_in_attempt.id).update(damage) }
    course = make_class(instructor, trainee)
    DB[:attempts].update(class_id: course.id)
    damaged = DB[:attempts].exclude(id: good.id).select_map(:id)
    sign_in("ines")
    expect(
      warnings do
        ["/review", "/classes/#{course.id}/gradebook", "/classes/#{course.id}/items", "/today"].each do |path|
          expect(get(path).status).to eq(200), path
        end
      end
    ).to include("attempt #{damaged.first}")
    expect(html).to include("attempts #{damaged.join(", ")} cannot be read")
    warnings { damaged.each { |id| expect(get("/attempts/#{id}/result").status).to eq(410) } }
    expect(get("/attempts/#{good.id}/result").status).to eq(200)
  end

  it "for a grade that cannot be worked out are told so, and wait for nothing" do
    attempt = handed_in_attempt
    DB[:events].where(attempt_id: attempt.id).update(
      body: JSON.generate(kind: "turn", valve: "magic_valve", to: 1.0, at_ms: 10, id: "s")
    )
    DB[:grades].delete
    sign_in("ines")
    get "/attempts/#{attempt.id}/result"
    expect(get("/attempts/#{attempt.id}/result").body).to include("could not be graded (act at 10 ms (turn): ")
    expect(get("/review").body).to satisfy { |body| !body.include?("work-bar") }
  end

  it "bring a bench back from its log where its snapshot is damaged" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    post "/attempts/#{attempt.id}/actions",
      {kind: "turn", valve: "test_cock_4", to: "1.0", action_id: "a", seq: 0, seen_ms: 0},
      "HTTP_X_CSRF_TOKEN" => @token
    ["{", "5", "{}", "null", "{\"water\":5}"].each do |text|
      DB[:snapshots].update(body: text)
      keeper.forget_all
      warnings do
        expect(get("/attempts/#{attempt.id}/bench").body).to include("TC4, open").and include('data-seq="1"')
      end
    end
  end

  def handed_in_attempt
    begin_attempt(instructor, trainee).tap do |attempt|
      keeper.of(attempt).act(
        attempt,
        {kind: "submit"},
        id: "s",
        known_seq: 0,
        seen_ms: 0,
        wall_ms: wall_ms
      )
    end
  end

  # @return [String] what was written to the server's log meanwhile
  def warnings
    kept = $stderr
    $stderr = StringIO.new
    yield
    $stderr.string
  ensure
    $stderr = kept
  end
end
