// Units that are put together: an SI prefix before an SI unit, products, quotients and powers ("mN·m", "N·mm⁻²",
// "g/cc", "lb/in³"). The table of units holds those that are shown; this reads whatever else is physically one of its
// dimensions.
#include <cmath>
#include <deque>
#include <map>
#include <mutex>

#include "core/quantity/unit_table.h"

namespace fortitor::units {
namespace {

// A quantity in kg, m, s; angles and cycles are kept apart, for a rad is no ratio and a Hz no 1/s.
struct Physical {
  double factor = 1;
  int kg = 0, m = 0, s = 0, rad = 0, cycle = 0;
  bool us = false;
  bool same_kind(const Physical& o) const {
    return kg == o.kg && m == o.m && s == o.s && rad == o.rad && cycle == o.cycle;
  }
  void times(const Physical& o, int power) {
    factor *= std::pow(o.factor, power);
    kg += power * o.kg, m += power * o.m, s += power * o.s, rad += power * o.rad, cycle += power * o.cycle;
    us = us || o.us;
  }
};

// Prefixes that stand before a unit; "Mm" and "Ms" are more often a slip for mm and ms than anything measured.
constexpr std::string_view kAll = "all", kSmall = "nu m c d k", kTiny = "nu m", kMasses = "nu m k M";
struct Atom {
  std::string_view spelling;
  Physical is;
  std::string_view prefixes = {};
};

const std::vector<Atom>& atoms() {
  static const std::vector<Atom> all = {{"m", {1, 0, 1}, kSmall},
                                        {"g", {1e-3, 1}, kMasses},
                                        {"s", {1, 0, 0, 1}, kTiny},
                                        {"N", {1, 1, 1, -2}, kAll},
                                        {"Pa", {1, 1, -1, -2}, kAll},
                                        {"J", {1, 1, 2, -2}, kAll},
                                        {"Hz", {1, 0, 0, -1, 0, 1}, kAll},
                                        {"rad", {1, 0, 0, 0, 1}, kAll},
                                        {"bar", {1e5, 1, -1, -2}, kAll},
                                        {"min", {60, 0, 0, 1}},
                                        {"h", {3600, 0, 0, 1}},
                                        {"d", {86400, 0, 0, 1}},
                                        {"deg", {kDegree, 0, 0, 0, 1}},
                                        {"rev", {2 * std::numbers::pi, 0, 0, 0, 1}},
                                        {"cc", {1e-6, 0, 3}},
                                        {"l", {1e-3, 0, 3}, "m c d"},
                                        {"L", {1e-3, 0, 3}, "m c d"},
                                        {"t", {1e3, 1}},
                                        {"kgf", {kG0, 1, 1, -2}},
                                        {"kp", {kG0, 1, 1, -2}},
                                        {"gf", {1e-3 * kG0, 1, 1, -2}},
                                        {"tf", {1e3 * kG0, 1, 1, -2}},
                                        {"in", {1e-3 * kInch, 0, 1, 0, 0, 0, true}},
                                        {"ft", {1e-3 * kFoot, 0, 1, 0, 0, 0, true}},
                                        {"mil", {1e-6 * kInch, 0, 1, 0, 0, 0, true}},
                                        {"lb", {kPound, 1, 0, 0, 0, 0, true}},
                                        {"lbs", {kPound, 1, 0, 0, 0, 0, true}},
                                        {"oz", {kPound / 16, 1, 0, 0, 0, 0, true}},
                                        {"lbf", {kLbf, 1, 1, -2, 0, 0, true}},
                                        {"kip", {1e3 * kLbf, 1, 1, -2, 0, 0, true}},
                                        {"psi", {1e6 * kPsi, 1, -1, -2, 0, 0, true}},
                                        {"ksi", {1e9 * kPsi, 1, -1, -2, 0, 0, true}}};
  return all;
}

// Folded spellings: µ is u.
constexpr std::pair<std::string_view, double> kPrefixes[] = {{"da", 1e1}, {"n", 1e-9}, {"u", 1e-6}, {"m", 1e-3},
                                                             {"c", 1e-2}, {"d", 1e-1}, {"h", 1e2},  {"k", 1e3},
                                                             {"M", 1e6},  {"G", 1e9},  {"T", 1e12}};

std::optional<Physical> atom_of(std::string_view word) {
  for (const Atom& a : atoms())
    if (a.spelling == word) return a.is;
  for (const auto& [prefix, factor] : kPrefixes) {
    if (word.size() <= prefix.size() || word.compare(0, prefix.size(), prefix) != 0) continue;
    for (const Atom& a : atoms())
      if ((a.prefixes == kAll || (prefix.size() == 1 && a.prefixes.find(prefix) != std::string_view::npos)) &&
          a.spelling == word.substr(prefix.size())) {
        Physical p = a.is;
        p.factor *= factor;
        return p;
      }
  }
  return std::nullopt;
}

// "N.mm-2", "kN/mm2", "1/s": factors parted by points and strokes, each with a whole power behind it.
std::optional<Physical> physical_of(std::string_view folded) {
  Physical out;
  int way = 1;
  for (size_t at = 0; at < folded.size();) {
    size_t end = at;
    while (end < folded.size() && folded[end] != '.' && folded[end] != '/') ++end;
    std::string_view word = folded.substr(at, end - at);
    int power = 1;
    if (!word.empty() && word.back() >= '1' && word.back() <= '4' && word.size() > 1) {
      power = word.back() - '0';
      word.remove_suffix(1);
      if (word.back() == '-') power = -power, word.remove_suffix(1);
    }
    if (word != "1" || power != 1) {
      const auto atom = atom_of(word);
      if (!atom) return std::nullopt;
      out.times(*atom, way * power);
    }
    if (end == folded.size()) break;
    if (end + 1 == folded.size()) return std::nullopt;  // nothing behind the last sign
    way = folded[end] == '/' ? -1 : 1;
    at = end + 1;
  }
  return out;
}

// Each dimension by the unit in which it is kept.
const std::vector<std::pair<D, Physical>>& kept_in() {
  static const std::vector<std::pair<D, Physical>> all = [] {
    std::vector<std::pair<D, Physical>> out = {{D::strain, Physical{}}};
    for (const Unit& u : kUnits)
      if (u.factor == 1 && u.offset == 0 && u.dimension != D::temperature && u.dimension != D::strain &&
          u.dimension != D::percent)
        if (const auto p = physical_of(folded_symbol(u.symbol))) out.emplace_back(u.dimension, *p);
    return out;
  }();
  return all;
}

}  // namespace

const Unit* composed(std::string_view folded, std::string_view typed, std::optional<D> wanted) {
  const auto p = physical_of(folded);
  if (!p) return nullptr;
  // Without a wish newtons times metres turn, and do no work.
  const bool turns = folded.find('.') != std::string_view::npos;
  const std::pair<D, Physical>* found = nullptr;
  for (const auto& one : kept_in()) {
    if (!one.second.same_kind(*p) || (wanted && one.first != base_dimension(*wanted))) continue;
    if (found == nullptr || (!wanted && turns && one.first == D::torque)) found = &one;
  }
  if (found == nullptr) return nullptr;
  // Kept for good: readings point to their unit.
  struct Kept {
    std::string symbol;
    Unit unit;
  };
  static std::mutex guard;
  static std::deque<Kept> kept;
  static std::map<std::pair<std::string, D>, const Unit*> known;
  const std::lock_guard lock(guard);
  const Unit*& unit = known[{std::string(typed), found->first}];
  if (unit == nullptr) {
    Kept& k = kept.emplace_back();
    k.symbol = std::string(typed);
    k.unit = Unit{k.symbol, found->first, p->factor / found->second.factor, 0, p->us};
    unit = &k.unit;
  }
  return unit;
}

}  // namespace fortitor::units
