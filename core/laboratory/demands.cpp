#include "core/laboratory/demands.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/plain.h"

namespace fortitor::lab {
namespace {

constexpr double kSameTemperature = 0.5;  // °C: as far as a bath is held and typed
constexpr double kLeastShare = 0.7;       // of the limit, for a single piece of a set (EN 10021)
constexpr int kPiecesForOne = 2;          // made anew for each that failed (EN 10021)

std::string limit_words(const Limit& limit) {
  const bool min = limit.min && limit.min->value, max = limit.max && limit.max->value;
  if (min && max) return limit.min->typed + " to " + limit.max->typed;
  return min ? "≥ " + limit.min->typed : max ? "≤ " + limit.max->typed : "no limit";
}

bool same_rows(const DemandRow& a, const DemandRow& b) {
  return a.method == b.method && a.key == b.key && a.thickness == b.thickness && a.temperature == b.temperature;
}

}  // namespace

bool ThicknessRange::holds(double thickness) const {
  return (!above || !above->value || thickness > *above->value) && (!to || !to->value || thickness <= *to->value);
}

std::string ThicknessRange::words() const {
  if (above && to) return "above " + above->typed + " to " + to->typed;
  if (above) return "above " + above->typed;
  return to ? "up to " + to->typed : "";
}

std::string_view set_rule_word(SetRule rule) {
  return rule == SetRule::mean_of_three ? "mean-of-three" : rule == SetRule::retest ? "retest" : "every";
}

std::string DemandRow::words() const {
  const Method* m = methods::find(method);
  const auto spec = m != nullptr ? m->result(key) : std::nullopt;
  std::string out = (spec && !spec->symbol.empty() ? plain_symbol(spec->symbol)
                     : spec                        ? spec->name
                                                   : key) +
                    " " + limit_words(limit);
  if (!thickness.open()) out += ", " + thickness.words();
  if (temperature) out += " at " + temperature->typed;
  return out;
}

std::string DemandSheet::title() const {
  return name + (source.empty() ? "" : " · " + source + (edition.empty() ? "" : ":" + edition));
}

Outcome<Done> check(const DemandSheet& sheet) {
  if (sheet.name.empty()) return InputError{"A demand sheet needs a name, such as S355J2, hanger bolts.", {}};
  if (sheet.rows.empty()) return InputError{"“" + sheet.name + "” demands nothing: it needs at least one row.", {}};
  for (size_t i = 0; i < sheet.rows.size(); ++i) {
    const DemandRow& row = sheet.rows[i];
    const Method* m = methods::find(row.method);
    if (m == nullptr) return InputError{"“" + row.method + "” is no method of this program.", {}};
    if (!m->result(row.key)) return InputError{"“" + row.key + "” is no result of " + m->name + ".", {}};
    if (row.limit.min && row.limit.max && row.limit.min->value && row.limit.max->value &&
        *row.limit.min->value > *row.limit.max->value)
      return InputError{"“" + sheet.name + "”: " + row.words() + " holds for nothing.", {}};
    if (row.pieces < 1 || row.pieces > 1000) return InputError{"“" + sheet.name + "”: pieces are from 1 to 1000.", {}};
    for (size_t k = 0; k < i; ++k)
      if (same_rows(sheet.rows[k], row))
        return InputError{"“" + sheet.name + "” demands twice: " + sheet.rows[k].words() + " and " + row.words() + ".",
                          {}};
  }
  return Done{};
}

bool of_grade(const DemandSheet& sheet, const TestRecord& record) {
  const auto bare = [](const std::string& words) {
    std::string out;
    for (char c : words)
      if (c != ' ') out += plain::lower(c);
    return out;
  };
  const std::string grade = bare(sheet.grade), material = bare(record.fields.text("specimen.material"));
  return grade.empty() || material.empty() || grade.starts_with(material) || material.starts_with(grade);
}

std::optional<bool> speaks_of(const DemandSheet& sheet, const DemandRow& row, const TestRecord& record) {
  if (row.method != record.method || !of_grade(sheet, record)) return false;
  if (const std::string way = record.fields.text("specimen.direction"); !sheet.direction.empty()) {
    if (!way.empty() && way != sheet.direction) return false;
  }
  std::optional<bool> out = true;
  const auto thickness = record.fields.number("specimen.product_thickness");
  for (const ThicknessRange* range : {&sheet.thickness, &row.thickness}) {
    if (range->open()) continue;
    if (!thickness)
      out = std::nullopt;
    else if (!range->holds(*thickness))
      return false;
  }
  const auto temperature = record.fields.number("specimen.temperature");
  if (row.temperature && row.temperature->value && temperature &&
      std::abs(*temperature - *row.temperature->value) > kSameTemperature)
    return false;
  return out;
}

Applied apply(const DemandSheet& sheet, TestRecord& record) {
  Applied out;
  if (!of_grade(sheet, record)) {
    out.left.push_back("“" + sheet.name + "” is for " + sheet.grade + ", and this piece is of " +
                       record.fields.text("specimen.material") + ": it keeps its limits.");
    return out;
  }
  // Limits of a sheet before go with it; what a person set beside any sheet stays.
  if (record.fields.has("settings.demand")) record.limits.clear();
  bool rounded = false;
  for (const DemandRow& row : sheet.rows) {
    const auto speaks = speaks_of(sheet, row, record);
    if (!speaks && row.method == record.method) {
      out.left.push_back(row.words() + " depends on the thickness of the product, which is not given.");
      continue;
    }
    if (!speaks || !*speaks || !row.needed) continue;
    record.limits[row.key] = row.limit;
    out.set.push_back(row.words());
    rounded = rounded || row.compared == "rounded";
    const Method* m = methods::find(record.method);
    if (row.temperature && m->field("specimen.temperature") != nullptr && !record.fields.has("specimen.temperature"))
      record.fields.set("specimen.temperature", *row.temperature);
  }
  record.fields.set("settings.demand", sheet.title());
  if (rounded)
    record.fields.set("settings.compared", std::string("rounded"));
  else
    record.fields.erase("settings.compared");
  if (out.set.empty() && out.left.empty())
    out.left.push_back("“" + sheet.name + "” demands nothing of " + methods::find(record.method)->name + ".");
  return out;
}

std::vector<std::string> differences(const DemandSheet& copied, const DemandSheet& now) {
  std::vector<std::string> out;
  for (const DemandRow& row : copied.rows) {
    const auto it =
        std::find_if(now.rows.begin(), now.rows.end(), [&](const DemandRow& r) { return same_rows(r, row); });
    if (it == now.rows.end())
      out.push_back(row.words() + " is not demanded any more");
    else if (!(*it == row))
      out.push_back(row.words() +
                    (it->limit == row.limit ? " is asked of a set in another way" : " is now " + it->words()));
  }
  for (const DemandRow& row : now.rows)
    if (std::none_of(copied.rows.begin(), copied.rows.end(), [&](const DemandRow& r) { return same_rows(r, row); }))
      out.push_back(row.words() + " is new");
  return out;
}

std::string_view cell_word(CellState s) {
  switch (s) {
    case CellState::not_wanted: return "not wanted";
    case CellState::waiting: return "waiting";
    case CellState::tested: return "tested";
    case CellState::meets: return "meets";
    case CellState::near: return "near";
    case CellState::fails: return "fails";
    case CellState::open: return "open";
    case CellState::void_test: return "void";
  }
  return "";
}

namespace {

struct Judged {
  CellState state = CellState::waiting;
  double value = NAN;
  std::string shown;
};

// A value against the row's own limit: the record may have been given another since.
Judged judged(const DemandRow& row, const DemandPiece& p) {
  if (p.evaluation == nullptr) return {};
  if (p.evaluation->verdict == Verdict::void_test) return {CellState::void_test, NAN, "void"};
  const ResultValue* found = p.evaluation->find(row.key);
  if (found == nullptr || found->is_text() || !std::isfinite(found->value)) return {CellState::tested, NAN, ""};
  ResultValue r = *found;
  r.limit = row.limit;
  r.derived = {};
  r.adjusted.reset();
  TestRecord as = {};
  as.fields = p.record->fields;
  as.fields.set("settings.compared", row.compared);
  judge_result(r, decision_of(as.fields));
  Judged j{CellState::tested, r.value, reported(r, p.record->fields, UnitSet::si).text()};
  switch (r.verdict) {
    case Verdict::meets:
    case Verdict::conditional_pass: j.state = r.near ? CellState::near : CellState::meets; break;
    case Verdict::conditional_fail:
    case Verdict::fails: j.state = CellState::fails; break;
    case Verdict::open: j.state = CellState::open; break;
    default: break;
  }
  return j;
}

std::string count_words(int n, const char* one, const char* many) {
  return std::to_string(n) + " " + (n == 1 ? one : many);
}

// The set as one (EN 10021): whether what was found settles it, and what is still to do.
void judge_set(Completeness::Line& line, const std::vector<Judged>& all) {
  std::vector<double> values;
  for (const Judged& j : all)
    if (std::isfinite(j.value)) values.push_back(j.value);
  const auto settled = [&](CellState s, std::string words) {
    line.set = s;
    line.words = std::move(words);
  };
  if (!line.row.limit.min && !line.row.limit.max)
    return settled(line.tested >= line.wanted ? CellState::tested : CellState::waiting,
                   std::to_string(line.tested) + " of " + std::to_string(line.wanted) + " tested");
  const bool enough = line.tested >= line.wanted;
  const bool undecided =
      std::any_of(all.begin(), all.end(), [](const Judged& j) { return j.state == CellState::open; });
  if (line.row.rule == SetRule::mean_of_three && enough && !undecided && !values.empty()) {
    double mean = 0;
    for (double v : values) mean += v / double(values.size());
    const auto& min = line.row.limit.min;
    const double limit = min && min->value ? *min->value : -HUGE_VAL;
    const double most = line.row.limit.max && line.row.limit.max->value ? *line.row.limit.max->value : HUGE_VAL;
    const auto below = std::count_if(values.begin(), values.end(), [&](double v) { return v < limit; });
    const double least = *std::min_element(values.begin(), values.end());
    const bool meets = mean >= limit && mean <= most && below <= 1 && (limit < 0 || least >= kLeastShare * limit);
    return settled(meets ? CellState::meets : CellState::fails, meets                         ? "the mean meets"
                                                                : mean < limit || mean > most ? "the mean fails"
                                                                : below > 1 ? "more than one lies below"
                                                                            : "one lies below 70 %");
  }
  if (line.failed > 0) {
    const int needed = line.wanted + kPiecesForOne * line.failed;
    if (line.row.rule != SetRule::retest)
      return settled(CellState::fails, count_words(line.failed, "piece fails", "pieces fail"));
    // Those made anew must meet every one: a failure among them settles it. Which were first is the order of the book.
    int seen = 0, first_failed = 0;
    bool again = false;
    for (const Judged& j : all) {
      if (j.state == CellState::waiting || j.state == CellState::not_wanted || j.state == CellState::void_test)
        continue;
      ++seen;
      if (j.state != CellState::fails) continue;
      if (seen <= line.wanted)
        ++first_failed;
      else
        again = true;
    }
    if (again || first_failed == 0) return settled(CellState::fails, "a piece made anew fails");
    if (line.tested < needed) {
      line.retest_open = true;
      line.wanted = needed;
      return settled(CellState::open, "retest open: " + count_words(needed - line.tested, "more piece", "more pieces"));
    }
    line.wanted = needed;
    return settled(CellState::meets, "meets after the retest");
  }
  if (undecided) return settled(CellState::open, "a bound decides nothing");
  if (!enough)
    return settled(CellState::waiting, std::to_string(line.tested) + " of " + std::to_string(line.wanted) + " tested");
  const bool near = std::any_of(all.begin(), all.end(), [](const Judged& j) { return j.state == CellState::near; });
  settled(near ? CellState::near : CellState::meets,
          std::to_string(line.met) + " of " + std::to_string(std::max(line.wanted, line.tested)) + " meet");
}

}  // namespace

Completeness completeness(const DemandSheet& sheet, const std::vector<DemandPiece>& pieces) {
  Completeness out;
  for (const DemandRow& row : sheet.rows) {
    Completeness::Line line;
    line.row = row;
    line.wanted = row.pieces;
    if (const Method* m = methods::find(row.method))
      if (const auto spec = m->result(row.key)) {
        line.name = spec->name;
        line.symbol = spec->symbol;
      }
    std::vector<Judged> all;
    bool other_thickness = false;
    for (const DemandPiece& p : pieces) {
      Judged j;
      const auto speaks = speaks_of(sheet, row, *p.record);
      if (speaks && !*speaks) {
        other_thickness = other_thickness || p.record->method == row.method;
        j.state = CellState::not_wanted;
      } else if (p.record->method != row.method) {
        j.state = CellState::not_wanted;
      } else {
        ++line.cut;
        j = judged(row, p);
        if (j.state != CellState::waiting && j.state != CellState::void_test) ++line.tested;
        if (j.state == CellState::meets || j.state == CellState::near) ++line.met;
        if (j.state == CellState::fails) ++line.failed;
        if (j.state == CellState::void_test) --line.cut;  // another one takes its place
      }
      all.push_back(j);
      line.cells.push_back(j.state);
      line.shown.push_back(j.shown);
    }
    // A row for another thickness than these pieces have is not wanted of them.
    if (line.cut == 0 && other_thickness) continue;
    judge_set(line, all);
    out.lines.push_back(std::move(line));
  }
  return out;
}

bool Completeness::complete() const {
  return std::all_of(lines.begin(), lines.end(), [](const Line& l) {
    return !l.row.needed || l.set == CellState::meets || l.set == CellState::near || l.set == CellState::fails ||
           (l.set == CellState::tested);
  });
}

}  // namespace fortitor::lab
