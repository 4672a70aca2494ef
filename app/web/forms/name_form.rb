# frozen_string_literal: true

module Web
  # Another name for somebody on a roster.
  class NameForm < Form
    # @param others [Array<Store::Users::User>] everybody else in the class
    def initialize(raw, others)
      super(raw)
      @others = others
    end

    def name = Store::Names.clean(self[:name])

    private

    def check
      need(:name, "Enter a name, like Tobin Ashe.", most: 80)
      if @others.any? { |other|
        Store::Names.plain(other.name) == Store::Names.plain(name)
      }
        @errors[
          :name
        ] ||= "#{name} is in the class already. If they are one person, put the two together below."
      end
    end
  end
end
