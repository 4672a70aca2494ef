# frozen_string_literal: true

require "zlib"
require "tmpdir"

module Pdf
  # The shipped web font as a TrueType file, which is what a PDF takes. WOFF is TrueType with its tables deflated.
  #
  # Source: WOFF File Format 1.0, sections 4 and 5.
  module Font
    # What the first has no letters for is looked for in the others.
    LETTERS = %w[latin latin-ext greek cyrillic].freeze
    FOLDER = File.expand_path("../../data/fonts", __dir__)
    LOCK = Mutex.new
    private_constant :LOCK

    module_function

    # Makes a document write with it.
    def use(document)
      LETTERS.each do |letters|
        document.font_families.update("Body #{letters}" => {normal: path(400, letters), bold: path(600, letters)})
      end
      document.font "Body #{LETTERS.first}"
      document.fallback_fonts(LETTERS.drop(1).map { |letters| "Body #{letters}" })
    end

    # @param weight [Integer] 400 or 600
    # @param letters [String] one of LETTERS
    # @return [String] path of a file that lasts as long as this process
    def path(weight, letters = LETTERS.first)
      LOCK.synchronize do
        @folder ||= Dir.mktmpdir("nurv-fonts")
        File
          .join(@folder, "#{letters}-#{weight}.ttf")
          .tap do |target|
            unless File.exist?(target)
              File.binwrite(
                target,
                unpack(File.binread(File.join(FOLDER, "source-sans-3-#{letters}-#{weight}-normal.woff")))
              )
            end
          end
      end
    end

    def unpack(woff)
      flavor, count = woff[4, 4], woff[12, 2].unpack1("n")
      tables = Array.new(count) { |index| woff[44 + index * 20, 20].unpack("a4N4") }
      data =
        tables.map do |_, offset, packed, size, _|
          (packed < size) ? Zlib::Inflate.inflate(woff[offset, packed]) : woff[offset, size]
        end
      place = 12 + 16 * count
      directory =
        tables.each_with_index.map do |(tag, _, _, size, checksum), index|
          entry = [tag, checksum, place, size].pack("a4N3")
          place += (data[index].bytesize + 3) / 4 * 4
          entry
        end
      flavor + header(count) + directory.join + data.map { |table| table + "\0" * (-table.bytesize % 4) }.join
    end

    def header(count)
      power = Math.log2(count).floor
      [count, (2**power) * 16, power, count * 16 - (2**power) * 16].pack("n4")
    end
  end
end
