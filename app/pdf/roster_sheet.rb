# frozen_string_literal: true

module Pdf
  # A class on one list, for the instructor's hand: names and PINs, and how they get in.
  class RosterSheet < Sheet
    def initialize(course, members, address, date)
      @course = course
      @members = members
      @address = address
      @date = date
    end

    def title = "Roster · #{@course.name}"

    private

    def body
      heading("Roster with PINs, for the instructor alone", @course.name, @date)
      pairs([["Address", @address], ["Class code", @course.join_code]])
      section("#{@members.size} trainees")
      table(
        [%w[Trainee PIN Here], *@members.map { |member| [member.name, pin(member), ""] }],
        header: true,
        widths: {
          1 => 120,
          2 => 120
        }
      )
      note("A PIN that a trainee chose is nobody else's to read; give a new one on the class page.")
    end

    def pin(member) = member.claimed ? (member.card_pin || "their own") : "none yet"
  end
end
