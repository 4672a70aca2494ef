# frozen_string_literal: true

module Web
  # An instructor's own facts, written or as a file.
  class FactsForm < Form
    # @param catalogs [Store::Catalogs]
    # @return [FactsForm] with those they have
    def self.of(owner, catalogs)
      form = new({"text" => catalogs.own_text(owner)}, catalogs, owner)
      form.problems = catalogs.problems_of(owner)
      form
    end

    def initialize(raw, catalogs, owner)
      super(raw)
      @catalogs = catalogs
      @owner = owner
      @problems = []
    end

    # @return [String] YAML
    def text
      @text ||=
        begin
          file = Form.upload(@raw["file"])
          file.empty? ? @raw["text"].to_s.gsub("\r\n", "\n") : file.force_encoding("UTF-8").scrub
        end
    end

    def problems=(list)
      @problems = @catalogs.shipped.words.problems(list)
    end

    # @return [Array<Array(String, String)>] place and what is wrong there
    attr_reader :problems

    # @return [Boolean] whether anything is written
    def any? = !text.strip.empty?

    # @return [Hash{String => Array<String>}] ids by kind, of what can be read
    def names
      data = Nurv::Facts.parse(text, "own facts")
      data
        .select { |_, list| list.is_a?(Array) }
        .to_h { |kind, list| [kind.to_s, list.filter_map { |one| one[:id].to_s if one.is_a?(Hash) }] }
    rescue Nurv::DataError
      {}
    end

    # @return [String] like "sites pump_house"
    def summary = names.map { |kind, ids| "#{kind} #{ids.join(", ")}" }.join("; ")

    private

    def check
      @catalogs.check_own(@owner, text)
    rescue Nurv::DataError => error
      self.problems = error.problems
      @errors[:text] = problems.map { |place, what| "#{place}: #{what}" }.join("; ")
    end
  end
end
