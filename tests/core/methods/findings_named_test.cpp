// Every finding that core can raise is named in some test, so that none can fall silent or cry without one noticing.
#include <gtest/gtest.h>

#include "tests/core/methods/source_text.h"

namespace fortitor::findings_named_test {
namespace {

namespace fs = std::filesystem;

TEST(FindingsNamed, EveryCodeOfCoreStandsInSomeTest) {
  const fs::path source = FORTITOR_SOURCE_DIR;
  std::set<std::string> codes;
  for (const auto& file : fs::recursive_directory_iterator(source / "core"))
    if (file.path().extension() == ".cpp") codes.merge(codes_in(text_of(file.path())));
  EXPECT_GT(codes.size(), 80u) << "the search itself works";
  EXPECT_EQ(codes.count("slip"), 1u);
  EXPECT_EQ(codes.count("differs-from-signed"), 1u);
  std::string tests;
  for (const auto& file : fs::recursive_directory_iterator(source / "tests")) {
    const std::string name = file.path().filename().string();
    if (file.path().extension() == ".cpp" || name == "expected.json") tests += text_of(file.path());
  }
  for (const std::string& code : codes)
    EXPECT_NE(tests.find('"' + code + '"'), std::string::npos) << code << " is raised by core and named in no test";
}

}  // namespace
}  // namespace fortitor::findings_named_test
