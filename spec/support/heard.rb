# frozen_string_literal: true

# Works a page as one who hears it: by roles and names of the accessibility tree, and by nothing that is drawn.
module Heard
  FOCUS = "function() { this.focus(); }"
  PRESS = "function() { this.focus(); this.dispatchEvent(new MouseEvent('click', {bubbles: true, cancelable: true})); }"
  WRITE = <<~JS
    function(value) {
      const options = [...(this.options || [])];
      this.focus();
      this.value = options.length ? options.find((option) => option.text.trim() === value).value : value;
      for (const kind of ["input", "change"]) this.dispatchEvent(new Event(kind, {bubbles: true}));
    }
  JS

  # role, name [String]; value [String, nil]; node [Integer] in the page; states [Hash]; inside [Array<String>] names
  # of what it stands in
  Thing = Struct.new(:role, :name, :value, :node, :states, :inside, keyword_init: true)

  # @return [Array<Thing>] all that is told of the page, in the order it is told
  def heard
    nodes = devtools("Accessibility.getFullAXTree").fetch("nodes")
    by_id = nodes.to_h { |node| [node["nodeId"], node] }
    told = []
    walk(nodes.first, by_id, [], told)
    told
  end

  # @param role, name [String, Regexp]
  # @param inside [String, nil] name of a region
  # @return [Thing] the only one there is
  def hear(role, name, inside: nil)
    found = heard.select do |thing|
      role === thing.role && name === thing.name && (inside.nil? || thing.inside.include?(inside))
    end
    expect(found.size).to eq(1), -> { "#{found.size} times #{role} #{name.inspect}: #{found.map(&:name)}" }
    expect(found.first.states["disabled"]).to be_nil
    found.first
  end

  def press_heard(role, name, inside: nil) = call(hear(role, name, inside: inside), PRESS)

  def write_heard(role, name, value, inside: nil) = call(hear(role, name, inside: inside), WRITE, value)

  # @return [String] what was said last of the needle
  def needle_heard = heard.filter_map { |thing| thing.name[/\A-?\d+\.\d psid(?:, \w+)?\z/] }.first

  private

  def devtools(method, **parameters) = page.driver.browser.page.command(method, **parameters)

  def walk(node, by_id, inside, told)
    unless node["ignored"]
      thing = thing_of(node, inside)
      told << thing
      inside = [*inside, thing.name] unless thing.name.empty?
    end
    node.fetch("childIds", []).each { |id| by_id[id] && walk(by_id[id], by_id, inside, told) }
  end

  def thing_of(node, inside)
    states = node.fetch("properties", []).to_h { |one| [one["name"], one.dig("value", "value")] }
    Thing.new(
      role: node.dig("role", "value"),
      name: node.dig("name", "value").to_s,
      value: node.dig("value", "value"),
      node: node["backendDOMNodeId"],
      states: states.select { |_, value| value },
      inside: inside
    )
  end

  def call(thing, body, *values)
    object = devtools("DOM.resolveNode", backendNodeId: thing.node).dig("object", "objectId")
    arguments = values.map { |value| {value: value} }
    devtools("Runtime.callFunctionOn", objectId: object, functionDeclaration: body, arguments: arguments)
  end
end
