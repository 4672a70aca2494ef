# frozen_string_literal: true

require "support/web"

RSpec.describe "A proctor's sheet beside a real bench", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let(:trainee) { make_trainee }
  let(:station) { make_station(instructor) }
  let(:attempts) { stores.attempts }
  let(:sheet) { stores.attempts.proctored(instructor).first }

  before do
    make_class(instructor, trainee)
    sign_in("ines")
    send_form "/proctor", station_id: station.id, trainee_id: trainee.id
    send_form "/proctor/#{sheet.id}/begin"
  end

  def mark(step, as = "done", id: "#{step}-#{as}") =
    send_form("/proctor/#{sheet.id}/acts", kind: "mark", step: step, as: as, action_id: id)

  def current = Web::ProctorSheet.new(attempts.find(sheet.id), stores).current_step.id

  it "asks for a station and a trainee before it begins" do
    send_form "/proctor", station_id: station.id, trainee_id: "0"
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("Choose a station and a trainee.")
    expect(attempts.proctored(instructor).size).to eq(1)
  end

  it "goes from step to step in the order of a correct tester, with the gauge of that moment on a second screen" do
    truth = Nurv::Expert::Truth.of(sheet.variant, sheet.station.procedures.first)
    expect(current).to eq(truth.steps.first)
    truth
      .steps
      .first(4)
      .each do |step|
        expect(current).to eq(step)
        mark(step)
      end
    expect(current).to eq(truth.steps[4])
    reading = :apparent
    mark(truth.steps[truth.steps.index(reading) - 1])
    shown = truth.at(truth.end_of(reading)) { |span| format("%.1f psid", span.needle_at(truth.end_of(reading))) }
    expect(get("/proctor/#{sheet.id}/gauge/now").body).to include(shown).and include(
            CGI.escapeHTML(truth.procedure.step(reading).title)
          )
  end

  it "keeps the last mark of a step marked twice, and what it says" do
    step = Nurv::Expert::Truth.of(sheet.variant, sheet.station.procedures.first).steps[2]
    mark(step, "wrong")
    mark(step, "done")
    steps = Web::ProctorSheet.new(attempts.find(sheet.id), stores).steps
    expect(steps.find { |item| item.step.id == step }.as).to eq("done")
    mark(step, "out_of_order")
    send_form "/proctor/#{sheet.id}/acts", kind: "submit", action_id: "close"
    lost = stores.grades.computed(attempts.find(sheet.id)).lines.find { |line| line.id.to_s == step.to_s }
    expect(lost.earned).to be < lost.points
    expect(attempts.log(attempts.find(sheet.id)).of(:mark).map { |action| action[:as] }).to eq(
      %w[wrong done out_of_order]
    )
  end

  it "answers a forged mark with a sentence, and writes nothing" do
    mark("flush", "brilliant")
    expect(last_response.body).to include("done, wrong or out of order")
    mark("levitate")
    expect(last_response.body).to include("no step “levitate”")
    send_form "/proctor/#{sheet.id}/acts", kind: "inject", swing_psi: "5", action_id: "x"
    expect(last_response.status).to eq(404)
    expect(attempts.find(sheet.id).last_seq).to eq(0)
  end

  it "belongs to whoever began it" do
    make_instructor("otto")
    sign_in("otto")
    ["/proctor/#{sheet.id}", "/proctor/#{sheet.id}/gauge", "/proctor/#{sheet.id}/gauge/now"].each do |path|
      expect(get(path).status).to eq(404)
    end
    mark("flush")
    expect(last_response.status).to eq(404)
    sign_in("teo", "1234")
    expect(get("/proctor/#{sheet.id}").status).to eq(404).or eq(403)
  end
end
