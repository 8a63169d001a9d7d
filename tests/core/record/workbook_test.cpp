// Workbooks of spreadsheet programs: every sheet a specimen, and hostile ones are refused with a sentence.
#include <gtest/gtest.h>
#include <zip.h>

#include <fstream>
#include <map>

#include "tests/c_text.h"
#include "tests/core/record/machine_blocks.h"

namespace fortitor::workbook_test {
namespace {

using namespace machine_blocks;

// A workbook as a spreadsheet program writes it.
std::string workbook(const std::map<std::string, std::string>& entries) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(nullptr, 0, 0, &error);
  zip_source_keep(source);
  zip_t* zip = zip_open_from_source(source, ZIP_TRUNCATE, &error);
  for (const auto& [name, text] : entries)
    zip_file_add(zip, name.c_str(), zip_source_buffer(zip, text.data(), text.size(), 0), ZIP_FL_OVERWRITE);
  zip_close(zip);
  zip_source_open(source);
  zip_source_seek(source, 0, SEEK_END);
  std::string out(size_t(zip_source_tell(source)), '\0');
  zip_source_seek(source, 0, SEEK_SET);
  zip_source_read(source, out.data(), out.size());
  zip_source_close(source);
  zip_source_free(source);
  return out;
}

std::map<std::string, std::string> two_sheets() {
  std::map<std::string, std::string> e;
  e["xl/workbook.xml"] =
      "<workbook xmlns:r=\"r\"><sheets><sheet name=\"Bar A\" sheetId=\"1\" r:id=\"rId2\"/>"
      "<sheet name=\"Bar B\" sheetId=\"2\" r:id=\"rId1\"/></sheets></workbook>";
  e["xl/_rels/workbook.xml.rels"] =
      "<Relationships><Relationship Id=\"rId1\" Target=\"worksheets/sheet2.xml\"/>"
      "<Relationship Id=\"rId2\" Target=\"worksheets/sheet1.xml\"/></Relationships>";
  e["xl/sharedStrings.xml"] =
      "<sst><si><t>Time</t></si><si><r><t>Load </t></r><r><t>[kN]</t></r></si><si><t>Zeit [h:min:s]</t></si></sst>";
  e["xl/styles.xml"] =
      "<styleSheet><numFmts><numFmt numFmtId=\"164\" formatCode=\"h:mm:ss.0\"/></numFmts>"
      "<cellXfs><xf numFmtId=\"0\"/><xf numFmtId=\"164\"/></cellXfs></styleSheet>";
  std::string one =
      "<worksheet><sheetData><row r=\"1\"><c r=\"A1\" t=\"s\"><v>0</v></c><c r=\"B1\" t=\"s\"><v>1</v></c></row>"
      "<row r=\"2\"><c r=\"A2\" t=\"inlineStr\"><is><t>s</t></is></c></row>";
  std::string two =
      "<worksheet><sheetData><row r=\"1\"><c r=\"B1\" t=\"s\"><v>2</v></c><c r=\"C1\" t=\"s\"><v>1</v></c></row>";
  for (int i = 0; i < 30; ++i) {
    const std::string r = std::to_string(i + 3);
    one += "<row r=\"" + r + "\"><c r=\"A" + r + "\"><v>" + c_number(0.1 * i) + "</v></c><c r=\"B" + r + "\"><v>" +
           c_number(0.5 * i) + "</v></c></row>";
    two += "<row><c r=\"B9\" s=\"1\"><v>" +
           [i] {
             char text[32];
             c_snprintf(text, sizeof text, "%.12f", 0.5 + i / 86400.0);
             return std::string(text);
           }() +
           "</v></c><c><v>" + c_number(0.25 * i) + "</v></c></row>";
  }
  e["xl/worksheets/sheet1.xml"] = one + "</sheetData></worksheet>";
  e["xl/worksheets/sheet2.xml"] = two + "</sheetData></worksheet>";
  return e;
}

TEST(Workbooks, EverySheetIsASpecimen) {
  const std::string path = testing::TempDir() + "fortitor-workbook.xlsx";
  std::ofstream(path, std::ios::binary) << workbook(two_sheets());
  const auto file = read_machine_file(path);
  ASSERT_TRUE(file) << file.error().message;
  EXPECT_EQ(file->encoding, "workbook");
  ASSERT_EQ(file->blocks.size(), 2u);
  EXPECT_EQ(file->blocks[0].title, "Bar A");
  EXPECT_EQ(file->blocks[1].title, "Bar B");
  const SamplesPtr a = samples_of(file->blocks[0]), b = samples_of(file->blocks[1]);
  EXPECT_NEAR(channel(a, "time").back(), 2.9, 1e-9);
  EXPECT_NEAR(channel(a, "force").back(), 14500, 1e-6);
  EXPECT_NEAR(channel(b, "time").back(), 29, 1e-3) << "a time of the clock, from its first";
  EXPECT_NEAR(channel(b, "force").back(), 7250, 1e-6);
}

TEST(Workbooks, HostileOnesAreRefused) {
  auto e = two_sheets();
  e["xl/worksheets/sheet1.xml"] =
      "<!DOCTYPE w [<!ENTITY a \"aaaa\"><!ENTITY b \"&a;&a;&a;\">]><worksheet><sheetData><row><c><v>&b;</v></c></row>"
      "</sheetData></worksheet>";
  const auto text = workbook_text(workbook(e));
  ASSERT_FALSE(text) << "entities are not unfolded";
  EXPECT_NE(text.error().message.find("Bar A"), std::string::npos);
  e["xl/worksheets/sheet1.xml"] = std::string(size_t(3) << 20, ' ');
  const auto bomb = workbook_text(workbook(e), size_t(2) << 20);
  ASSERT_FALSE(bomb);
  EXPECT_NE(bomb.error().message.find("more than 2 MB"), std::string::npos);
  EXPECT_FALSE(workbook_text(workbook({{"word/document.xml", "<w/>"}})));
}

}  // namespace
}  // namespace fortitor::workbook_test
