# frozen_string_literal: true

require "csv"
require "digest"

module Web
  # A roster as CSV: a name a line, and a PIN if it is to be set beforehand. All of it or nothing is taken.
  class RosterForm < Form
    PIN = /\A\d{4,8}\z/
    # Each is hashed, which takes a while.
    MOST = 120
    NAMES = %w[name trainee].freeze

    Line = Struct.new(:number, :name, :pin, :problem, keyword_init: true)

    # @param taken [Array<String>] names in the class already
    def initialize(raw, taken)
      super(raw)
      @taken = taken.map { |name| Store::Names.plain(name) }
    end

    # @return [Array<Line>] each with what is wrong with it, if anything is
    def lines = @lines ||= read

    def problems = lines.select(&:problem)

    def entries = lines.map { |line| {name: line.name, pin: line.pin} }

    # A file's lines stand in the field when something in them is to be put right.
    def field(name, label, **more) = super(name, label, value: (text if file?), **more)

    # What the field was filled in with from a file: left as it is, it gives way to another file.
    #
    # @return [String] empty where it was not
    def filled_in = file? ? Digest::SHA256.hexdigest(plain(text)) : ""

    private

    def file? = !file.empty?

    def check
      if both?
        return (
          @errors[:roster] = "There are names in the field and a file as well. Clear the field, or leave the file out."
        )
      end
      return @errors[:roster] = "Paste the list, one name a line, or choose a file." if text.strip.empty?
      return @errors[:roster] = "These are #{lines.size} lines; a class takes #{MOST} at a time." if lines.size > MOST

      if problems.any?
        @errors[
          :roster
        ] = "Nothing was taken: put #{(problems.size == 1) ? "this line" : "these #{problems.size} lines"} right first."
      end
    end

    def file = @file ||= Form.upload(@raw["file"])

    def both? = file? && !self[:roster].empty? && Digest::SHA256.hexdigest(plain(self[:roster])) != self[:filled_in]

    # As a browser sends it back.
    def plain(text) = text.gsub(/\r\n?/, "\n").strip

    def text = @text ||= utf8(file.empty? ? self[:roster] : file).delete_prefix("\uFEFF")

    # A spreadsheet's file may come in the old Western encoding.
    def utf8(bytes)
      given = bytes.dup.force_encoding("UTF-8")
      if given.valid_encoding?
        given
      else
        bytes.dup.force_encoding("Windows-1252").encode("UTF-8", invalid: :replace, undef: :replace)
      end
    end

    def read
      seen = {}
      rows = CSV.parse(text, liberal_parsing: true, skip_blanks: true)
      header = rows.first && NAMES.include?(rows.first[0].to_s.strip.downcase)
      rows.each_with_index.filter_map do |row, index|
        next if header && index.zero?

        line(index + 1, row, seen)
      end
    rescue CSV::MalformedCSVError => error
      [
        Line.new(
          number: error.line_number,
          name: "",
          problem: "This line is not CSV: #{error.message[/\A[^(]*/].strip.downcase}."
        )
      ]
    end

    def line(number, row, seen)
      name = Store::Names.clean(row[0])
      pin = row[1].to_s.strip
      plain = Store::Names.plain(name)
      problem = problem_with(name, pin, row, seen)
      seen[plain] ||= number
      Line.new(number: number, name: name, pin: pin.empty? ? nil : pin, problem: problem)
    end

    def problem_with(name, pin, row, seen)
      return "There is no name." if name.empty?
      return "A name is at most 80 characters." if name.length > 80
      plain = Store::Names.plain(name)
      return "#{name} stands on line #{seen[plain]} already." if seen.key?(plain)
      return "#{name} is in the class already." if @taken.include?(plain)
      return "“#{pin}” is not a PIN: four to eight digits, or nothing." unless pin.empty? || pin.match?(PIN)

      "There are #{row.size} columns; a line is name and PIN." if row.size > 2
    end
  end
end
