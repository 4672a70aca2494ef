# frozen_string_literal: true

require "support/web"

RSpec.describe Web::RosterForm do
  def form(text, taken = []) = described_class.new({"roster" => text}, taken)

  def problems(text, taken = []) = form(text, taken).problems.map { |line| [line.number, line.problem] }

  it "takes names with and without PINs, with a heading or without, quoted or plain" do
    [
      "Name,PIN\nAsa Pell,4821\n\"Quill, Bo\",\nWenna  Orme",
      "Asa Pell,4821\n\n\"Quill, Bo\"\nWenna Orme,\n"
    ].each do |text|
      expect(form(text)).to be_valid
      expect(form(text).entries).to eq(
        [{name: "Asa Pell", pin: "4821"}, {name: "Quill, Bo", pin: nil}, {name: "Wenna Orme", pin: nil}]
      )
    end
  end

  it "reads a spreadsheet's file in either encoding, with its mark at the beginning" do
    file = ->(bytes) { {"file" => {"tempfile" => StringIO.new(bytes.b)}} }
    ["\uFEFFZoë Hård,4821\n", "Zoë Hård,4821\n", "Zoë Hård,4821\r\n".encode("Windows-1252")].each do |bytes|
      expect(described_class.new(file.call(bytes), []).entries).to eq([{name: "Zoë Hård", pin: "4821"}])
    end
  end

  it "says of every bad line what is wrong, by its number, and keeps the rest in sight" do
    expect(problems("Asa Pell,48\nBo Quill,4821\n,4821\nasa pell\nBo Quill,1,2\n#{"x" * 81}\n")).to match(
      [
        [1, /“48” is not a PIN/],
        [3, "There is no name."],
        [4, "asa pell stands on line 1 already."],
        [5, "Bo Quill stands on line 2 already."],
        [6, /at most 80/]
      ]
    )
    expect(problems("Teo\nUna", ["TEO"])).to eq([[1, "Teo is in the class already."]])
    expect(problems("Asa Pell,4821,Sixth form")).to match([[1, /3 columns/]])
    expect(form("Asa Pell,48\nBo Quill,4821").lines.map(&:name)).to eq(["Asa Pell", "Bo Quill"])
  end

  it "takes nothing of an empty list, nor of one with a bad line" do
    expect(form("  \n")).not_to be_valid
    bad = form("Asa Pell,48\nBo Quill,x\nUna")
    expect(bad).not_to be_valid
    expect(bad.errors[:roster]).to eq("Nothing was taken: put these 2 lines right first.")
  end
end
