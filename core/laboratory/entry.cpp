#include "core/laboratory/entry.h"

#include <algorithm>

#include "core/methods/support/fields.h"
#include "core/quantity/plain.h"
#include "core/record/json.h"
#include "core/record/rules.h"
#include "core/record/words.h"

namespace fortitor::lab {
namespace {

using namespace fields;

constexpr Stage kAny = Stage::prepare;

const std::vector<std::string> kLanguages = {"en", "de", "it", "fr", "es"};

FieldSpec required(FieldSpec f) {
  f.required = true;
  return f;
}

FieldSpec any_of(std::string path, const std::vector<std::string>& values) {
  FieldSpec f = choice(std::move(path), kAny, values);
  f.kind = FieldKind::choices;
  return f;
}

std::vector<FieldSpec> customer_fields() {
  return {required(text("settings.name", kAny)),
          text("settings.address", kAny),
          text("settings.contact", kAny),
          text("settings.reference", kAny),
          choice("settings.language", kAny, kLanguages),
          text("settings.template", kAny),
          text("settings.note", kAny)};
}

std::vector<FieldSpec> job_fields() {
  return {text("settings.customer", kAny),
          text("settings.contact", kAny),
          text("settings.order", kAny),
          text("settings.project", kAny),
          date("settings.arrived", kAny, DaySense::past),
          text("settings.arrived_by", kAny),
          choice("settings.condition", kAny, {"sound", "damaged"}),
          under(text("settings.damage", kAny), "settings.condition", "damaged"),
          date("settings.sampled", kAny, DaySense::past),
          text("settings.sampled_by", kAny),
          text("settings.place", kAny),
          text("settings.deviations", kAny),
          text("settings.external", kAny),
          text("settings.opinion", kAny),
          choice("settings.inspection", kAny, {"none", "2.2", "3.1", "3.2"}, true),
          choice("settings.language", kAny, kLanguages),
          text("settings.template", kAny),
          flag("settings.released", kAny),
          choice("settings.remains", kAny, {"kept", "returned", "scrapped"}),
          under(date("settings.kept_until", kAny, DaySense::coming), "settings.remains", "kept"),
          text("settings.note", kAny)};
}

std::vector<FieldSpec> letterhead_fields() {
  FieldSpec logo = text("settings.logo", kAny);
  logo.kind = FieldKind::picture;
  return {required(text("settings.laboratory", kAny)),
          text("settings.address", kAny),
          text("settings.contact", kAny),
          text("settings.accreditation", kAny),
          text("settings.footer", kAny),
          text("settings.pattern", kAny),
          logo};
}

std::vector<FieldSpec> template_fields() {
  FieldSpec parts = any_of("settings.parts", {"series", "pieces", "photographs", "equipment"});
  parts.in_order = true;  // they are printed as they were named
  return {required(text("settings.name", kAny)),
          text("settings.results", kAny),
          text("settings.figures", kAny),
          parts,
          choice("settings.units", kAny, {"si", "us", "kgf"}, true),
          choice("settings.language", kAny, kLanguages),
          text("settings.closing", kAny)};
}

std::vector<FieldSpec> person_fields() {
  FieldSpec keys = text("settings.keys", kAny);
  keys.brought = true;  // given and taken away, never typed
  return {required(text("settings.name", kAny)), text("settings.initials", kAny),
          any_of("settings.roles", {"reads", "tests", "signs", "keeps"}), flag("settings.left", kAny), keys};
}

Schema made(std::string_view kind, std::vector<FieldSpec> all) {
  Schema s;
  s.id = "laboratory/" + std::string(kind);
  s.fields = std::move(all);
  // Kinds of entries share paths: what a field is called stands under its kind ("customer.name").
  for (FieldSpec& f : s.fields)
    say(f, *Words::of("laboratory").field(std::string(kind) + f.path.substr(std::string("settings").size())));
  s.limit_dimension = [](const std::string&) { return std::nullopt; };
  return s;
}

struct Pattern {
  std::string before, after;  // around the counter
  size_t width = 0;
};

constexpr std::string_view kExample = "{year}-{0000}";

Outcome<Pattern> read_pattern(const std::string& pattern, int year) {
  std::string whole = pattern;
  for (size_t at = whole.find("{year}"); at != std::string::npos; at = whole.find("{year}"))
    whole.replace(at, 6, std::to_string(year));
  const size_t open = whole.find('{'), close = whole.find('}');
  const auto refuse = [&](const char* why) {
    return InputError{"“" + pattern + "” " + why + "; a pattern is such as " + std::string(kExample) + ".", {}};
  };
  if (open == std::string::npos) return refuse("has no counter: every document would get the same number");
  if (close == std::string::npos || close < open) return refuse("has a brace that is not closed");
  const std::string zeros = whole.substr(open + 1, close - open - 1);
  if (zeros.empty() || zeros.find_first_not_of('0') != std::string::npos || zeros.size() > 9)
    return refuse("has a counter that is not written in noughts");
  Pattern p{whole.substr(0, open), whole.substr(close + 1), zeros.size()};
  if (p.after.find_first_of("{}") != std::string::npos) return refuse("has more than one counter");
  if ((!p.before.empty() && plain::is_digit(p.before.back())) || (!p.after.empty() && plain::is_digit(p.after.front())))
    return refuse("has a counter that runs into other digits: numbers would repeat");
  return p;
}

}  // namespace

Entry entry_of(std::string_view kind, const std::string& name) {
  Entry e;
  e.kind = kind;
  e.name = name;
  if (schema(kind).field("settings.name") != nullptr && !name.empty()) e.fields.set("settings.name", name);
  return e;
}

const Schema& schema(std::string_view kind) {
  static const Schema customer = made(kCustomer, customer_fields()), job = made(kJob, job_fields()),
                      head = made(kHead, letterhead_fields()), layout = made(kTemplate, template_fields()),
                      person = made(kPerson, person_fields());
  return kind == kCustomer ? customer : kind == kJob ? job : kind == kHead ? head : kind == kTemplate ? layout : person;
}

std::string kind_words(std::string_view kind) {
  return kind == kCustomer   ? "Customer"
         : kind == kJob      ? "Job"
         : kind == kHead     ? "Letterhead"
         : kind == kTemplate ? "Template"
         : kind == kSheet    ? "Demand sheet"
                             : "Person";
}

Outcome<Entry> entry_from_json(std::string_view kind, const std::string& name, std::string_view json, bool stored) {
  const Schema& s = schema(kind);
  auto read = (stored ? read_stored_record : read_record)(
      json, [&](const std::string& id) { return id == s.id ? &s : nullptr; });
  if (!read) return read.error();
  Entry e = entry_of(kind, name);
  e.fields = std::move(read->fields);
  e.faults = std::move(read->faults);
  return e;
}

std::string entry_to_json(const Entry& entry) {
  TestRecord r;
  r.method = schema(entry.kind).id;
  r.fields = entry.fields;
  return write_record(r, schema(entry.kind), -1);
}

Outcome<Done> check(const Entry& entry) {
  const std::string called = kind_words(entry.kind);
  if (entry.name.empty()) return InputError{"A " + plain::lower(called) + " needs a name.", {}};
  TestRecord whole;
  whole.method = schema(entry.kind).id;
  whole.fields = entry.fields;
  if (const auto fault = new_fault(faults_of(whole, schema(entry.kind)), entry.faults))
    return InputError{fault->message + ". It is not kept.", {}};
  if (entry.kind == kHead) {
    if (const std::string pattern = entry.text("pattern"); !pattern.empty())
      if (const auto fine = read_pattern(pattern, 2000); !fine) return fine.error();
  }
  if (entry.kind == kTemplate) {
    const std::string results = entry.text("results");
    if (!results.empty() && words_of(results).empty())
      return InputError{"A template without results prints nothing: name at least one key, or leave the line empty.",
                        {}};
  }
  return Done{};
}

std::vector<Missing> missing_for_document(const Entry& job, const Entry& letterhead) {
  std::vector<Missing> out;
  const auto want = [&](const Entry& e, const char* field, const char* words) {
    if (e.text(field).empty()) out.push_back({words, e.kind, "settings." + std::string(field)});
  };
  want(letterhead, "laboratory", "the name of the laboratory");
  want(letterhead, "address", "the address of the laboratory");
  want(job, "customer", "the customer");
  want(job, "arrived", "the day on which the items came");
  want(job, "condition", "the condition in which they came");
  want(job, "sampled_by", "who sampled");
  return out;
}

Outcome<std::string> next_number(const std::string& pattern, int year, const std::vector<std::string>& given_out) {
  const auto p = read_pattern(pattern.empty() ? "{year}-{0000}" : pattern, year);
  if (!p) return p.error();
  int64_t largest = 0;
  for (const std::string& number : given_out) {
    if (number.size() < p->before.size() + p->after.size() + 1 || number.rfind(p->before, 0) != 0 ||
        !number.ends_with(p->after))
      continue;
    const std::string counter = number.substr(p->before.size(), number.size() - p->before.size() - p->after.size());
    if (!std::all_of(counter.begin(), counter.end(), plain::is_digit)) continue;
    largest = std::max(largest, plain::whole(counter).value_or(0));
  }
  return p->before + plain::padded(largest + 1, int(p->width)) + p->after;
}

}  // namespace fortitor::lab
