// Paths of fields that stand as text in the code: each must be a field that some method declares, or the beginning of
// one. A typing mistake in a path reads as "not given" and is never noticed otherwise.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>

#include "core/bench/kit.h"
#include "core/laboratory/entry.h"
#include "core/methods/method.h"
#include "core/series/series.h"
#include "core/spectrum/spectrum.h"

namespace fortitor::field_paths_test {
namespace {

std::set<std::string> declared() {
  std::set<std::string> all;
  for (const Method* m : methods::all()) {
    for (const FieldSpec& f : m->fields) all.insert(f.path);
    for (const FieldSpec& f : series_schema(*m).fields) all.insert(f.path);
    for (const TableSpec& t : m->tables) all.insert("run." + t.id);
    for (const ChannelSpec& c : m->channels) all.insert("run.channels." + c.name);
  }
  for (const FieldSpec& f : spectrum::schema().fields) all.insert(f.path);
  for (const TableSpec& t : spectrum::schema().tables) all.insert("run." + t.id);
  std::vector<std::string> kinds = {std::string(kit::kBench)};
  for (const EquipmentSlot& slot : kit::kinds()) kinds.push_back(slot.id);
  for (const std::string& kind : kinds)
    for (const FieldSpec& f : kit::schema(kind).fields) all.insert(f.path);
  for (const std::string_view kind : {lab::kCustomer, lab::kJob, lab::kHead, lab::kTemplate, lab::kPerson})
    for (const FieldSpec& f : lab::schema(kind).fields) all.insert(f.path);
  return all;
}

// A field of that name, or fields under it.
bool known(const std::set<std::string>& all, std::string path) {
  if (all.count(path) != 0) return true;
  if (path.back() != '.') path += '.';
  const auto next = all.lower_bound(path);
  return next != all.end() && next->compare(0, path.size(), path) == 0;
}

TEST(FieldPaths, EveryPathInTheCodeIsAFieldOfAMethod) {
  namespace fs = std::filesystem;
  const std::set<std::string> all = declared();
  // Kept by the book beside the record, or put together from parts.
  const std::set<std::string> elsewhere = {"settings.checks.", "run.unload.", "run.", "settings.", "run.file",
                                           // as earlier versions wrote them
                                           "equipment.standin.metal", "settings.speed.method"};
  const std::regex literal(R"re("((?:specimen|equipment|conditions|settings|run)\.[A-Za-z0-9_.]*)")re");
  size_t seen = 0;
  for (const char* floor : {"core", "store", "report", "app", "cli"})
    for (const auto& file : fs::recursive_directory_iterator(fs::path(FORTITOR_SOURCE_DIR) / floor)) {
      if (file.path().extension() != ".cpp" && file.path().extension() != ".h") continue;
      std::ifstream in(file.path());
      std::string line;
      for (int n = 1; std::getline(in, line); ++n) {
        const size_t comment = line.find("//");
        if (comment != std::string::npos) line.resize(comment);
        for (std::sregex_iterator it(line.begin(), line.end(), literal), end; it != end; ++it) {
          const std::string path = (*it)[1];
          ++seen;
          EXPECT_TRUE(elsewhere.count(path) != 0 || known(all, path))
              << file.path().string() << ":" << n << ": no method declares " << path;
        }
      }
    }
  EXPECT_GT(seen, 300u) << "the search itself works";
}

}  // namespace
}  // namespace fortitor::field_paths_test
