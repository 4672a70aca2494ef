# frozen_string_literal: true

module Nurv
  class Catalog
    # Says whether assemblies, kits and faults name only what is there, each reference with its place: a bench made of
    # one that does not would end in an error for whoever opens it.
    class EquipmentCheck
      # The chambers and shutoffs that every assembly has, and what else is drawn.
      NODES = %i[supply downstream].freeze
      SHUTOFF_VALVES = %i[shutoff_valve_1 shutoff_valve_2].freeze
      TAP = :downstream_tap
      # Where an edge of each kind lies, and what it cannot do without.
      ENDS = {
        "shutoff_valve" => %i[from to],
        "check_valve" => %i[from to],
        "relief_valve" => %i[inlet zone],
        "air_inlet" => %i[body]
      }.freeze
      NEEDS = {
        "shutoff_valve" => [],
        "check_valve" => %i[softness_psid],
        "relief_valve" => %i[port_in],
        "air_inlet" => %i[elevation_in]
      }.freeze
      # The number of its own that each kind has, in the assembly's usual ones.
      NUMBERS = {
        "check_valve" => :springs_psid,
        "relief_valve" => :openings_psid,
        "air_inlet" => :openings_psid
      }.freeze
      AIR = :air

      # @param catalog [Catalog] each entry of the right shape
      def initialize(catalog)
        @catalog = catalog
      end

      # @return [Array<Array(String, Remark)>] place and what is wrong there
      def problems
        @found = []
        data = @catalog.to_data
        data.fetch(:assemblies).each { |one| check_assembly(one) }
        data.fetch(:kits).each { |one| check_kit(one) }
        edges = data.fetch(:assemblies).to_h { |one| [one[:id].to_sym, one[:edges].map { |edge| edge[:id].to_sym }] }
        cocks = data.fetch(:assemblies).to_h { |one| [one[:id].to_sym, ids(one[:test_cocks])] }
        @catalog.faults.each_value { |fault| check_fault(fault, edges, cocks) }
        @found
      end

      private

      def note(where, id, **values) = @found << [where, Remark.new(id, **values)]

      def known(where, name, set) =
        set.include?(name.to_sym) || note(where, :not_known, typed: name.to_s, listed: set)

      def ids(list) = list.map { |one| one[:id].to_sym }

      def once(place, list)
        twice = ids(list).tally.select { |_, count| count > 1 }.keys
        twice.each { |id| note("#{place}.#{id}", :named_twice) }
      end

      def check_assembly(data)
        place = "assemblies #{data[:id]}"
        nodes = ids(data[:nodes])
        %i[nodes edges test_cocks levels].each { |list| once("#{place}: #{list}", data[list]) }
        NODES.each { |id| note("#{place}: nodes.#{id}", :missing) unless nodes.include?(id) }
        data[:edges].each { |edge| check_edge("#{place}: edges.#{edge[:id]}", edge, nodes, data) }
        check_shutoffs(place, data)
        check_numbers(place, data)
        data[:cross_capacitances].each_with_index do |pair, index|
          pair[:between].each { |id| known("#{place}: cross_capacitances[#{index}].between", id, nodes) }
        end
        data[:test_cocks].each { |cock| known("#{place}: test_cocks.#{cock[:id]}.node", cock[:node], nodes) }
        data[:components].each { |id| known("#{place}: components", id, ids(data[:edges])) }
        check_drawn(place, data)
      end

      def check_edge(place, edge, nodes, data)
        ENDS.fetch(edge[:kind]).each do |name|
          next note("#{place}.#{name}", :missing) unless edge[name]

          known("#{place}.#{name}", edge[name], nodes)
        end
        NEEDS.fetch(edge[:kind]).each { |name| note("#{place}.#{name}", :missing) unless edge[name] }
        return unless edge[:kind] == "air_inlet"

        body = data[:nodes].find { |node| node[:id] == edge[:body] }
        note("#{place}.body", :no_free_surface) if body && !body[:free_surface]
      end

      def check_shutoffs(place, data)
        kinds = data[:edges].to_h { |edge| [edge[:id].to_sym, edge[:kind]] }
        SHUTOFF_VALVES.each { |id| note("#{place}: edges.#{id}", :missing) unless kinds[id] == "shutoff_valve" }
      end

      # Every check, relief valve and air inlet has its number, and nothing else has one.
      def check_numbers(place, data)
        NUMBERS.values.uniq.each do |section|
          wanted = data[:edges].select { |edge| NUMBERS[edge[:kind]] == section }.map { |edge| edge[:id].to_sym }
          given = data[:usual][section].keys
          (wanted - given).each { |id| note("#{place}: usual.#{section}.#{id}", :missing) }
          (given - wanted).each { |id| note("#{place}: usual.#{section}.#{id}", :no_part_here) }
        end
      end

      def check_drawn(place, data)
        parts = ids(data[:edges]) + ids(data[:test_cocks]) + [TAP]
        parts.each { |id| at("#{place}: drawing.#{id}", data[:drawing][id], %i[x]) }
      end

      def at(place, spot, names)
        return note(place, :missing) unless spot.is_a?(Hash)

        names.each do |name|
          next if spot[name].is_a?(Numeric) && spot[name].between?(-200, 1000)

          note("#{place}.#{name}", :should_be_within, least: -200, most: 1000, typed: spot[name].inspect)
        end
      end

      def check_kit(data)
        place = "kits #{data[:id]}"
        nodes = ids(data[:nodes])
        %i[nodes valves hoses].each { |list| once("#{place}: #{list}", data[list]) }
        data[:valves].each do |valve|
          known("#{place}: valves.#{valve[:id]}.from", valve[:from], nodes)
          known("#{place}: valves.#{valve[:id]}.to", valve[:to], nodes + [AIR])
        end
        hose_nodes = ids(data[:nodes].select { |node| node[:hose] })
        data[:hoses].each { |hose| known("#{place}: hoses.#{hose[:id]}.node", hose[:node], hose_nodes) }
        data[:gauge].each { |side, id| known("#{place}: gauge.#{side}", id, nodes) }
        (data[:open_ports] || []).each { |id| known("#{place}: open_ports", id, nodes) }
        check_kit_drawn(place, data)
      end

      def check_kit_drawn(place, data)
        drawing = data[:drawing]
        ids(data[:valves]).each { |id| at("#{place}: drawing.valves.#{id}", drawing[:valves][id], %i[x y]) }
        ids(data[:hoses]).each do |id|
          at("#{place}: drawing.ports.#{id}", drawing[:ports][id], %i[x])
          free = drawing[:free_ends][id]
          note("#{place}: drawing.free_ends.#{id}", :should_be_point, typed: free.inspect) unless point?(free)
        end
        drawing[:lines].each_with_index do |line, index|
          next if line.is_a?(Array) && line.size > 1 && line.all? { |one| point?(one) }

          note("#{place}: drawing.lines[#{index}]", :should_be_point, typed: line.inspect[0, 40])
        end
      end

      def point?(value) = value.is_a?(Array) && value.size == 2 && value.all?(Numeric)

      def check_fault(fault, edges, cocks)
        fault.sets.each do |assembly, set|
          next unless edges[assembly] && set[:edge].is_a?(String)

          known("faults #{fault.id}: sets.#{assembly}.edge", set[:edge], edges[assembly] + cocks[assembly])
        end
      end
    end
  end
end
