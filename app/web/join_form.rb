# frozen_string_literal: true

module Web
  # A trainee joins with a class code, their name and a PIN.
  class JoinForm < Form
    attr_reader :room, :user

    def initialize(raw, classes, users)
      super(raw)
      @classes = classes
      @users = users
    end

    # Signs the trainee in, adding them to the class if they are new to it.
    def join
      @user = @classes.member_named(room, self[:name])
      return @user = add unless @user
      return @user if @users.pin?(@user, self[:pin])

      @errors[:pin] = "That is not the PIN of #{@user.name} in this class. Check it, or ask your instructor to let you choose a new one."
      @user = nil
    end

    private

    def add = @users.create_trainee(self[:name].squeeze(" "), room.join_code, self[:pin]).tap { |user| @classes.add(room, user) }

    def check
      @room = @classes.with_code(self[:code])
      @errors[:code] = "There is no class with that code. It has six letters and digits, like K7QX2M." unless room
      need(:name, "Enter your name as your instructor has it on the roster.", most: 80)
      @errors[:pin] = "Choose a PIN of four to eight digits." unless self[:pin].match?(RosterForm::PIN)
    end
  end
end
