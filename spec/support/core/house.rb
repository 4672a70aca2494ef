# frozen_string_literal: true

require "prism"

# Reads which constants a file of ours names, as Ruby would look them up: from the innermost module outwards.
class House
  # One name in one file: `path`, `line`, and the full name that it stands for; nil if there is none such.
  Named = Struct.new(:path, :line, :written, :full, keyword_init: true)

  # @param path [String] of a Ruby file
  # @param text [String] what stands in it
  def initialize(path, text = File.read(path))
    @path = path
    @text = text
  end

  # @return [Array<Named>]
  def names
    @found = []
    visit(Prism.parse(@text).value, [])
    @found
  end

  private

  def visit(node, nesting)
    case node
    when nil
      nil
    when Prism::ModuleNode, Prism::ClassNode
      visit(node.superclass, nesting) if node.is_a?(Prism::ClassNode)
      visit(node.body, [[*nesting.first, node.constant_path.slice].join("::"), *nesting])
    when Prism::ConstantPathNode, Prism::ConstantReadNode
      note(node, nesting)
    else
      node.compact_child_nodes.each { |child| visit(child, nesting) }
    end
  end

  def note(node, nesting)
    written = node.slice
    return node.compact_child_nodes.each { |child| visit(child, nesting) } unless written.match?(/\A[A-Z:][\w:]*\z/)

    @found << Named.new(path: @path, line: node.location.start_line, written: written, full: full(written, nesting))
  end

  # The first segment is looked for outwards and then among ancestors, the rest of the name from there.
  def full(written, nesting)
    first, *rest = written.delete_prefix("::").split("::")
    home = written.start_with?("::") ? nil : home_of(first, nesting.map { |scope| Object.const_get(scope) })
    found = [*home, first, *rest].join("::")
    Object.const_defined?(found) ? found : nil
  end

  def home_of(name, scopes)
    holds = ->(scope) { scope != Object && scope.const_defined?(name, false) }
    (scopes.find(&holds) || scopes.first&.ancestors&.find(&holds))&.name
  end
end
