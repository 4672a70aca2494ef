# frozen_string_literal: true

module Pdf
  # The house's font as TrueType, which is what a PDF takes: one file with all the letters that names are written in.
  module Font
    FOLDER = File.expand_path("../../data/fonts", __dir__)
    FILES = {
      normal: File.join(FOLDER, "SourceSans3-Regular.ttf"),
      bold: File.join(FOLDER, "SourceSans3-Semibold.ttf")
    }.freeze

    module_function

    # Makes a document write with it.
    #
    # @param document [Prawn::Document]
    def use(document)
      document.font_families.update("Body" => FILES)
      document.font "Body"
    end
  end
end
