// Every finding that core can raise is named in some test, so that none can fall silent or cry without one noticing.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>

namespace fortitor::findings_named_test {
namespace {

namespace fs = std::filesystem;

std::string text_of(const fs::path& path) {
  std::ifstream in(path);
  std::stringstream out;
  out << in.rdbuf();
  return out.str();
}

// Codes stand before the severity in the same statement, or after ".code = ".
std::set<std::string> codes_in(const std::string& code) {
  std::set<std::string> out;
  static const std::regex word(R"re("([a-z0-9]+(?:-[a-z0-9]+)*)")re"), set(R"re(\.code = "([a-z0-9-]+)")re");
  for (size_t at = code.find("Severity::"); at != std::string::npos; at = code.find("Severity::", at + 1)) {
    size_t from = code.find_last_of(";{", at);
    from = from == std::string::npos ? 0 : from + 1;
    const std::string before = code.substr(from, at - from);
    for (std::sregex_iterator it(before.begin(), before.end(), word), end; it != end; ++it) out.insert((*it)[1]);
  }
  for (std::sregex_iterator it(code.begin(), code.end(), set), end; it != end; ++it) out.insert((*it)[1]);
  return out;
}

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
