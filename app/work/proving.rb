# frozen_string_literal: true

module Work
  # What an adopted procedure finds, and whether its own expert earns full marks where it is used.
  class Proving
    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @digest = data.fetch(:digest)
      @procedure = data.fetch(:procedure).to_sym
      @overlay = data.fetch(:overlay)
    end

    def call(job)
      # What was changed again meanwhile is not worked out any more.
      return {} if @stores.proofs.find(@digest) || @stores.jobs.newer?(job)

      owner = @stores.users.find(job.owner_id)
      catalog = @stores.catalogs.of(owner)
      adopted = catalog.procedures.fetch(@procedure).adjusted(Nurv::Facts.of(@overlay))
      proof = Nurv::Fairness::Proof.new(catalog, adopted, @stores.stations.of(owner).map(&:station))
      @stores.proofs.keep(@digest, proof.to_h { |done| yield(done, proof.size) })
      {}
    end
  end
end
