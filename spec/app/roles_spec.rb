# frozen_string_literal: true

require "support/web"

# What each role gets: nobody, the trainee, a trainee of another class, another instructor, the owner.
ROLES_OF_ROUTES = %i[nobody trainee other_trainee other_instructor owner].freeze
TEACHERS_ONLY = [302, 404, 404, 200, 200].freeze
OWNER_ONLY = [302, 404, 404, 404, 200].freeze
OWNER_MOVES_ON = [302, 404, 404, 404, 302].freeze
OWNER_REFUSED = [302, 404, 404, 404, 422].freeze
TRAINEE_ONLY = [302, 200, 404, 404, 404].freeze
# Its trainee sits in an exam at the same time.
SHUT_IN_AN_EXAM = [302, 403, 404, 404, 404].freeze
RESULT_SHUT_IN_AN_EXAM = [302, 403, 404, 404, 200].freeze
ROUTES_BY_ROLE = {
  "GET /sign-in" => [200] * 5,
  "GET /setup" => [302] * 5,
  "POST /setup" => [302] * 5,
  "GET /join" => [302] * 5,
  "GET /c/:code" => [200] * 5,
  "GET /pin" => [302, 200, 200, 404, 404],
  "POST /pin" => [302, 422, 422, 404, 404],
  "GET /health" => [200] * 5,
  "POST /grading" => [302, 200, 200, 200, 200],
  "GET /jobs/:job" => OWNER_ONLY,
  "GET /jobs/:job/bar" => OWNER_ONLY,
  "GET /jobs/:job/file" => [302, 404, 404, 404, 404],
  "GET /help" => [200] * 5,
  "GET /about" => [200] * 5,
  "GET /" => [302] * 5,
  "GET /lab" => [302, 403, 200, 200, 200],
  "GET /reference" => [302, 200, 200, 200, 200],
  "GET /today" => TEACHERS_ONLY,
  "GET /work" => [302, 200, 200, 404, 404],
  "GET /classes" => TEACHERS_ONLY,
  "POST /classes" => [302, 404, 404, 422, 422],
  "POST /classes/import" => [302, 404, 404, 422, 422],
  "GET /classes/:course" => OWNER_ONLY,
  "POST /classes/:course/roster" => OWNER_REFUSED,
  "POST /classes/:course/members/:spare/pin" => OWNER_MOVES_ON,
  "POST /classes/:course/members/:spare/remove" => OWNER_MOVES_ON,
  "POST /classes/:course/newcomers" => [302, 404, 404, 404, 404],
  "POST /classes/:course/newcomers/:newcomer" => OWNER_MOVES_ON,
  "POST /classes/:empty_room/archive" => OWNER_MOVES_ON,
  "GET /classes/:course/gradebook" => OWNER_ONLY,
  "GET /classes/:course/items" => OWNER_ONLY,
  "GET /classes/:course/join" => OWNER_ONLY,
  "GET /classes/:course/cards.pdf" => OWNER_ONLY,
  "GET /classes/:course/members.pdf" => OWNER_ONLY,
  "GET /classes/:course/practice" => OWNER_ONLY,
  "POST /classes/:course/practice" => OWNER_REFUSED,
  "POST /classes/:course/files" => [302, 404, 404, 404, 404],
  "GET /classes/:course/members/:trainee" => OWNER_ONLY,
  "POST /classes/:course/members/:trainee/rename" => OWNER_REFUSED,
  "POST /classes/:course/members/:trainee/merge" => OWNER_REFUSED,
  "POST /classes/:course/members/:trainee/move" => OWNER_REFUSED,
  "GET /classes/:course/exams/new" => OWNER_ONLY,
  "POST /classes/:course/exams" => OWNER_REFUSED,
  "GET /exams/:exam" => OWNER_ONLY,
  "GET /exams/:exam/room" => OWNER_ONLY,
  "GET /exams/:exam/benches" => OWNER_ONLY,
  "GET /exams/:exam/regrade" => OWNER_ONLY,
  "POST /exams/:exam/regrade" => OWNER_REFUSED,
  "GET /exams/:draft_too/open" => OWNER_ONLY,
  "POST /exams/:draft_too/vary" => OWNER_MOVES_ON,
  "POST /exams/:draft/open" => OWNER_MOVES_ON,
  "POST /exams/:exam/pause" => OWNER_MOVES_ON,
  "GET /exams/:exam/extend" => OWNER_ONLY,
  "POST /exams/:exam/extend" => OWNER_REFUSED,
  "GET /exams/:exam/close" => OWNER_ONLY,
  "POST /exams/:other_exam/close" => OWNER_MOVES_ON,
  "GET /exams/:exam/publish" => OWNER_ONLY,
  "POST /exams/:exam/publish" => OWNER_MOVES_ON,
  "POST /exams/:exam/take-back" => OWNER_MOVES_ON,
  "GET /exams/:draft_too/edit" => OWNER_ONLY,
  "POST /exams/:draft_too/edit" => OWNER_REFUSED,
  "POST /exams/:exam/copy" => OWNER_MOVES_ON,
  "POST /exams/:deletable/delete" => OWNER_MOVES_ON,
  "GET /practice-room" => TEACHERS_ONLY,
  "GET /review" => TEACHERS_ONLY,
  "GET /stations" => TEACHERS_ONLY,
  "GET /stations/new" => TEACHERS_ONLY,
  "POST /stations" => [302, 404, 404, 404, 404],
  "POST /stations/preview" => [302, 404, 404, 404, 404],
  "POST /stations/import" => [302, 404, 404, 422, 422],
  "POST /stations/generate" => [302, 404, 404, 404, 404],
  "GET /stations/:station" => OWNER_ONLY,
  "GET /stations/:station/edit" => OWNER_ONLY,
  "POST /stations/:station" => OWNER_REFUSED,
  "GET /stations/:station/export" => OWNER_ONLY,
  "POST /stations/:station/duplicate" => OWNER_MOVES_ON,
  "POST /stations/:station/try" => OWNER_MOVES_ON,
  "POST /stations/:station/assign" => OWNER_REFUSED,
  "POST /stations/:station/restore" => OWNER_MOVES_ON,
  "POST /stations/:spare_station/delete" => OWNER_MOVES_ON,
  "GET /attempts/:assigned/start" => TRAINEE_ONLY,
  "POST /attempts/:assigned/begin" => [302, 302, 404, 404, 404],
  "GET /attempts/:started/bench" => TRAINEE_ONLY,
  "GET /attempts/:started/frames" => TRAINEE_ONLY,
  "POST /attempts/:started/actions" => TRAINEE_ONLY,
  "GET /attempts/:started/turned" => TRAINEE_ONLY,
  "POST /attempts/:practice/skip" => SHUT_IN_AN_EXAM,
  "POST /attempts/:started/skip" => [302, 404, 404, 404, 404],
  "GET /classes/:course/board" => OWNER_ONLY,
  "POST /classes/:course/board" => [302, 404, 404, 404, 404],
  "GET /classes/:course/board/show" => OWNER_ONLY,
  "GET /classes/:course/board/scene" => OWNER_ONLY,
  "GET /classes/:course/board/state" => OWNER_ONLY,
  "GET /classes/:course/board/bench" => OWNER_MOVES_ON,
  "POST /classes/:course/board/steer" => [302, 404, 404, 404, 404],
  "POST /classes/:course/board/view" => [302, 404, 404, 404, 404],
  "POST /classes/:course/board/why" => OWNER_ONLY,
  "POST /classes/:course/board/trouble" => OWNER_ONLY,
  "POST /classes/:course/board/question" => [302, 404, 404, 404, 404],
  "POST /classes/:course/board/answer" => OWNER_ONLY,
  "POST /classes/:course/board/close" => OWNER_MOVES_ON,
  "GET /asked" => [302, 286, 200, 404, 404],
  "POST /asked/1" => [302, 286, 404, 404, 404],
  "GET /classes/:course/skills" => [302, 404, 404, 404, 200],
  "POST /classes/:course/drills" => [302, 404, 404, 404, 302],
  "POST /drills/next" => [302, 403, 404, 404, 404],
  "GET /lab/cases" => [302, 403, 200, 200, 200],
  "POST /lab/cases/back_pressure_tight_tight" => [302, 403, 422, 422, 422],
  "GET /drills" => [302, 403, 200, 404, 404],
  "POST /drills/flush_in_order" => [302, 403, 404, 404, 404],
  "GET /attempts/:published/drilled" => [302, 403, 404, 404, 404],
  "GET /practise" => [302, 403, 200, 404, 404],
  "POST /practise" => [302, 403, 404, 404, 404],
  "POST /attempts/:published/onward" => [302, 403, 404, 404, 404],
  "POST /classes/:course/let-practise" => [302, 404, 404, 404, 302],
  "GET /attempts/:published/trace" => RESULT_SHUT_IN_AN_EXAM,
  "POST /attempts/:published/take-up" => [302, 403, 404, 404, 404],
  "GET /attempts/:practice/hint" => SHUT_IN_AN_EXAM,
  "GET /attempts/:practice/coach" => SHUT_IN_AN_EXAM,
  "GET /attempts/:started/coach" => [302, 404, 404, 404, 404],
  "GET /attempts/:started/hint" => [302, 404, 404, 404, 404],
  "POST /attempts/:practice_too/back" => SHUT_IN_AN_EXAM,
  "POST /attempts/:started/back" => [302, 404, 404, 404, 404],
  "POST /attempts/:practice_three/over" => SHUT_IN_AN_EXAM,
  "POST /attempts/:started/over" => [302, 404, 404, 404, 404],
  "GET /attempts/:started/watch" => OWNER_ONLY,
  "GET /attempts/:started/watch/scene" => OWNER_ONLY,
  "GET /attempts/:started/display" => OWNER_ONLY,
  "GET /attempts/:started/display/now" => OWNER_ONLY,
  "POST /attempts/:practice/inject" => OWNER_MOVES_ON,
  "POST /attempts/:started/inject" => [302, 404, 404, 404, 404],
  "POST /attempts/:started/extend" => OWNER_MOVES_ON,
  "GET /attempts/:submitted/result" => [302, 200, 404, 404, 200],
  "GET /attempts/:submitted/replay" => OWNER_ONLY,
  "GET /attempts/:submitted/score-sheet.pdf" => OWNER_ONLY,
  "GET /attempts/:submitted/report" => OWNER_ONLY,
  "GET /attempts/:submitted/report.pdf" => OWNER_ONLY,
  "GET /attempts/:submitted/log.jsonl" => OWNER_ONLY,
  "POST /attempts/:submitted/override" => OWNER_REFUSED,
  "POST /attempts/:submitted/grade-again" => OWNER_MOVES_ON,
  "POST /attempts/:submitted/grade-once-more" => OWNER_MOVES_ON,
  "POST /attempts/:submitted/comment" => OWNER_MOVES_ON,
  "POST /attempts/:submitted/retest" => OWNER_MOVES_ON,
  "POST /attempts/:submitted/publish" => OWNER_MOVES_ON,
  "POST /attempts/:submitted/take-back" => OWNER_MOVES_ON,
  "GET /attempts/:published/score-sheet.pdf" => RESULT_SHUT_IN_AN_EXAM,
  "GET /attempts/:published/report" => RESULT_SHUT_IN_AN_EXAM,
  "GET /attempts/:published/replay" => RESULT_SHUT_IN_AN_EXAM,
  "GET /attempts/:published/log.jsonl" => OWNER_ONLY,
  "GET /proctor" => TEACHERS_ONLY,
  "POST /proctor" => [302, 404, 404, 422, 422],
  "GET /proctor/:proctored" => OWNER_ONLY,
  "POST /proctor/:proctored_too/begin" => OWNER_MOVES_ON,
  "GET /proctor/:proctored/gauge" => OWNER_ONLY,
  "GET /proctor/:proctored/gauge/now" => OWNER_ONLY,
  "POST /proctor/:proctored/acts" => [302, 404, 404, 404, 404],
  "GET /settings" => TEACHERS_ONLY,
  "POST /settings" => [302, 404, 404, 422, 422],
  "POST /settings/policies" => [302, 404, 404, 422, 422],
  "GET /settings/procedures/r1" => TEACHERS_ONLY,
  "POST /settings/procedures/r1" => [302, 404, 404, 422, 422],
  "GET /settings/procedures/r1/file" => TEACHERS_ONLY,
  "POST /settings/procedures/r1/file" => [302, 404, 404, 422, 422],
  "POST /settings/procedures/r1/version" => [302, 404, 404, 302, 302],
  "GET /settings/procedures/r1/proof" => [302, 404, 404, 404, 404],
  "POST /settings/procedures/r1/proof" => [302, 404, 404, 200, 200],
  "GET /sites/new" => TEACHERS_ONLY,
  "GET /findings/new" => TEACHERS_ONLY,
  "POST /findings" => [302, 404, 404, 422, 422],
  "POST /sites" => [302, 404, 404, 422, 422],
  "POST /settings/facts" => [302, 404, 404, 302, 302],
  "GET /settings/facts.yml" => [302, 404, 404, 404, 404],
  "POST /settings/accounts" => [302, 404, 404, 404, 422],
  "POST /settings/password" => [302, 404, 404, 422, 422],
  "GET /settings/audit" => TEACHERS_ONLY,
  "POST /sign-out" => [302] * 5
}.freeze

