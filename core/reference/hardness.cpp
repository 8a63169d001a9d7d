#include "core/reference/hardness.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/plain.h"

namespace fortitor {

extern const std::string_view kShippedHardness;

namespace {

constexpr std::array kScales = {
    RockwellScale{"A", 0, 10, 60, 100, 0.002, 20, 95},
    RockwellScale{"C", 0, 10, 150, 100, 0.002, 20, 70},
    RockwellScale{"D", 0, 10, 100, 100, 0.002, 40, 77},
    RockwellScale{"B", 1.5875, 10, 100, 130, 0.002, 10, 100},
    RockwellScale{"F", 1.5875, 10, 60, 130, 0.002, 60, 100},
    RockwellScale{"G", 1.5875, 10, 150, 130, 0.002, 30, 94},
    RockwellScale{"E", 3.175, 10, 100, 130, 0.002, 70, 100},
    RockwellScale{"H", 3.175, 10, 60, 130, 0.002, 80, 100},
    RockwellScale{"K", 3.175, 10, 150, 130, 0.002, 40, 100},
    RockwellScale{"L", 6.35, 10, 60, 130, 0.002},
    RockwellScale{"M", 6.35, 10, 100, 130, 0.002},
    RockwellScale{"P", 6.35, 10, 150, 130, 0.002},
    RockwellScale{"R", 12.7, 10, 60, 130, 0.002},
    RockwellScale{"S", 12.7, 10, 100, 130, 0.002},
    RockwellScale{"V", 12.7, 10, 150, 130, 0.002},
    RockwellScale{"15N", 0, 3, 15, 100, 0.001, 70, 94},
    RockwellScale{"30N", 0, 3, 30, 100, 0.001, 42, 86},
    RockwellScale{"45N", 0, 3, 45, 100, 0.001, 20, 77},
    RockwellScale{"15T", 1.5875, 3, 15, 100, 0.001, 67, 93},
    RockwellScale{"30T", 1.5875, 3, 30, 100, 0.001, 29, 82},
    RockwellScale{"45T", 1.5875, 3, 45, 100, 0.001, 10, 72},
    RockwellScale{"15W", 3.175, 3, 15, 100, 0.001},
    RockwellScale{"30W", 3.175, 3, 30, 100, 0.001},
    RockwellScale{"45W", 3.175, 3, 45, 100, 0.001},
    RockwellScale{"15X", 6.35, 3, 15, 100, 0.001},
    RockwellScale{"30X", 6.35, 3, 30, 100, 0.001},
    RockwellScale{"45X", 6.35, 3, 45, 100, 0.001},
    RockwellScale{"15Y", 12.7, 3, 15, 100, 0.001},
    RockwellScale{"30Y", 12.7, 3, 30, 100, 0.001},
    RockwellScale{"45Y", 12.7, 3, 45, 100, 0.001},
};

std::string upper(std::string_view s) {
  std::string out;
  for (char c : s) out += c >= 'a' && c <= 'z' ? char(c - 'a' + 'A') : c;
  return out;
}

// Rows of the shipped table; NaN where it has no value.
struct ConversionTable {
  std::vector<std::string> scales;
  std::vector<std::vector<double>> rows;
};

const ConversionTable& table() {
  static const ConversionTable t = [] {
    ConversionTable out;
    std::string_view text = kShippedHardness;
    bool head = true;
    while (!text.empty()) {
      const size_t end = std::min(text.find('\n'), text.size());
      std::string line(text.substr(0, end));
      text.remove_prefix(std::min(end + 1, text.size()));
      if (!line.empty() && line.back() == '\r') line.pop_back();
      if (line.empty()) continue;
      std::vector<std::string> cells(1);
      for (char c : line)
        if (c == ',')
          cells.emplace_back();
        else
          cells.back() += c;
      if (head) {
        out.scales = cells;
      } else {
        std::vector<double> row;
        for (const std::string& c : cells) row.push_back(plain::number(c).value_or(NAN));
        row.resize(out.scales.size(), NAN);
        out.rows.push_back(std::move(row));
      }
      head = false;
    }
    return out;
  }();
  return t;
}

std::optional<size_t> column_of(const std::string& name) {
  std::string wanted = upper(name);
  if (wanted == "HB" || wanted == "HBW" || wanted == "BRINELL") wanted = "HBW";
  if (wanted == "VICKERS") wanted = "HV";
  if (wanted == "KNOOP") wanted = "HK";
  if (const RockwellScale* s = find_rockwell(wanted)) wanted = s->symbol();
  const auto& scales = table().scales;
  const auto it = std::find(scales.begin(), scales.end(), wanted);
  if (it == scales.end()) return std::nullopt;
  return size_t(it - scales.begin());
}

}  // namespace

std::string RockwellScale::indenter() const {
  return diamond() ? "diamond cone 120°" : "ball " + significant(ball, 5) + " mm";
}

std::span<const RockwellScale> rockwell_scales() {
  return kScales;
}

const RockwellScale* find_rockwell(std::string_view name) {
  std::string wanted = upper(name);
  if (wanted.rfind("HR", 0) == 0) wanted = wanted.substr(2);
  for (const RockwellScale& s : kScales)
    if (wanted == s.id) return &s;
  for (const RockwellScale& s : kScales)
    if (!s.diamond() && (wanted == std::string(s.id) + "W" || wanted == std::string(s.id) + "S")) return &s;
  return nullptr;
}

const std::vector<std::string>& converted_scales() {
  return table().scales;
}

Outcome<double> convert_hardness(double value, const std::string& from, const std::string& to) {
  const auto a = column_of(from), b = column_of(to);
  auto list = [] {
    std::string words;
    for (const std::string& s : table().scales) words += (words.empty() ? "" : ", ") + s;
    return words;
  };
  if (!a) return InputError{"“" + from + "” is not among the scales that are converted: " + list() + ".", {}};
  if (!b) return InputError{"“" + to + "” is not among the scales that are converted: " + list() + ".", {}};
  double low = HUGE_VAL, high = -HUGE_VAL;
  const std::vector<double>* above = nullptr;  // the row before, harder
  for (const std::vector<double>& row : table().rows) {
    if (!std::isfinite(row[*a])) {
      above = nullptr;
      continue;
    }
    if (std::isfinite(row[*b])) {
      low = std::min(low, row[*a]);
      high = std::max(high, row[*a]);
      if (value == row[*a]) return row[*b];
      // Where the two parts of the table meet the harder row of the pair may be the softer of the next: rows that do
      // not fall are no pair.
      if (above != nullptr && value < (*above)[*a] && value > row[*a] && std::isfinite((*above)[*b])) {
        const double share = (value - row[*a]) / ((*above)[*a] - row[*a]);
        return row[*b] + share * ((*above)[*b] - row[*b]);
      }
    }
    above = &row;
  }
  const std::string from_name = table().scales[*a], to_name = table().scales[*b];
  if (!(high >= low)) return InputError{"The table has no row with both " + from_name + " and " + to_name + ".", {}};
  return InputError{plain_number(value, 5) + " " + from_name + " is outside the table: it converts to " + to_name +
                        " from " + plain_number(low, 4) + " to " + plain_number(high, 4) + " " + from_name + ".",
                    {}};
}

std::vector<ConvertedHardness> hardness_in_all_scales(double value, const std::string& from) {
  std::vector<ConvertedHardness> out;
  for (const std::string& scale : table().scales)
    if (const auto v = convert_hardness(value, from, scale)) out.push_back({scale, *v});
  return out;
}

bool converts(const std::string& family) {
  const std::string f = upper(family);
  return f.find("STEEL") != std::string::npos && f.find("AUSTENITIC") == std::string::npos &&
         f.find("STAINLESS") == std::string::npos;
}

bool strength_can_be_estimated(const std::string& family) {
  const std::string f = upper(family);
  return converts(family) && f.find("HIGH-STRENGTH") == std::string::npos && f.find("TOOL") == std::string::npos;
}

double strength_of_brinell(double hb) {
  return 3.45 * hb;
}

double strength_of_vickers(double hv) {
  return hv * kStandardGravity / 3;
}

}  // namespace fortitor
