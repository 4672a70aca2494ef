# frozen_string_literal: true

require "rqrcode"

module Pdf
  # A card for each trainee, to be cut out: address, QR code, class code, name and PIN. Ten to a page.
  class Cards < Sheet
    WIDE = 2
    HIGH = 5

    # @param members [Array<Store::Users::User>]
    # @param join_url [String] where the QR code leads
    # @param address [String] what is typed
    def initialize(course, members, join_url, address)
      @course = course
      @members = members
      @join_url = join_url
      @address = address.delete_prefix("http://")
    end

    def title = "Cards · #{@course.name}"

    private

    def body
      @code = RQRCode::QRCode.new(@join_url, level: :m).modules
      width = @doc.bounds.width / WIDE
      height = @doc.bounds.height / HIGH
      @members
        .each_slice(WIDE * HIGH)
        .with_index do |page, number|
          @doc.start_new_page if number.positive?
          page.each_with_index do |member, index|
            corner = [(index % WIDE) * width, @doc.bounds.top - (index / WIDE) * height]
            @doc.bounding_box(corner, width: width, height: height) { card(member) }
          end
        end
    end

    def card(member)
      @doc.stroke_color LINE
      @doc.dash(3, space: 3)
      @doc.stroke_bounds
      @doc.undash
      size = 84
      draw_code(@doc.bounds.right - size - 12, @doc.bounds.top - 14, size)
      @doc.bounding_box(
        [12, @doc.bounds.top - 12],
        width: @doc.bounds.width - size - 34,
        height: @doc.bounds.height - 20
      ) do
        @doc.font_size(8.5) { @doc.text plain(@course.name), color: SOFT }
        @doc.font_size(13) { @doc.text plain(member.name), style: :bold }
        @doc.move_down 5
        line("Address", @address)
        line("Class code", @course.join_code)
        line("PIN", pin_words(member))
      end
    end

    def line(label, text)
      @doc.font_size(8) { @doc.text label, color: SOFT }
      @doc.font_size(11.5) { @doc.text plain(text), style: :bold }
    end

    def pin_words(member)
      return "ask your instructor" unless member.claimed

      member.card_pin || "the one you chose"
    end

    def draw_code(left, top, size)
      dot = size / @code.size.to_f
      @doc.fill_color INK
      @code.each_with_index do |row, y|
        row.each_with_index do |dark, x|
          @doc.fill_rectangle([left + x * dot, top - y * dot], dot + 0.05, dot + 0.05) if dark
        end
      end
    end

    # A card is no record: nothing stands below it.
    def foot = nil
  end
end