RSpec.describe "Every route for every role", :web do
  include Requests

  # Without the work beside it: a bar is looked at while it moves.
  def app = Web::App

  def submitted_attempt(owner, trainee)
    begin_attempt(owner, trainee).tap do |attempt|
      keeper.of(attempt).act(
        attempt,
        {kind: "submit"},
        id: "s",
        known_seq: 0,
        seen_ms: 0,
        wall_ms: wall_ms
      )
      stores.grades.computed(stores.attempts.find(attempt.id))
    end
  end

  let(:world) do
    owner = make_instructor("owner")
    DB[:users].where(id: owner.id).update(admin: true)
    make_instructor("other").then { |other| make_class(other, make_trainee("theirs")) }
    trainee = make_trainee("mine")
    spare = make_trainee("spare")
    course = make_class(owner, trainee, spare)
    exam, other_exam, draft, deletable, draft_too = Array.new(5) { make_exam(owner, course, :bottle_rinser) }
    [exam, other_exam].each { |item| stores.exams.open(item, [trainee]) }
    stores.boards.show(course, begin_attempt(owner, owner, mode: "practice"))
    newcomer = make_trainee("newcomer").tap { |person| stores.classes.wait_for(course, person) }
    published = submitted_attempt(owner, trainee)
    stores.attempts.publish(published)
    proctored = make_attempt(owner, trainee, mode: "proctor")
    {
      course: course.id,
      empty_room: make_class(owner).id,
      trainee: trainee.id,
      exam: exam.id,
      other_exam: other_exam.id,
      draft: draft.id,
      deletable: deletable.id,
      draft_too: draft_too.id,
      code: course.join_code,
      spare: spare.id,
      newcomer: newcomer.id,
      job: stores.jobs.push("export", owner: owner, what: "archive", class_id: course.id, zone: "UTC"),
      station: make_station(owner).id,
      spare_station: make_station(owner).id,
      assigned: make_attempt(owner, trainee).id,
      started: begin_attempt(owner, trainee).id,
      practice: begin_attempt(owner, trainee, mode: "practice").id,
      practice_too: begin_attempt(owner, trainee, mode: "practice").id,
      practice_three: begin_attempt(owner, trainee, mode: "practice").id,
      submitted: submitted_attempt(owner, trainee).id,
      published: published.id,
      proctored: proctored.id,
      proctored_too: make_attempt(owner, trainee, mode: "proctor").id
    }
  end
  let(:people) do
    {
      nobody: nil,
      trainee: %w[mine 1234],
      other_trainee: %w[theirs 1234],
      other_instructor: ["other", "correct horse"],
      owner: ["owner", "correct horse"]
    }
  end

  it "answers as the table says" do
    ids = world
    wrong =
      ROLES_OF_ROUTES.each_with_index.flat_map do |role, column|
        sign_in(*people[role])
        ROUTES_BY_ROLE.filter_map do |route, expected|
          verb, path = route.split
          address = path.gsub(/:(\w+)/) { ids.fetch(Regexp.last_match(1).to_sym).to_s }
          (verb == "GET") ? get(address) : post(address, {}, "HTTP_X_CSRF_TOKEN" => @token)
          status = last_response.status
          # A PIN forgotten, a password: the sessions of this table go on.
          sign_in(*people[role]) if address == "/sign-out"
          "#{role} #{route}: #{status}, not #{expected[column]}" if status != expected[column]
        end
      end
    expect(wrong).to eq([])
  end

  it "has every route of the application in the table" do
    known = ROUTES_BY_ROLE.keys.map { |route| route.split.then { |verb, path| [verb, path.gsub(/:\w+/, "1")] } }
    routes =
      Web::App
        .routes
        .slice("GET", "POST")
        .to_a
        .flat_map { |verb, list| list.map { |pattern, *| [verb, pattern.to_s] } } - [%w[POST /sign-in]]
    missing =
      routes.reject do |verb, pattern|
        names = {
          ":procedure" => "r1",
          ":question" => "1",
          ":drill" => "flush_in_order",
          ":case" => "back_pressure_tight_tight"
        }
        named = names.reduce(pattern) { |path, (name, value)| path.gsub(name, value) }
        known.include?([verb, named.gsub(/:\w+/, "1")])
      end
    expect(missing).to eq([])
  end

  it "refuses every write without its token" do
    ids = world
    sign_in(*people[:owner])
    wrong =
      ROUTES_BY_ROLE
        .keys
        .grep(/\APOST /)
        .filter_map do |route|
          path = route.split.last
          address = path.gsub(/:(\w+)/) { ids.fetch(Regexp.last_match(1).to_sym).to_s }
          post address
          "#{address}: #{last_response.status}" unless last_response.status == 403
        end
    expect(wrong).to eq([])
  end
end
