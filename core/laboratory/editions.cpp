#include "core/laboratory/editions.h"

#include <algorithm>
#include <string_view>
#include <utility>

namespace fortitor::lab {
namespace {

// The editions against which the methods were written.
constexpr std::pair<std::string_view, std::string_view> kEditions[] = {
    {"ISO 6892-1", ":2019"}, {"ASTM E8/E8M", "-22"},    {"ISO 527-1", ":2019"},      {"ISO 527-2", ":2012"},
    {"ISO 527-4", ":2023"},  {"ISO 527-5", ":2021"},    {"ASTM D638", "-22"},        {"ASTM D3039", "-17"},
    {"ISO 604", ":2002"},    {"ISO 13061-17", ":2017"}, {"ASTM E9", "-19"},          {"ASTM E132", "-17"},
    {"ASTM C297", "-16"},    {"ISO 178", ":2019"},      {"ISO 13061-3/-4", ":2014"}, {"ASTM D143", "-22"},
    {"ISO 18338", ":2015"},  {"ISO 1183-1", ":2019"},   {"ISO 13061-2", ":2014"},    {"ISO 6508-1", ":2023"},
    {"ASTM E18", "-22"},     {"ISO 6506-1", ":2014"},   {"ASTM E10", "-18"},         {"ISO 6507-1", ":2023"},
    {"ASTM E92", "-17"},     {"ISO 18203", ":2016"},    {"ISO 4545-1", ":2023"},     {"ISO 148-1", ":2016"},
    {"ISO 180", ":2023"},    {"ASTM E23", "-18"},       {"ASTM D256", "-10"},        {"ISO 8256", ":2004"},
    {"ASTM D7136", "-20"},   {"ASTM D6264", "-17"},     {"ASTM D7137", "-17"},       {"ISO 7500-1", ":2018"},
    {"ISO 12107", ":2012"},  {"ASTM E739", "-10"},      {"EN 1993-1-9", ":2005"},
};

}  // namespace

std::string with_editions(const std::string& standards) {
  std::string out;
  for (size_t at = 0; at <= standards.size();) {
    const size_t end = std::min(standards.find(", ", at), standards.size());
    const std::string one = standards.substr(at, end - at);
    out += (out.empty() ? "" : ", ") + one;
    for (const auto& [designation, edition] : kEditions)
      if (one == designation) out += edition;
    at = end + 2;
  }
  return out;
}

}  // namespace fortitor::lab
