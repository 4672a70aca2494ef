# frozen_string_literal: true

require "support/web"
require "tmpdir"

# All acts of a class go through a handful of connections, and those in a transaction are waited for by every process.
RSpec.describe "The database's connections" do
  around do |example|
    Dir.mktmpdir do |folder|
      @database = Database.connect(File.join(folder, "asked.sqlite3"), threads: 1)
      example.run
    ensure
      @database&.disconnect
    end
  end

  def lock_of(pool) = pool.instance_variable_get(:@mutex)

  it "are nobody's to wait for once one has them: what is begun goes on while others come and go" do
    begun = Queue.new
    go_on = Queue.new
    answers = []
    writer =
      Thread.new do
        @database.transaction do
          begun << true
          go_on.pop
          answers << @database.get(1)
        end
      end
    begun.pop
    lock_of(@database.pool).synchronize do
      go_on << true
      500.times { answers.any? ? break : sleep(0.01) }
      expect(answers).to eq([1])
    end
    writer.join
  end

  it "are given back without a rest while their lock is held" do
    rests = []
    @database.pool.define_singleton_method(:sleep) { |*seconds| rests << seconds }
    20.times { @database.get(1) }
    expect(rests).to eq([])
  end

  it "come to whoever waits when all are taken" do
    held = Queue.new
    let_go = Queue.new
    holders = Array.new(3) { Thread.new { @database.synchronize { held << true && let_go.pop } } }
    3.times { held.pop }
    waiting = Thread.new { @database.get(1) }
    expect(waiting.join(0.05)).to be_nil
    let_go << true
    expect(waiting.value).to eq(1)
    2.times { let_go << true }
    holders.each(&:join)
  end

  it "give rows as Sequel reads them, asked once or a hundred times, also once the columns are others" do
    plain = Sequel.connect(adapter: "sqlite", database: @database.opts[:database])
    plain.create_table(:tags) do
      primary_key :id
      String :name
      TrueClass :hung
      Float :psi
      Time :at
    end
    plain[:tags].insert(name: "B", hung: true, psi: 1.5, at: Time.utc(2026, 3, 2, 8, 30, 1.25r))
    plain[:tags].insert(name: nil, hung: false, psi: nil, at: nil)
    expected = plain[:tags].order(:id).all
    expect(@database[:tags].order(:id).all).to eq(expected)
    asked = @database[:tags].where(id: :$id).prepare(:select, :tag_by_number)
    3.times { expect([1, 2].flat_map { |id| asked.call(id: id) }).to eq(expected) }
    @database.alter_table(:tags) { add_column :note, String, default: "none" }
    expect(asked.call(id: 2)).to eq([expected.last.merge(note: "none")])
  ensure
    plain&.disconnect
  end
end
