# frozen_string_literal: true

# Water that crossed the border of a network against water stored in it, by quadrature of its own: an outside check of the solver.
class Ledger
  PARTS = 8

  def initialize(span, from_s, to_s)
    @span = span
    @trajectory = span.trajectory.extend_to(to_s)
    @network = span.network
    @from_s = from_s
    @to_s = to_s
  end

  # @return [Float] mL in less mL out less growth of what is stored; 0 when water is conserved
  def error_ml = boundary_ml - (stored_ml(@to_s) - stored_ml(@from_s)) - air_out_ml

  def throughput_ml = @throughput_ml || boundary_ml.then { @throughput_ml }

  private

  def border = @border ||= @network.edges.select { |edge| edge.to_air? || edge.is_a?(Nurv::Hydraulics::Source) }.map(&:id)

  # Simpson's rule over every frame of every step.
  def boundary_ml
    @throughput_ml = 0.0
    @trajectory.frame_times(@from_s, @to_s).each_cons(2).sum do |early, late|
      (0...PARTS).sum do |part|
        a = early + (late - early) * part / PARTS
        b = early + (late - early) * (part + 1) / PARTS
        ends = [net_inflow(a), net_inflow((a + b) / 2.0), net_inflow(b)]
        volume = (b - a) * (ends[0] + 4.0 * ends[1] + ends[2]) / 6.0
        @throughput_ml += (b - a) * gross_inflow((a + b) / 2.0)
        volume
      end
    end
  end

  def net_inflow(time)
    @span.trajectory.flows_at(time, border).sum { |id, flow| @network.edge(id).is_a?(Nurv::Hydraulics::Source) ? flow : -flow }
  end

  # What comes in, whatever goes out at the same time.
  def gross_inflow(time)
    @span.trajectory.flows_at(time, border).sum { |id, flow| @network.edge(id).is_a?(Nurv::Hydraulics::Source) ? [flow, 0.0].max : [-flow, 0.0].max }
  end

  def stored_ml(time)
    water = @span.water_at(time)
    # What a disc holds back on one side it gives on the other, so cross capacitances store nothing.
    @network.nodes.each_index.sum do |node|
      @network.capacitance(node, water) * water.pressures[node] + hose_ml(node, water)
    end
  end

  def hose_ml(node, water)
    hose = @network.hoses.index { |item| item.node == node }
    return 0.0 unless hose

    Nurv::Hydraulics::Node.hose_water_ml(water.hose_air[hose], water.pressures[node])
  end

  # Air swept out makes room for water that came in earlier as flow.
  def air_out_ml
    start, finish = [@from_s, @to_s].map { |time| @span.water_at(time) }
    @network.hoses.each_index.sum do |hose|
      gone = start.hose_air[hose] - finish.hose_air[hose]
      next 0.0 if gone.abs < 1.0e-9

      swept(hose)
    end
  end

  # Space of the air that left, at the pressure it left at, is water's now without any flow. A step that the window cuts counts
  # for the part inside it.
  def swept(hose)
    node = @network.hoses[hose].node
    @trajectory.steps.sum do |step|
      next 0.0 if step.end_s <= @from_s || step.time_s >= @to_s

      early = (step.time_s >= @from_s) ? step.start : @span.water_at(@from_s)
      late = (step.end_s <= @to_s) ? step.finish : @span.water_at(@to_s)
      room = [early, late].sum { |water| 14.7 / (water.pressures[node] + 14.7) } / 2.0
      -(early.hose_air[hose] - late.hose_air[hose]) * Nurv::Hydraulics::Node::HOSE_VOLUME_ML * room
    end
  end
end
