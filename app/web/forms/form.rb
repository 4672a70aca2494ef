# frozen_string_literal: true

module Web
  # What was typed and what is wrong with it. Nothing typed is lost: a form that is not valid is shown again as it
  # was.
  class Form
    Field =
      Struct.new(:name, :label, :hint, :value, :error, :input, keyword_init: true) do
        def id = "f_#{name}"

        def described_by = [hint && "#{id}_hint", error && "#{id}_error"].compact.join(" ")
      end

    attr_reader :errors, :raw

    # @param raw [Hash] as posted
    def initialize(raw = {})
      @raw = raw
      @errors = {}
    end

    # What was typed in a field; what came as something else than text counts as nothing.
    def [](name) = @raw[name.to_s].then { |value| value.is_a?(String) ? value.strip : "" }

    # A file that came with the form; text that pretends to be one counts as none.
    #
    # @param value [Object] as posted
    # @return [String] its bytes, empty if there is none
    def self.upload(value)
      file = value.is_a?(Hash) && value["tempfile"]
      file.respond_to?(:binmode) ? file.binmode.read.to_s : ""
    end

    # @return [Array<String>] what was ticked
    def list(name)
      given = @raw[name.to_s]
      given.is_a?(Hash) ? [] : Array(given).grep(String).reject(&:empty?)
    end

    def field(name, label, hint: nil, input: "text", value: nil) =
      Field.new(
        name: name,
        label: label,
        hint: hint,
        value: self[name].empty? ? value.to_s : self[name],
        error: errors[name.to_sym],
        input: input
      )

    def valid?
      @errors = {}
      check
      @errors.empty?
    end

    private

    # @param name [Symbol] field
    # @return [String] the id that came with the form, or one made of what stands in a field
    def id_from(name)
      kept = self[:id]
      kept.match?(/\A[\w-]{1,80}\z/) ? kept : self[name].downcase.gsub(/[^a-z0-9]+/, "_").slice(0, 40)
    end

    def check = nil

    def need(name, sentence, most: 120)
      return @errors[name] = sentence if self[name].empty?

      @errors[name] = "Keep it under #{most} characters." if self[name].length > most
    end

    def whole(name, range, sentence)
      number = Integer(self[name], 10, exception: false)
      return number if number && range.cover?(number)

      @errors[name] = sentence
      nil
    end

    # @return [Float, nil] with a point or a comma, “72,5”
    def number(name) = Float(self[name].tr(",", "."), exception: false)

    def decimal(name, range, sentence)
      number = number(name)
      return number if number && range.cover?(number)

      @errors[name] = sentence
      nil
    end
  end
end
