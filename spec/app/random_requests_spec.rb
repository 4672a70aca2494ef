# frozen_string_literal: true

require "support/web"

# Anything, sent by anybody to any route: never an error of the server's. NURV_ALL=1 sends twenty thousand.
RSpec.describe "Requests at random", :web do
  include Requests

  def app = Web::App

  let(:random) { Random.new(ENV.fetch("NURV_SEED", 29).to_i) }
  let(:routes) do
    %w[GET POST].flat_map do |verb|
      Web::App.routes.fetch(verb).map { |pattern, *| [verb, pattern.to_s] }
    end
  end

  # What comes in place of a name in a path, and of a value in a form.
  def odd(names)
    [
      *names,
      *names,
      "0",
      "-1",
      "99999999999999999999",
      "x",
      "%00",
      "\u0301" * 300,
      "' OR 1=1 --",
      "<script>",
      "2026-02-31",
      ""
    ].sample(random: random)
  end

  def path(pattern, ids)
    pattern.gsub(/:\w+/) { |name| Rack::Utils.escape_path(odd(ids.fetch(name, ids[":id"]))) }
  end

  fields = %w[
    name login password pin now code as fresh title stations[] trainees[] procedures[] pool_1 seed opens_at time_zone
    policy kind valve to item value field hose at person topic finding seq seen_ms action_id page q sort desc state file
    text roster trainee_id station mode how view says what severity minutes benches[] line earned reason comment job
    choice known eyes inside level coach newcomers exam sure varied ids of units preview_seed count difficulty
  ].freeze

  define_method(:form) do |ids|
    fields.sample(random.rand(6), random: random).to_h do |name|
      value = odd(ids[":id"])
      [name, [value, [value], {"a" => value}, value].sample(random: random)]
    end
  end

  it "of every role over all routes end without an error of the server's" do
    owner = make_instructor("owner")
    make_instructor("other")
    trainee = make_trainee("mine")
    make_trainee("theirs")
    course = make_class(owner, trainee)
    exam = make_exam(owner, course, :bottle_rinser)
    stores.exams.open(exam, [trainee])
    make_exam(owner, course, :bottle_rinser)
    begin_attempt(owner, trainee, mode: "practice")
    begin_attempt(owner, trainee)
    people = [nil, ["mine", "1234"], ["theirs", "1234"], ["other", "correct horse"], ["owner", "correct horse"]]
    each = (ENV["NURV_ALL"] ? 20_000 : 500) / people.size
    failed = people.flat_map do |person|
      sign_in(*person)
      Array.new(each).filter_map do
        DB[:tries].delete
        ids = {":id" => %w[1 2 3 4], ":code" => [course.join_code, "ZZZZZZ"], ":procedure" => %w[r1 d2 zz]}
        verb, pattern = routes.sample(random: random)
        where = path(pattern, ids)
        next if pattern.match?(%r{/sign-out|/settings/password|/pin\z|/health})

        header "X-CSRF-Token", @token
        (verb == "GET") ? get(where, form(ids)) : post(where, form(ids))
        [verb, where, last_response.status] if last_response.status >= 500
      rescue => error
        [verb, where, error.class, error.message.lines.first, error.backtrace.first]
      end
    end
    expect(failed).to eq([])
  end
end
