# frozen_string_literal: true

require "support/web"

# What a visitor without a session can send: twice as much of it is about twice the work, and no more is read than a
# page of ours sends.
RSpec.describe "Fields that anybody can send", :web do
  include Requests

  def app = Web::App

  # Runs of marks that are sorted, letters that unfold, spaces, invisible signs, and what patterns trip over.
  pieces = {
    marks: "\u0301\u0323",
    wide: "\uFDFA",
    spaces: " \u3000",
    unseen: "\u200D",
    dashes: "a-",
    quotes: "\",",
    digits: "1."
  }.freeze

  before do
    make_instructor
    make_class(make_instructor("owner"), make_trainee)
    @token = get("/sign-in").body[/name="authenticity_token" value="([^"]+)"/, 1]
  end

  # CPU seconds; the least of some, since others work beside it.
  def cpu_s(times: 3)
    Array
      .new(times) do
        DB[:tries].delete
        before = Process.clock_gettime(Process::CLOCK_THREAD_CPUTIME_ID)
        yield
        Process.clock_gettime(Process::CLOCK_THREAD_CPUTIME_ID) - before
      end
      .min
  end

  def send_fields(path, fields) = post(path, fields, "HTTP_X_CSRF_TOKEN" => @token)

  # Four times as much takes four times as long where the work is that of its length, and sixteen where it is that of
  # its square.
  def grows(piece)
    small, large = [9_000, 36_000].map { |length| cpu_s { yield piece * (length / piece.length) } }
    large / [small, 0.002].max
  end

  pieces.each do |name, piece|
    it "costs no more than its length at the door (#{name})" do
      %w[login code password as fresh].each do |field|
        growth = grows(piece) { |text| send_fields("/sign-in", "login" => "teo", "password" => "1", field => text) }
        expect([field, growth]).to match([field, be < 8.0])
      end
    end
  end

  it "costs no more than its length in cookies and headers" do
    pieces.each_value do |piece|
      growth = grows(piece) do |text|
        header = text.b.gsub(/[^ -~]/n, "x")
        get "/sign-in", {}, "HTTP_COOKIE" => "nurv.door=#{header}", "HTTP_X_FORWARDED_FOR" => header
      end
      expect(growth).to be < 8.0
    end
  end

  it "looks at the beginning of a name only, whoever gives it" do
    long = "a#{"\u0301\u0323" * 50_000}"
    expect(cpu_s(times: 1) { Store::Names.clean(long) }).to be < 0.5
    expect(Store::Names.clean("  Zoë  van  Dijk ")).to eq("Zoë van Dijk")
    send_fields("/sign-in", login: "n" * 300, password: "1")
    expect(html).to include("Keep it under 80 characters.")
  end

  it "costs no more than its length at the first account" do
    CleanDatabase.clean
    pieces.each_value do |piece|
      %w[name login password setup_code].each do |field|
        growth = grows(piece) { |text| send_fields("/setup", "name" => "Ines", "login" => "ines", field => text) }
        expect([field, growth]).to match([field, be < 8.0])
      end
    end
  end

  it "reads no large file of anybody who is not signed in" do
    file = Rack::Test::UploadedFile.new(StringIO.new("x" * 600_000), "application/gzip", original_filename: "a.tar.gz")
    %w[/classes/import /stations/import /classes/1/roster].each do |path|
      file.rewind
      post path, {file: file}, "HTTP_X_CSRF_TOKEN" => @token
      expect([path, last_response.status]).to eq([path, 413])
    end
    sign_in("ines")
    file.rewind
    post "/stations/import", {file: file}, "HTTP_X_CSRF_TOKEN" => @token
    expect(last_response.status).to eq(422)
  end

  it "takes no token from an address" do
    sign_in("ines")
    post "/classes?authenticity_token=#{Rack::Utils.escape(@token)}", name: "Spring"
    expect([last_response.status, DB[:classes].where(name: "Spring").count]).to eq([403, 0])
    post "/classes", name: "Spring", authenticity_token: @token
    expect(last_response.status).to eq(302)
  end

  it "says no address on a projector but the one by which it was reached, unless a proxy of ours says so" do
    sign_in("ines")
    course = make_class(stores.users.with_login("ines"))
    forged = {
      "HTTP_HOST" => "bench.test:9292",
      "HTTP_X_FORWARDED_HOST" => "evil.test",
      "HTTP_X_FORWARDED_PROTO" => "https",
      "HTTP_FORWARDED" => "host=evil.test"
    }
    get "/classes/#{course.id}/join", {}, forged.merge("REMOTE_ADDR" => "10.0.0.7")
    expect(html).to include("bench.test:9292")
    expect(html).not_to match(/evil\.test/)
    get "/classes/#{course.id}/join", {}, "HTTP_HOST" => "a b\"><script>"
    expect(last_response.status).to eq(400)
  end

  it "slows down whoever tries class codes, by the link as by the form" do
    clock = SetClock.new.tap { |set| Clock.source = set }
    codes = Array.new(80) { |number| format("ZZ%04d", number) }
    answers = codes.map { |code| get("/c/#{code}").status }
    expect(answers.count(429)).to be > 10
    expect(get("/sign-in?code=ZZ9999").status).to eq(429)
    right = DB[:classes].get(:join_code)
    expect(get("/c/#{right}").status).to eq(429)
    clock.let_go_by(Store::Tries::FORGOTTEN_MS + 1)
    expect(Array.new(100) { get("/c/#{right}").status }.tally).to eq(200 => 100)
  end
end
