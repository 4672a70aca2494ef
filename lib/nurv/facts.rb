# frozen_string_literal: true

module Nurv
  # Plain data of the trade, as it stands in files and requests: read from YAML, measured first, frozen.
  module Facts
    # Longest text of a file, bytes, and how deep its brackets may nest.
    MOST_BYTES = 64 * 1024
    DEEPEST = 24

    module_function

    # @param value [Hash, Array, String, Numeric, Boolean, nil] as YAML, JSON or Ruby wrote it
    # @return the same with every name a symbol, frozen all the way down
    def of(value)
      case value
      when Hash then value.to_h { |key, item| [key.to_s.to_sym, of(item)] }.freeze
      when Array then value.map { |item| of(item) }.freeze
      else value.freeze
      end
    end

    # Reads YAML text as plain data. Measured before it is parsed: a parser can be kept busy for long by little.
    #
    # @param path [String] the file, or a name for the text
    # @param lists [Boolean] whether it may be a list of mappings as well
    # @return [Hash, Array<Hash>] frozen, keys are symbols
    # @raise [DataError] naming the line, if it is not YAML or not a mapping
    def parse(text, path, lists: false)
      refuse(path, :too_large, kilobytes: MOST_BYTES / 1024) if text.bytesize > MOST_BYTES
      refuse(path, :not_text) if !text?(text) || text.include?("\0")
      refuse(path, :nests_too_deep) if depth(text) > DEEPEST

      data = YAML.safe_load(text, filename: path)
      fits = data.is_a?(Hash) || (lists && data.is_a?(Array))
      refuse(path, :should_be_hash, typed: data.inspect[0, 60]) unless fits

      of(data)
    rescue Psych::SyntaxError => error
      raise DataError.new(path, [["line #{error.line}", Remark.new(:no_yaml, problem: error.problem)]])
    rescue Psych::DisallowedClass, Psych::BadAlias, ArgumentError => error
      refuse(path, :no_plain_values, problem: error.message)
    end

    # @param text [String] of any encoding
    # @return [Boolean] whether it can be read as UTF-8
    def text?(text) = text.dup.force_encoding("UTF-8").valid_encoding?

    # How deep brackets, dashes and indents nest, at the most.
    #
    # @return [Integer]
    def depth(text)
      now = deepest = 0
      text.scan(/[\[{\]}]/) do |bracket|
        now = "[{".include?(bracket) ? now + 1 : [now - 1, 0].max
        deepest = now if now > deepest
      end
      dashes = text.scan(/^[ \t]*((?:[-?:] +)+)/).map { |found, *| found.count("-?:") }.max || 0
      [deepest, dashes, text.scan(/^( *)\S/).map { |indent, *| indent.size / 2 }.uniq.size].max
    end

    def refuse(path, id, **values) = raise(DataError.new(path, [["top", Remark.new(id, **values)]]))
    private_class_method :depth, :refuse
  end
end
