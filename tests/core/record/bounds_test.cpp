// Small files that unpack to more than a machine has, and things that are no files.
#include "core/record/bounds.h"

#include <gtest/gtest.h>
#include <sys/stat.h>
#include <unistd.h>
#include <zip.h>

#include <filesystem>
#include <fstream>

#include "core/bench/records.h"
#include "core/fatigue/signal.h"
#include "core/record/csv.h"
#include "core/record/machine_file.h"
#include "core/reference/library.h"

namespace fortitor::bounds_test {
namespace {

class Bounds : public testing::Test {
 protected:
  void SetUp() override {
    std::string name = testing::TempDir() + "/bounds-XXXXXX";
    folder_ = ::mkdtemp(name.data());
  }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  std::string path(const std::string& name) const { return folder_ + "/" + name; }
  std::string write(const std::string& name, const std::string& text) const {
    std::ofstream(path(name), std::ios::binary) << text;
    return path(name);
  }
  // A workbook of one sheet with these strings.
  std::string workbook(const std::string& name, const std::string& sheet, const std::string& strings) const {
    const std::string file = path(name);
    zip_t* zip = zip_open(file.c_str(), ZIP_CREATE | ZIP_TRUNCATE, nullptr);
    const std::vector<std::pair<std::string, std::string>> entries = {
        {"xl/workbook.xml", "<workbook><sheets><sheet name=\"S\" sheetId=\"1\" id=\"r1\"/></sheets></workbook>"},
        {"xl/_rels/workbook.xml.rels",
         "<Relationships><Relationship Id=\"r1\" Target=\"worksheets/sheet1.xml\"/></Relationships>"},
        {"xl/worksheets/sheet1.xml", sheet},
        {"xl/sharedStrings.xml", strings}};
    for (const auto& [entry, text] : entries)
      if (!text.empty()) zip_file_add(zip, entry.c_str(), zip_source_buffer(zip, text.data(), text.size(), 0), 0);
    zip_close(zip);
    return file;
  }
  std::string folder_;
};

std::string repeated(const std::string& text, size_t n) {
  std::string out;
  out.reserve(text.size() * n);
  for (size_t i = 0; i < n; ++i) out += text;
  return out;
}

TEST_F(Bounds, AnArchiveUnpacksToWhatItsSizeLets) {
  EXPECT_EQ(most_unpacked(0), size_t(64) << 20);
  EXPECT_EQ(most_unpacked(size_t(2) << 20), size_t(100) << 20);
  EXPECT_LE(most_unpacked(size_t(-1)), room_in_memory());
  EXPECT_GE(room_in_memory(), size_t(256) << 20);
}

TEST_F(Bounds, WorkbooksThatGrowAreRefused) {
  const std::string row = "<row><c t=\"s\"><v>0</v></c><c t=\"s\"><v>0</v></c></row>";
  // One string of a megabyte, named by thousands of cells; one of so many that their list is the bomb; blanks; far
  // columns.
  const std::vector<std::string> bombs = {
      workbook("amp.xlsx", "<worksheet><sheetData>" + repeated(row, 3000) + "</sheetData></worksheet>",
               "<sst><si><t>" + std::string(1000000, 'a') + "</t></si></sst>"),
      workbook("strings.xlsx", "<worksheet><sheetData>" + row + "</sheetData></worksheet>",
               "<sst>" + repeated("<si><t>a</t></si>", 3000000) + "</sst>"),
      workbook("blanks.xlsx", "<worksheet>" + std::string(size_t(70) << 20, ' ') + "</worksheet>", ""),
      workbook("wide.xlsx",
               "<worksheet><sheetData>" + repeated("<row><c r=\"FAM1\"><v>1</v></c></row>", 200000) +
                   "</sheetData></worksheet>",
               "")};
  for (const std::string& bomb : bombs) {
    const auto read = read_machine_file(bomb);
    ASSERT_FALSE(read) << bomb;
    EXPECT_NE(read.error().message.find("unpacks to more than"), std::string::npos) << read.error().message;
  }
  const auto fine = read_machine_file(workbook("fine.xlsx",
                                               "<worksheet><sheetData>" +
                                                   repeated("<row><c><v>1</v></c><c><v>2.5</v></c></row>", 50) +
                                                   "</sheetData></worksheet>",
                                               ""));
  ASSERT_TRUE(fine) << fine.error().message;
  EXPECT_EQ(fine->blocks.front().table.rows(), 50u);
}

TEST_F(Bounds, AGapOfAFewLinesFillsNothing) {
  fatigue::SignalSpec spec;
  spec.files = {write("jump.csv", "time,strain\n0,1\n0.01,2\n0.02,1\n5000000,2\n5000000.01,1\n")};
  const auto jumped = fatigue::open_signal(spec);
  ASSERT_FALSE(jumped);
  EXPECT_NE(jumped.error().message.find("row 4"), std::string::npos) << jumped.error().message;
  spec.files = {write("pause.csv", "time,strain\n0,1\n0.01,2\n0.02,1\n60,2\n60.01,1\n")};
  const auto paused = fatigue::open_signal(spec);
  ASSERT_TRUE(paused) << paused.error().message;
  EXPECT_NEAR(double((*paused)->size()), 6002, 1);
}

TEST_F(Bounds, ARecordOfAHundredMegabytesIsNotTakenApart) {
  std::string text =
      "{\"fortitor\":\"record/"
      "1\",\"method\":\"tension-metal\",\"run\":{\"channels\":{\"force\":{\"unit\":\"N\",\"values\":[";
  text += repeated("1,", size_t(20) << 20) + "1]}}}}";
  const auto read = record_from_json(text);
  ASSERT_FALSE(read);
  EXPECT_NE(read.error().message.find("MB"), std::string::npos) << read.error().message;
  EXPECT_FALSE(load_record(write("big.json", text)));
}

TEST_F(Bounds, PipesAndDevicesAreNoFiles) {
  ASSERT_EQ(::mkfifo(path("pipe").c_str(), 0600), 0);
  for (const std::string& what : {path("pipe"), std::string("/dev/zero"), folder_}) {
    EXPECT_FALSE(check_plain_file(what)) << what;
    const auto machine = read_machine_file(what);
    ASSERT_FALSE(machine) << what;
    EXPECT_NE(machine.error().message.find("not a file"), std::string::npos) << machine.error().message;
    EXPECT_FALSE(read_file(what)) << what;
    EXPECT_FALSE(load_record(what)) << what;
    fatigue::SignalSpec spec;
    spec.files = {what};
    EXPECT_FALSE(fatigue::open_signal(spec)) << what;
  }
  EXPECT_TRUE(check_plain_file(path("nothing"))) << "it may come to be";
}

TEST_F(Bounds, ABrokenShelfIsSetAside) {
  for (const char* text : {"{", "[]", "{\"fortitor\": 3}", "{\"fortitor\": \"reference/1\", \"materials\": 5}",
                           "{\"fortitor\": \"reference/1\", \"materials\": [{\"name\": \"x\", \"values\": {\"rm\": "
                           "{\"low\": \"a\", \"high\": 1}}}]}"}) {
    const auto loaded = load_own_reference(write("materials.json", text));
    ASSERT_FALSE(loaded) << text;
    EXPECT_NE(loaded.error().message.find("materials.json"), std::string::npos);
  }
}

}  // namespace
}  // namespace fortitor::bounds_test
