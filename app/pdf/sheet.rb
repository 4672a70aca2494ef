# frozen_string_literal: true

require "prawn"
require "prawn/table"

module Pdf
  # A page in Nurv's look: what every printed record is made from.
  class Sheet
    INK = "1D2A2F"
    SOFT = "51605F"
    LINE = "CFC8B8"
    HEAD = "F3EFE5"
    BAD = "9C2F1D"
    # What the shipped font has no glyph for, said otherwise.
    PLAIN = {
      "≥" => "at least",
      "≤" => "at most",
      "✓" => "yes",
      "✗" => "no",
      "→" => "to",
      "−" => "-",
      "⅛" => "1/8",
      "⅜" => "3/8",
      "⅝" => "5/8",
      "⅞" => "7/8",
      "\u2002" => " "
    }.freeze

    # @return [String] the PDF
    def render
      @doc = Prawn::Document.new(page_size: "A4", margin: [48, 46, 54, 46], info: {Title: title, Creator: "Nurv"})
      Font.use(@doc)
      @doc.fill_color INK
      @doc.default_leading 1.5
      body
      foot
      @doc.render
    end

    private

    def plain(text) =
      text.to_s.gsub(Regexp.union(PLAIN.keys), PLAIN).encode("UTF-8", invalid: :replace, undef: :replace)

    def heading(kicker, text, right = nil)
      @doc.font_size(9) { @doc.text plain(kicker), color: "8A5A12", style: :bold }
      @doc.font_size(20) { @doc.text plain(text), style: :bold }
      @doc.font_size(12) { @doc.text plain(right), style: :bold } if right
      @doc.move_down 8
    end

    def section(text)
      @doc.move_down 8
      @doc.font_size(12) { @doc.text plain(text), style: :bold }
      @doc.stroke_color LINE
      @doc.stroke_horizontal_rule
      @doc.move_down 4
    end

    def pairs(list) = table(list.map { |label, value| [label, value] }, widths: {0 => 150}, bare: true)

    def table(rows, widths: {}, header: false, bare: false)
      return if rows.empty?

      @doc.font_size(9) do
        @doc.table(
          rows.map do |row|
            row.map { |cell| cell.is_a?(Hash) ? cell.merge(content: plain(cell[:content])) : plain(cell) }
          end,
          header: header,
          width: @doc.bounds.width,
          column_widths: widths,
          cell_style: {
            borders: bare ? [] : [:bottom],
            border_color: LINE,
            border_width: 0.5,
            padding: [3, 5, 3, 2],
            inline_format: false
          }
        ) do |made|
          made.row(0).font_style = :bold if header
          made.row(0).background_color = HEAD if header
        end
      end
    end

    def note(text, color: SOFT) = @doc.font_size(8.5) { @doc.text plain(text), color: color }

    def foot
      @doc.number_pages "Nurv · a training aid: no certification and no field test · <page> of <total>",
        at: [0, -20],
        size: 8,
        color: SOFT,
        align: :center,
        width: @doc.bounds.width
    end
  end
end
