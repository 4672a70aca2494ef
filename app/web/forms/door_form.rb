# frozen_string_literal: true

module Web
  # The one door: name, and PIN or password; with a class code for trainees, who may be new to the class. Signing in
  # and joining are one thing.
  class DoorForm < Form
    WRONG = "That name and PIN or password do not go together. Check both and try again."
    NO_CODE = "There is no class with that code. It has six letters and digits, like K7QX2M."

    attr_reader :course, :user, :near

    # @param stores [Store::Cabinet]
    def initialize(raw, stores)
      super(raw)
      @classes = stores.classes
      @users = stores.users
      @near = []
    end

    # Instructors have a name and a password, trainees stand in a class.
    def instructor? = self[:as] == "instructor"

    def code = self[:code].upcase

    def name = Store::Names.clean(self[:login])

    def pin = self[:password]

    # @return [Boolean] this person says they are new in the class
    def new_here? = self[:fresh] == "1"

    # A name that nobody in the class has: asked about before somebody is added under it.
    def unknown? = @unknown == true

    # Who this is, if everything fits.
    #
    # @return [Store::Users::User, nil]
    def enter
      return unless valid?

      @user = (if course
                 by_class
               else
                 @users.authenticate(name, pin) || (instructor? ? nil : @users.trainee_by(name, pin))
      end)
      @errors[:password] ||= WRONG unless @user || unknown?
      @user
    end

    # Whom this name means, before the PIN is looked at.
    def meant = @meant ||= (find_room && @classes.member_named(find_room, name)) || @users.with_login(name)

    # What tries are counted under: one person's name is one, with a class code, without, or by the name they sign in
    # with.
    def account = meant ? meant.name : name

    private

    def by_class
      member = @classes.member_named(course, name) || @classes.newcomer_named(course, name)
      return add_or_ask unless member

      return member if @users.pin?(member, pin)

      @errors[:password] = wrong_pin(member)
      nil
    end

    def wrong_pin(member)
      return "#{member.name} has no PIN yet. Your instructor has a card with one." unless member.claimed

      "That is not the PIN of #{member.name} in this class. Check it, or ask your instructor for a new card."
    end

    # A typing error must not make a second person.
    def add_or_ask
      unless new_here?
        @unknown = true
        @near = Store::Names.near(name, @classes.members(course).map(&:name))
        return
      end
      @errors[:password] = "Choose a PIN of four to eight digits." unless pin.match?(RosterForm::PIN)
      waits = @classes.waits?(course)
      crowded = waits && @classes.crowded?(course)
      @errors[:password] ||= "This class is full. Ask your instructor." if @classes.full?(course)
      @errors[:password] ||= "Many people are waiting to get in. Ask your instructor." if crowded
      return if @errors[:password]

      @users
        .create_trainee(name, course.join_code, digest: Store::Users.digest(pin))
        .tap { |user| waits ? @classes.wait_for(course, user) : @classes.add(course, user) }
    end

    def find_room = @find_room ||= (@classes.with_code(code) unless instructor? || code.empty?)

    def check
      @course = find_room
      @errors[:code] = NO_CODE if course.nil? && !code.empty? && !instructor?
      if name.empty?
        @errors[:login] = (
          if instructor?
            "Enter the name you sign in with."
          else
            "Enter your name as it stands on your card."
          end
        )
      end
      @errors[:login] ||= "Keep it under 80 characters." if name.length > 80
      @errors[:password] = instructor? ? "Enter your password." : "Enter your PIN." if pin.empty?
    end
  end
end
