# frozen_string_literal: true

module Work
  # A class out of an archive.
  class Importing
    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @file = data.fetch(:file)
    end

    def call(job, &)
      path = Files.path(@file)
      owner = @stores.users.find(job.owner_id)
      course = File.open(path, "rb") { |io| @stores.archive.unpack(owner, io, &) }
      FileUtils.rm_f(path)
      @stores.audits.note(owner, "imported a class", "class #{course.id}", course.name)
      {to: "/classes/#{course.id}", words: "#{course.name} is imported. Cards with new PINs are on its page."}
    end
  end
end
