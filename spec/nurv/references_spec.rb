# frozen_string_literal: true

# Facts that name what is not there are refused with the place, and whatever is taken makes a bench that settles.
RSpec.describe "References between facts" do
  data = SHIPPED.to_data
  names = %i[from to node inlet zone body]

  # Every place of some data that holds a reference, as keys.
  def self.references(data, names, here = [])
    case data
    when Hash
      data.flat_map do |key, value|
        next [here + [key]] if names.include?(key) && value.is_a?(String)

        references(value, names, here + [key])
      end
    when Array
      data.each_with_index.flat_map { |value, index| references(value, names, here + [index]) }
    else
      []
    end
  end

  def changed(data, place, &change)
    key, *rest = place
    copy = data.dup
    rest.empty? ? change.call(copy, key) : copy[key] = changed(copy[key], rest, &change)
    copy
  end

  def problems_with(kind, entry)
    SHIPPED.with(kind => [entry])
    []
  rescue Nurv::DataError => error
    SHIPPED.words.problems(error.problems)
  end

  %i[assemblies kits].each do |kind|
    data.fetch(kind).each do |entry|
      it "are all asked after in #{kind} #{entry[:id]}" do
        references = self.class.references(entry, names) +
          (entry[:cross_capacitances] || []).each_index.map { |index| [:cross_capacitances, index, :between, 1] } +
          (entry[:gauge] || {}).keys.map { |side| [:gauge, side] }
        references.each do |place|
          found = problems_with(kind, changed(entry, place) { |copy, key| copy[key] = "suply" })
          expect([place, found.map(&:last).join]).to match([place, /suply is not known/])
        end
        drawn = (kind == :kits) ? %i[ports valves free_ends].map { |part| [:drawing, part] } : [[:drawing]]
        drawn.each do |place|
          entry.dig(*place).each_key do |part|
            lacking = changed(entry, place + [part]) { |copy, key| copy.delete(key) }
            expect([part, problems_with(kind, lacking).map(&:first).join]).to match([part, /#{place.last}.*#{part}/])
          end
        end
      end
    end
  end

  it "of a relief valve to its zone, of a check to its spring, and of every edge to a number of its own are needed" do
    rp = data[:assemblies].find { |one| one[:id] == "rp" }
    relief = rp[:edges].index { |edge| edge[:kind] == "relief_valve" }
    no_zone = changed(rp, [:edges, relief, :zone]) { |copy, key| copy.delete(key) }
    expect(problems_with(:assemblies, no_zone)).to include(["assemblies rp: edges.relief_valve.zone", "is missing"])
    no_spring = changed(rp, %i[usual springs_psid check_valve_1]) { |copy, key| copy.delete(key) }
    expect(problems_with(:assemblies, no_spring).first.first).to end_with("usual.springs_psid.check_valve_1")
    twice = rp.merge(test_cocks: rp[:test_cocks] + [rp[:test_cocks].first])
    expect(problems_with(:assemblies, twice)).to include(
      ["assemblies rp: test_cocks.test_cock_1", "is named twice"]
    )
  end

  it "of an item to its component, and of a fault to its edge, are asked after" do
    r1 = data[:procedures].find { |one| one[:id] == "r1" }
    item = r1[:items].index { |one| one[:component] == "check_valve_1" }
    odd = changed(r1, [:items, item, :component]) { |copy, key| copy[key] = "check_valve_9" }
    expect(problems_with(:procedures, odd).map(&:last).join).to include("check_valve_9 is not known")
    fault = data[:faults].first
    odd = changed(fault, %i[sets rp edge]) { |copy, key| copy[key] = "check_valve_9" }
    expect(problems_with(:faults, odd).map(&:first)).to include("faults #{fault[:id]}: sets.rp.edge")
  end

  it "say of a fault of one's own that no correct tester finds what is missing" do
    soft = data[:faults].first.merge(id: "seat_gone_soft", reason: "gone_soft")
    own = {faults: [soft]}
    catalog = SHIPPED.with(own)
    told = catalog.words.problems(catalog.unfindable(own))
    lacking = /check_valve_1:gone_soft is missing from conclusions of d1/
    expect(told.first).to match(["faults seat_gone_soft: dc", lacking])
    known = {faults: [data[:faults].first.merge(id: "fouled_again")]}
    expect(SHIPPED.with(known).unfindable(known)).to be_empty
  end
end
