# frozen_string_literal: true

require "support/fingers"

RSpec.describe "The bench under a finger", :web, :browser, clock: :set do
  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }

  def bench_of(station)
    attempt = begin_attempt(instructor, trainee, station: station, mode: "practice")
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    expect(page).to have_css("#drawing")
    touch_screen
    attempt
  end

  def acts_of(attempt) = stores.attempts.log(attempt).to_a

  {bottle_rinser: :r1, dc_healthy: :d1, pvb_low: :p1}.each do |station, procedure|
    it "does a whole #{procedure.to_s.upcase} by dragging alone, to full marks" do
      attempt = bench_of(station)
      log = Nurv::Expert::Truth.of(attempt.variant, attempt.procedures.first).run.log
      carry_out_by_finger(log)
      expect(page).to have_css(".score")
      expect([find(".score").text, all(".line-lost", wait: 0).map(&:text)]).to eq(["100.0", []])
      turned = acts_of(attempt).select { |act| act.kind == :turn }
      expect(turned.map { |act| act[:over] }).to all(be_a(Integer))
    end
  end
end
