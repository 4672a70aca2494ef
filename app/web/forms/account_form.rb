# frozen_string_literal: true

module Web
  # The first instructor of an empty system, or a further one.
  class AccountForm < Form
    def initialize(raw, users)
      super(raw)
      @users = users
    end

    private

    def check
      need(:name, "Enter a name, like Maren Vosk.", most: 80)
      need(:login, "Enter the name to sign in with, like maren.", most: 40)
      @errors[:login] ||= "Use letters, digits, dots and dashes only." unless self[:login].match?(
        /\A[A-Za-z0-9.\-_]+\z/
      )
      @errors[:login] ||= "That name is taken. Choose another." if @users.taken?(self[:login])
      @errors[:password] = "A password has at least eight characters." if self[:password].length < 8
    end
  end
end
