# frozen_string_literal: true

require "support/browser"

RSpec.describe "A correct test by each procedure in a browser", :web, :browser, clock: :set do
  # Every other one, another way round than the rest and with its tags to hang; both ways of each with NURV_ALL=1.
  ways = ->(turn) { Sample::ALL ? %w[to_the_right to_the_left] : [%w[to_the_right to_the_left][turn % 2]] }
  {
    rp_swinging: "r2",
    dc_sov1: "d1",
    dc_masked: "d2",
    dc_hold: "d3",
    pvb_low: "p1",
    pvb_trickle: "p2"
  }.each_with_index do |(station, procedure), turn|
    ways.call(turn).each do |way|
      it "earns full marks by #{procedure.upcase} at #{station}, where water flows #{way.tr("_", " ")}" do
        attempt = at_practice(station: station, direction: way, tags: (way == "to_the_left") ? "to_hang" : "hung")
        log = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first).run.log
        carry_out(log)
        expect(page).to have_css(".score")
        expect(all(".line-lost", wait: 0).map(&:text)).to eq([])
        expect(find(".score").text).to eq("100.0")
        expect(page.evaluate_script("window.__csp")).to eq([])
        expect(stores.attempts.log(attempt).size).to eq(log.size)
      end
    end
  end
end
