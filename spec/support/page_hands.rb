# frozen_string_literal: true

# What a log's act is on the page: what is taken in hand, which paper lies open, what is pressed or written.
module PageHands
  # @return [Array<Array>] gestures, each a name and what it is done to
  def self.gestures(action)
    case action.kind
    when :turn, :connect, :disconnect, :level, :fit, :unfit, :canopy, :watch, :tag
      [[:take, *taken(action)], [:do, action.kind.to_s, fields(action)]]
    when :look
      [[:open, "site"], [:press, "#look_#{action[:at]}"]]
    when :declare
      [[:open, "site"], [:press, "#declare_#{action[:what]}"]]
    when :tell
      [[:open, "people"], [:press, "#tell_#{action[:person]}_#{action[:topic]}"]]
    when :find
      found(action)
    when :jot
      [[:open, "notebook"], [:write, "#jot_item", action[:item]], [:write, "#jot_value", action[:value]], [:jot]]
    when :fill
      [[:report], [:write, "#f_#{action[:field]}", action[:value]]]
    end
  end

  # What may be taken in hand for it; the first that is there.
  def self.taken(action)
    case action.kind
    when :turn then [action[:valve]]
    when :connect, :disconnect then ["hose_#{action[:hose]}"]
    when :level then ["gauge"]
    when :fit, :unfit then ["box"]
    when :canopy then ["air_inlet"]
    when :tag then [action[:at]]
    when :watch then %w[air_inlet relief_valve]
    end
  end

  def self.fields(action)
    wanted = %i[hose to end fitting at as speed valve].to_h { |name| [name, action[name]] }.compact
    (action.kind == :turn) ? wanted : wanted.except(:speed)
  end

  # What is wrong there is chosen from what can be; of permission there is one thing to say.
  def self.found(action)
    press = [:press, "#find_#{action[:finding]}"]
    return [[:open, "people"], press] if action[:finding] == "permission"

    [[:open, "site"], [:write, "#as_#{action[:finding]}", action[:as]], press]
  end
end
