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

  context "with a table of tags" do
    let(:plain) { Sequel.connect(adapter: "sqlite", database: @database.opts[:database]) }
    let(:drawer) { Store::Drawer.new(Struct.new(:database).new(@database)) }
    let(:hung) { {name: "B", hung: true, psi: 1.5, at: Time.utc(2026, 3, 2, 8, 30, 1.25r)} }
    let(:loose) { {name: "it's \n loose", hung: false, psi: nil, at: nil} }

    before do
      plain.create_table(:tags) do
        primary_key :id
        String :name
        TrueClass :hung
        Float :psi
        Time :at
      end
    end

    after { plain.disconnect }

    def ask(id) = drawer.send(:ask, :tag_by_number, id: id) { @database[:tags].where(id: :$id) }

    def hang(**row) = drawer.send(:change, :hang_tag, **row) {
      @database[:tags].prepare(:insert, :hang_tag, row.to_h { |name, _| [name, :"$#{name}"] })
    }

    def rename(id, name) = drawer.send(:change, :rename_tag, id: id, name: name) {
      @database[:tags].where(id: :$id).prepare(:update, :rename_tag, name: :$name)
    }

    it "give rows as Sequel reads them, asked once or a hundred times, also once the columns are others" do
      [hung, loose].each { |row| plain[:tags].insert(row) }
      expected = plain[:tags].order(:id).all
      expect(@database[:tags].order(:id).all).to eq(expected)
      3.times { expect([1, 2].flat_map { |id| ask(id) }).to eq(expected) }
      expect(ask(3)).to eq([])
      @database.alter_table(:tags) { add_column :note, String, default: "none" }
      expect(ask(2)).to eq([expected.last.merge(note: "none")])
    end

    it "write what Sequel would write, and say how many rows it was" do
      [hung, loose].each { |row| expect(hang(**row)).to eq(1) }
      [hung, loose].each { |row| plain[:tags].insert(row) }
      as_kept = "SELECT name, typeof(hung), hung, typeof(psi), psi, typeof(at), at FROM tags ORDER BY id"
      written = plain.fetch(as_kept).all
      expect(written.first(2)).to eq(written.last(2))
      expect([rename(2, "D"), rename(9, "E")]).to eq([1, 0])
      expect(plain[:tags].order(:id).select_map(:name)).to eq(["B", "D", "B", "it's \n loose"])
    end

    it "say what is wrong as Sequel says it, and answer again after it" do
      @database.alter_table(:tags) { add_unique_constraint(:name) }
      hang(**hung)
      expect { hang(**hung) }.to raise_error(Sequel::UniqueConstraintViolation)
      expect(ask(1).first).to include(name: "B")
      plain.drop_table(:tags)
      expect { ask(1) }.to raise_error(Sequel::DatabaseError, /tags/)
    end
  end
end
