# frozen_string_literal: true

require "dry/schema"

module Nurv
  module Shapes
    # What data of one kind must look like, the same for shipped files, uploads, forms and the database: which keys
    # there are, which must be there, and what each may hold. What is wrong is said with its place. Whether what they
    # name exists is for those who look it up.
    class Shape
      # dry-schema asks for a text for each question; the words that people see are made from the question itself.
      TEXTS = File.expand_path("questions.yml", __dir__)
      REGISTRY = Dry::Schema::PredicateRegistry.new(Questions)
      private_constant :TEXTS, :REGISTRY

      # @yield a schema in the language of dry-schema, with the questions of Questions
      # @return [Shape]
      def self.define(&block)
        new(
          Dry::Schema.define do
            config.predicates = REGISTRY
            config.messages.load_paths << TEXTS
            instance_exec(&block)
          end
        )
      end

      # @return [Dry::Schema] to be nested in another
      attr_reader :schema

      # @param schema [Dry::Schema]
      def initialize(schema)
        @schema = schema
      end

      # @param data [Object] plain data with symbol keys
      # @return [Array<Array(String, Remark)>] place and what is wrong there; nothing: it has this shape
      def problems(data)
        return [["top", Remark.new(:should_be_hash, typed: data.inspect[0, 60])]] unless data.is_a?(Hash)

        unknown(data, schema.key_map, []) + wrong(data)
      end

      # @param path [String] the file, or a name for what was read
      # @return [Hash] data
      # @raise [DataError] with everything that is wrong with it
      def check!(data, path)
        found = problems(data)
        raise DataError.new(path, found) if found.any?

        data
      end

      # @param path [Array<Symbol, Integer>]
      # @return [String] like "steps[2].must[0].mistake"
      def self.place(path)
        path.each_with_object(+"") do |part, place|
          next place << "[#{part}]" if part.is_a?(Integer)

          place << "." unless place.empty?
          place << part.to_s
        end
      end

      private

      # A misspelt key is as wrong as a missing one.
      def unknown(value, keys, path)
        return [] unless value.is_a?(Hash)

        known = keys.to_h { |key| [key.name, key] }
        value.flat_map do |name, item|
          next inside(item, known[name], [*path, name]) if known.key?(name)

          [[Shape.place([*path, name]), Remark.new(:unknown_key, listed: known.keys)]]
        end
      end

      # What a key holds: a mapping, a list of mappings, or something with no keys of its own.
      def inside(item, key, path)
        members = key.is_a?(Dry::Schema::Key::Array) ? key.member : (key.members if key.respond_to?(:members))
        return [] unless members.is_a?(Dry::Schema::KeyMap)
        return unknown(item, members, path) unless item.is_a?(Array)

        item.each_with_index.flat_map { |one, index| unknown(one, members, [*path, index]) }
      end

      def wrong(data) = schema.call(data).errors.flat_map { |message| said(message) }

      def said(message)
        question = message.predicate.to_s.delete_suffix("?").to_sym
        return [[Shape.place(message.path), Remark.new(:missing)]] if question == :key

        found(message.path, question, message.args, message.input)
      end

      # Of a list or a mapping, each entry that is wrong is named by its own place.
      def found(path, question, arguments, input)
        container, of_each = Questions::OF_EACH[question]
        if of_each && input.is_a?(container) && input.size <= Questions::MOST
          entries = input.is_a?(Hash) ? input.to_a : input.each_with_index.map { |item, index| [index, item] }
          bad = entries.reject { |_, item| Questions.public_send(:"#{of_each}?", *arguments, item) }
          return bad.flat_map { |name, item| found([*path, name], of_each, arguments, item) }
        end

        values = Questions.values(arguments)
        [[Shape.place(path), Remark.new(:"should_be_#{question}", **values, typed: input.inspect[0, 60])]]
      end
    end
  end
end
