# frozen_string_literal: true

module Web
  # A finding of an instructor's own: where one sees it, what one sees, and whether testing must stop.
  class FindingForm < Form
    # Where a tester looks and can find something wrong.
    PLACES = %i[surroundings upstream_piping plate arrow test_cocks leaks kit_label hoses].freeze

    # @param finding [Nurv::Stations::Defect, nil] to be changed
    def self.of(finding)
      return new({"at" => "surroundings"}) unless finding

      new(
        {
          "id" => finding.id.to_s,
          "at" => finding.at.to_s,
          "label" => finding.label,
          "text" => finding.text,
          "stops" => finding.stops? ? "1" : ""
        }
      )
    end

    # @return [Hash] of the shape Nurv::Shapes::Defect
    def data = {id: id, at: self[:at], label: self[:label], text: self[:text], stops: self[:stops] == "1"}

    # @return [String] made of its name, or that it has already
    def id = id_from(:label)

    private

    def check
      need(:label, "Say in a few words what is wrong.", most: 60)
      need(:text, "Say what a tester sees there.", most: 400)
      @errors[:at] = "Choose where it is seen." unless PLACES.include?(self[:at].to_sym)
    end
  end
end
