# frozen_string_literal: true

require "support/browser"

RSpec.describe "A correct test by each procedure in a browser", :web, :browser, clock: :set do
  # One after the other in another way that it can lie or stand, some with their tags to hang; all with NURV_ALL=1.
  all = %w[to_the_right to_the_left upwards downwards]
  ways = lambda do |station, turn|
    stands = SHIPPED.demo_stations.find { |one| one.id == station }.assembly.stands?
    some = stands ? all.rotate(2) : all.first(2)
    Sample::ALL ? some : [some[turn % some.size]]
  end
  {
    rp_swinging: "r2",
    dc_sov1: "d1",
    dc_masked: "d2",
    dc_hold: "d3",
    pvb_low: "p1",
    pvb_trickle: "p2"
  }.each_with_index do |(station, procedure), turn|
    ways.call(station, turn).each do |way|
      it "earns full marks by #{procedure.upcase} at #{station}, where water flows #{way.tr("_", " ")}" do
        tags = %w[to_the_left upwards].include?(way) ? "to_hang" : "hung"
        attempt = at_practice(station: station, direction: way, tags: tags)
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
