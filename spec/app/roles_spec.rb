# frozen_string_literal: true

require "support/web"
require "rack/test"

# What each role gets: nobody, the trainee, another trainee, another instructor, the owner.
ROLES_OF_ROUTES = %i[nobody trainee other_trainee other_instructor owner].freeze
ROUTES_BY_ROLE = {
  "GET /sign-in" => [200] * 5,
  "GET /help" => [200] * 5,
  "GET /about" => [200] * 5,
  "GET /" => [302] * 5,
  "GET /lab" => [302, 200, 200, 200, 200],
  "GET /reference" => [302, 200, 200, 200, 200],
  "GET /today" => [302, 404, 404, 200, 200],
  "GET /work" => [302, 200, 200, 404, 404],
  "GET /stations" => [302, 404, 404, 200, 200],
  "GET /stations/:station" => [302, 404, 404, 404, 200],
  "POST /stations/:station/assign" => [302, 404, 404, 404, 422],
  "GET /attempts/:assigned/start" => [302, 200, 404, 404, 404],
  "POST /attempts/:assigned/begin" => [302, 302, 404, 404, 404],
  "GET /attempts/:started/bench" => [302, 200, 404, 404, 404],
  "GET /attempts/:started/frames" => [302, 200, 404, 404, 404],
  "POST /attempts/:started/actions" => [302, 200, 404, 404, 404],
  "POST /attempts/:practice/skip" => [302, 200, 404, 404, 404],
  "POST /attempts/:started/skip" => [302, 404, 404, 404, 404],
  "GET /attempts/:submitted/result" => [302, 200, 404, 404, 200],
  "GET /attempts/:submitted/replay" => [302, 404, 404, 404, 200],
  "POST /attempts/:submitted/publish" => [302, 404, 404, 404, 302],
  "POST /sign-out" => [302] * 5
}.freeze

RSpec.describe "Every route for every role", :web do
  include Rack::Test::Methods

  def app = Web::App

  def sign_in(login = nil, password = nil)
    clear_cookies
    token = get("/sign-in").body[/name="authenticity_token" value="([^"]+)"/, 1]
    post "/sign-in", login: login, password: password, authenticity_token: token if login
    @token = get("/help").body[/X-CSRF-Token":"([^"]+)"/, 1]
  end

  let(:world) do
    owner = make_instructor("owner")
    make_instructor("other")
    trainee = make_trainee("mine")
    make_trainee("theirs")
    submitted = begin_attempt(owner, trainee)
    Store::LiveBench.of(submitted).act(submitted, {kind: "submit"}, id: "s", known_seq: 0, seen_ms: 0, wall_ms: (Time.now.to_f * 1000).round)
    {station: make_station(owner).id, assigned: make_attempt(owner, trainee).id, started: begin_attempt(owner, trainee).id,
     practice: begin_attempt(owner, trainee, mode: "practice").id, submitted: submitted.id}
  end
  let(:people) do
    {nobody: nil, trainee: %w[mine 1234], other_trainee: %w[theirs 1234], other_instructor: ["other", "correct horse"], owner: ["owner", "correct horse"]}
  end

  it "answers as the table says" do
    ids = world
    wrong = ROLES_OF_ROUTES.each_with_index.flat_map do |role, column|
      sign_in(*people[role])
      ROUTES_BY_ROLE.filter_map do |route, expected|
        verb, path = route.split
        address = path.gsub(/:(\w+)/) { ids.fetch(Regexp.last_match(1).to_sym).to_s }
        (verb == "GET") ? get(address) : post(address, {}, "HTTP_X_CSRF_TOKEN" => @token)
        status = last_response.status
        sign_in(*people[role]) if address == "/sign-out"
        "#{role} #{route}: #{status}, not #{expected[column]}" if status != expected[column]
      end
    end
    expect(wrong).to eq([])
  end

  it "has every route of the application in the table" do
    known = ROUTES_BY_ROLE.keys.map { |route| route.split.then { |verb, path| [verb, Mustermann.new(path.gsub(/:\w+/, "1"))] } }
    routes = Web::App.routes.slice("GET", "POST").flat_map { |verb, list| list.map { |pattern, *| [verb, pattern.to_s] } } - [["POST", "/sign-in"]]
    missing = routes.reject { |verb, pattern| known.any? { |known_verb, path| known_verb == verb && path.to_s == pattern.gsub(/:\w+/, "1") } }
    expect(missing).to eq([])
  end
end
