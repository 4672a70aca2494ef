# frozen_string_literal: true

module Work
  # A class out of an archive.
  class Importing
    def initialize(data)
      @file = data.fetch(:file)
    end

    def call(job, &)
      path = Files.path(@file)
      owner = Store::Users.new.find(job.owner_id)
      room = File.open(path, "rb") { |io| Store::Archive.new.unpack(owner, io, &) }
      FileUtils.rm_f(path)
      Store::Audits.new.note(owner, "imported a class", "class #{room.id}", room.name)
      {to: "/classes/#{room.id}", words: "#{room.name} is imported. Cards with new PINs are on its page."}
    end
  end
end
