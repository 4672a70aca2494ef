# frozen_string_literal: true

require "digest"

module Store
  # What was worked out of adopted procedures, kept by content: the same procedure at the same stations under the same
  # facts is worked out once. It may be thrown away at any time.
  class Proofs < Drawer
    MOST = 200

    def initialize(stores)
      super
      @rows = @database[:proofs]
    end

    # @param catalog [Nurv::Catalog]
    # @param procedure [Symbol]
    # @param overlay [Hash]
    # @param bodies [Array<String>] of the stations where it is used
    # @return [String] alike for what comes out alike
    def digest(catalog, procedure, overlay, bodies)
      what = [Nurv::Grading::Grader::RULES, Nurv::Hydraulics::VERSION, catalog.digest, procedure, overlay, bodies]
      Digest::SHA256.hexdigest(JSON.generate(what))[0, 32]
    end

    # @return [Hash, nil] as Nurv::Fairness::Proof#to_h has it, read back from JSON
    def find(digest)
      body = @rows.where(digest: digest).get(:body)
      body && JSON.parse(body, symbolize_names: true)
    end

    def keep(digest, proof)
      @database.transaction do
        @rows.insert_conflict(:replace).insert(digest: digest, body: JSON.generate(proof), made_ms: Clock.wall_ms)
        old = @rows.order(Sequel.desc(:made_ms)).offset(MOST).select_map(:digest)
        @rows.where(digest: old).delete if old.any?
      end
    end
  end
end
