# frozen_string_literal: true

module Nurv
  module Equipment
    # A test kit as data: chambers, valves, hoses, and where its gauge is tapped.
    class Kit
      Valve = Struct.new(:id, :label, :from, :to, keyword_init: true)
      # near: the name of its end at the kit, for a hose that comes off there
      HoseLine = Struct.new(:id, :label, :name, :node, :loop_in, :detachable, :near, keyword_init: true)

      # Turns from shut to wide open.
      TURNS = 2.5

      attr_reader :id, :name, :nodes, :valves, :hoses, :gauge, :drawing, :open_ports

      # @param data [Hash] as in data/kits
      def initialize(data)
        @id = data[:id].to_sym
        @name = data[:name]
        @nodes = data[:nodes]
        @valves = data[:valves].to_h { |valve| [valve[:id].to_sym, build(Valve, valve)] }
        @hoses = data[:hoses].to_h { |hose| [hose[:id].to_sym, build(HoseLine, {**hose, near: :"#{hose[:id]}_near"})] }
        @drawing = data[:drawing]
        @open_ports = data.fetch(:open_ports, []).map(&:to_sym)
        @gauge = data[:gauge].transform_values(&:to_sym)
        freeze
      end

      private

      def build(type, data)
        type.new(**data.to_h { |key, value| [key, %i[id from to node].include?(key) ? value.to_sym : value] }).freeze
      end
    end
  end
end
