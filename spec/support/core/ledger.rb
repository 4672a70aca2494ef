# frozen_string_literal: true

# Water that crossed the border of a network against water stored in it, by quadrature of its own: an outside check of
# the solver.
class Ledger
  PARTS = 4
  GAUSS = Math.sqrt(0.6)

  def initialize(span, from_s, to_s)
    @span = span
    @trajectory = span.trajectory.extend_to(to_s)
    @network = span.network
    @from_s = from_s
    @to_s = to_s
  end

  # Every act of a log, one after the other.
  #
  # @return [Array(Float, Float)] mL out of balance over the whole log, and mL that came in
  def self.of(replay)
    replay
      .spans
      .each_cons(2)
      .select { |span, following| following.from_s > span.from_s }
      .map { |span, following| new(span, span.from_s, following.from_s) }
      .reduce([0.0, 0.0]) do |(error, throughput), ledger|
        [error + ledger.error_ml, throughput + ledger.throughput_ml]
      end
  end

  # @return [Float] mL in less mL out less growth of what is stored; 0 when water is conserved. What crosses the border
  #   is water and air: of the air that hoses lost, no water is missing.
  def error_ml = boundary_ml - (stored_ml(@to_s) - stored_ml(@from_s)) + air_out_ml

  def throughput_ml = @throughput_ml || boundary_ml.then { @throughput_ml }

  private

  def border =
    @border ||= @network.edges.select { |edge| edge.to_air? || edge.is_a?(Nurv::Hydraulics::Source) }.map(&:id)

  # Gauss's three points in every part of every frame: never on the border of two steps, where a valve may stand in
  # two places.
  def boundary_ml
    @throughput_ml = 0.0
    @trajectory
      .frame_times(@from_s, @to_s)
      .each_cons(2)
      .sum do |early, late|
        (0...PARTS).sum do |part|
          half = (late - early) / PARTS / 2.0
          middle = early + half * (2 * part + 1)
          @throughput_ml += 2.0 * half * gross_inflow(middle)
          half *
            (
              5.0 * net_inflow(middle - GAUSS * half) + 8.0 * net_inflow(middle) +
                5.0 * net_inflow(middle + GAUSS * half)
            ) / 9.0
        end
      end
  end

  def net_inflow(time)
    @span
      .trajectory
      .volumes_at(time, border)
      .sum { |id, flow| @network.edge(id).is_a?(Nurv::Hydraulics::Source) ? flow : -flow }
  end

  # What comes in, whatever goes out at the same time.
  def gross_inflow(time)
    @span
      .trajectory
      .volumes_at(time, border)
      .sum { |id, flow| @network.edge(id).is_a?(Nurv::Hydraulics::Source) ? [flow, 0.0].max : [-flow, 0.0].max }
  end

  def stored_ml(time)
    water = @span.water_at(time)
    # What a disc holds back on one side it gives on the other, so cross capacitances store nothing.
    @network.nodes.each_index.sum do |node|
      plain = @network.nodes[node].held_ml(water.pressures[node])
      surface = @network.nodes[node].free_surface
      plain += surface.capacitance * (water.pressures[node] - surface.top_psi) if surface && water.air_present[node]
      plain + hose_ml(node, water)
    end
  end

  def hose_ml(node, water)
    hose = @network.hoses.index { |item| item.node == node }
    return 0.0 unless hose

    air = water.hose_air[hose]
    Nurv::Hydraulics::Hose.water_ml(air, water.hose_gap[hose], at_psi(hose, air, water), water.hose_late_psi[hose])
  end

  # Pressure of the air in a hose: none behind a gap.
  def at_psi(hose, air, water)
    return 0.0 if water.hose_gap[hose] > 0.0

    water.pressures[@network.hoses[hose].node] + @network.air_offset_psi(hose, air)
  end

  # The solver sweeps air out at the end of a step: its room, at the pressure then, is water's from there on. A step
  # that the window cuts counts for the part inside it. Where a gap is shut it turns into trapped air, and none leaves.
  def air_out_ml
    @trajectory.steps.sum do |step|
      next 0.0 if step.end_s <= @from_s || step.time_s >= @to_s

      early = (step.time_s >= @from_s) ? step.start : @span.water_at(@from_s)
      late = (step.end_s <= @to_s) ? step.finish : @span.water_at(@to_s)
      @network.hoses.each_index.sum do |hose|
        next 0.0 if early.hose_gap[hose] > 0.0 && late.hose_gap[hose].zero?

        room(hose, early.hose_air[hose], late) - room(hose, late.hose_air[hose], late)
      end
    end
  end

  # mL that so much air takes up as the water stands.
  def room(hose, air, water)
    -Nurv::Hydraulics::Hose.water_ml(air, 0.0, at_psi(hose, air, water), water.hose_late_psi[hose])
  end
end
