# frozen_string_literal: true

require "rack/mock"

# Long lists: a class of 500 trainees with 2,000 graded attempts, and what a page of each list costs, through the
# whole application but the socket.
class BenchLists
  PAGES = %w[
    /classes/%d
    /classes/%d/gradebook
    /classes/%d/gradebook?sort=score&desc=1&page=20
    /classes/%d/gradebook?q=trainee+4
    /review
    /today
    /classes
    /settings/audit
  ].freeze
  TRIES = 15

  def initialize(instructor, station)
    @instructor = instructor
    @station = station
    @course = STORES.classes.create(instructor, "Long")
  end

  # @return [Hash{String => Array<Float>}] ms per page
  def run
    fill
    cookie = sign_in
    PAGES.to_h do |page|
      path = format(page, @course.id)
      [page.sub("%d", "N"), Array.new(TRIES) { timed { request("GET", path, cookie) } }]
    end
  end

  private

  def fill
    now = Time.now
    digest = DB[:users].where(id: @instructor.id).get(:password_digest)
    policy = CATALOG.policies.fetch(:standard).to_json
    sample = sample_grade(policy)
    DB.transaction do
      people =
        Array.new(500) do |index|
          DB[:users].insert(
            role: "trainee",
            name: format("Trainee %03d", index),
            login: "long-#{index}",
            password_digest: digest,
            created_at: now
          )
        end
      DB[:members].import(%i[class_id user_id], people.map { |id| [@course.id, id] })
      people
        .cycle
        .first(2_000)
        .each_with_index do |person, index|
          id =
            DB[:attempts].insert(
              station_body: @station.body,
              instructor_id: @instructor.id,
              trainee_id: person,
              class_id: @course.id,
              seed: index,
              mode: "exam",
              policy_body: policy,
              status: index.even? ? "submitted" : "published",
              last_seq: 0,
              created_at: now,
              submitted_at: now + index
            )
          DB[:grades].insert(**sample, attempt_id: id, score: (index * 7 % 1000) / 10.0)
        end
    end
  end

  def sample_grade(policy)
    id =
      DB[:attempts].insert(
        station_body: @station.body,
        instructor_id: @instructor.id,
        trainee_id: @instructor.id,
        seed: 1,
        mode: "practice",
        policy_body: policy,
        status: "submitted",
        last_seq: 0,
        created_at: Time.now
      )
    STORES.grades.computed(STORES.attempts.find(id))
    DB[:grades].first(attempt_id: id).except(:attempt_id)
  end

  def timed
    started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    yield
    (Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000.0
  end

  def request(verb, path, cookie, params = nil, token = nil)
    answer =
      Rack::MockRequest.new(Web::App).request(
        verb,
        path,
        {"HTTP_COOKIE" => cookie.to_s, "HTTP_X_CSRF_TOKEN" => token.to_s, :params => params}.compact
      )
    raise "#{path}: #{answer.status}" unless answer.status < 400

    answer
  end

  def sign_in
    page = request("GET", "/sign-in?as=instructor", nil)
    fields = {login: @instructor.login, password: "x", as: "instructor"}
    session(
      request("POST", "/sign-in", session(page), fields, page.body[/X-CSRF-Token":"([^"]+)"/, 1])
    )
  end

  # Among the cookies of an answer the one that says who is signed in.
  def session(answer) =
    Array(answer["set-cookie"]).find { |text| text.start_with?("nurv.session") }.split(";").first
end
