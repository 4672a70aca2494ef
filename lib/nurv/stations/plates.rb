# frozen_string_literal: true

module Nurv
  module Stations
    # What stands on plates that are made up: makers and models that do not exist, and serials in their manner.
    module Plates
      MAKES = [["Karrow & Finch", "Breakwater"], ["Tollick Dyer", "Sentry"], ["Hobbin Ware", "Quayline"]].freeze
      NUMBERS = (10_000..99_999)

      module_function

      # @param share [Float] 0...1
      # @return [Integer] of NUMBERS
      def number(share) = NUMBERS.begin + (share * NUMBERS.size).floor

      # @return [String] such as KF-20184
      def serial(make, number) = "#{make[0]}#{make.split.last[0]}-#{number}"

      # @param type [String] of assembly, such as RP
      # @return [String] such as Sentry R
      def model(name, type) = "#{name} #{type[0]}"
    end
  end
end
