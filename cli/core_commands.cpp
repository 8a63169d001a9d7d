#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>

#include "cli/commands.h"
#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/quantity/plain.h"
#include "core/record/json.h"
#include "core/reference/hardness.h"
#include "core/standin/benches.h"
#include "core/standin/bridge.h"
#include "store/new_file.h"

namespace fortitor::cli {
namespace {

void print_ledger(const Evaluation& e, const Fields& settings) {
  std::printf("%s  %s\n\n", e.specimen.c_str(), methods::find(e.method)->name.c_str());
  for (const ResultValue& r : e.results) {
    const Printed p = reported(r, settings, UnitSet::si);
    std::string uncertainty;
    if (r.standard_uncertainty > 0)
      uncertainty = "± " + printed_uncertainty(r.expanded(), r.shown_like(), r.spec.dimension, UnitSet::si).number;
    std::string verdict;
    if (r.verdict != Verdict::none)
      verdict = std::string(verdict_word(r.verdict)) + (sureness(r).empty() ? "" : ", " + sureness(r));
    std::printf("  %s %s %s %s %s %s\n", padded(plain_symbol(r.spec.symbol), 9).c_str(),
                padded(r.spec.name, 34).c_str(), padded(p.number, 14, true).c_str(), padded(p.unit, 7).c_str(),
                padded(uncertainty, 11).c_str(), verdict.c_str());
  }
  std::printf("\nVerdict: %s%s%s\n", std::string(verdict_word(e.verdict)).c_str(),
              e.verdict_reason.empty() ? "" : ", by ", e.verdict_reason.c_str());
  for (const Finding& f : e.findings)
    std::printf("%s: %s: %s\n", std::string(severity_word(f.severity)).c_str(), f.code.c_str(), f.message.c_str());
}

Outcome<std::vector<TestRecord>> records_of_file(const std::string& path) {
  auto record = load_record(path);
  if (!record) return record.error();
  std::vector<TestRecord> out;
  out.push_back(std::move(*record));
  return out;
}

}  // namespace

std::string padded(const std::string& s, size_t width, bool right) {
  size_t length = 0;
  for (char c : s) length += (static_cast<unsigned char>(c) & 0xC0) != 0x80;
  const std::string space(length < width ? width - length : 0, ' ');
  return right ? space + s : s + space;
}

void remark(const std::string& sentence) {
  std::string line = sentence;
  for (char& c : line)
    if (c == '\n' || c == '\r') c = ' ';
  std::fprintf(stderr, "fortitorctl: %s\n", line.c_str());
}

int bad_input(const std::string& sentence) {
  remark(sentence);
  return 2;
}

namespace {

ReferenceShelf& own_shelf() {
  static ReferenceShelf shelf;
  return shelf;
}

}  // namespace

const ReferenceShelf& shelf() {
  return own_shelf();
}

void use_shelf(const ReferenceShelf& own) {
  own_shelf() = own;
}

int evaluate(const std::vector<std::string>& paths, const std::vector<std::string>& pieces, bool json) {
  // All are read before the first is printed: a batch with a bad file prints nothing.
  std::vector<TestRecord> records;
  std::vector<std::string> refused;
  if (!pieces.empty() && std::none_of(paths.begin(), paths.end(), is_book))
    return bad_input("--piece names pieces of a book, and no book is given.");
  for (const std::string& path : paths) {
    auto read = is_book(path) ? records_of_book(path, pieces, refused) : records_of_file(path);
    if (!read) return bad_input(read.error().message);
    for (TestRecord& r : *read) records.push_back(std::move(r));
  }
  const bool many = records.size() > 1;
  if (json && many) std::printf("[");
  for (size_t i = 0; i < records.size(); ++i) {
    const Evaluation e = methods::evaluate(records[i], {.shelf = shelf()});
    if (i > 0) std::printf(json ? "," : "\n");
    if (json)
      std::printf("%s%s", evaluation_to_json(e, records[i].fields).c_str(), many ? "" : "\n");
    else
      print_ledger(e, records[i].fields);
  }
  if (json && many) std::printf("]\n");
  for (const std::string& one : refused) remark(one);
  return refused.empty() ? 0 : 1;
}

int convert(const std::string& typed, const std::string& unit) {
  const auto c = fortitor::convert(typed, unit);
  if (!c) return bad_input(c.error().message);
  std::printf("%s %s\n", plain::general(c->value, 10).c_str(), std::string(c->unit->symbol).c_str());
  return 0;
}

int hardness(const std::string& value, const std::string& from, const std::string& to) {
  const auto q = parse_quantity(value, Dimension::none);
  if (!q) return bad_input(q.error().message);
  if (!to.empty()) {
    const auto v = convert_hardness(q->value, from, to);
    if (!v) return bad_input(v.error().message);
    std::printf("%s %s (converted, non-austenitic steels)\n", plain::general(*v, 4).c_str(), to.c_str());
    return 0;
  }
  const auto all = hardness_in_all_scales(q->value, from);
  if (all.empty()) return bad_input(convert_hardness(q->value, from, "HV").error().message);
  std::printf("%s %s for non-austenitic steels, converted:\n", value.c_str(), from.c_str());
  for (const ConvertedHardness& c : all) {
    std::printf("  %-6s %s\n", c.scale.c_str(), plain::general(c.value, 4).c_str());
    if (c.scale == "HV")
      std::printf("  %-6s %s MPa, estimate ± 10 %% (HV·9.80665/3)\n", "R_m",
                  plain::general(strength_of_vickers(c.value), 2).c_str());
  }
  return 0;
}

int simulate(const SimulateOptions& o) {
  if (o.method == "fatigue-spectrum") {
    standin::BridgeTraffic traffic;
    traffic.seed = o.seed;
    if (o.rate > 0) traffic.rate = o.rate;
    if (o.hours > 0) traffic.hours = o.hours;
    std::error_code failed;
    std::filesystem::create_directories(o.out, failed);
    const std::string path = o.out + "/strain-" + std::to_string(o.seed) + ".f32";
    const auto done = standin::write_bridge_history(traffic, path);
    if (!done) return bad_input(done.error().message);
    std::printf("%s\n", path.c_str());
    return 0;
  }
  const Method* method = methods::find(o.method);
  if (method == nullptr) return bad_input("there is no method “" + o.method + "”");
  const standin::Bench* bench = standin::find_bench(method->standin);
  if (bench == nullptr) return bad_input("there is no stand-in for " + o.method);
  auto known = [](const std::vector<Choice>& choices, const std::string& value, std::string& list) {
    list.clear();
    for (const Choice& c : choices) list += (list.empty() ? "" : ", ") + c.value;
    return std::any_of(choices.begin(), choices.end(), [&](const Choice& c) { return c.value == value; });
  };
  standin::SimulateOptions t;
  t.method = o.method;
  t.seed = o.seed;
  t.sampling = o.rate;
  t.piece = o.material;
  t.faults = o.faults;
  std::string list;
  if (!t.piece.empty() && !known(bench->pieces, t.piece, list))
    return bad_input("--material: “" + t.piece + "” is none of " + list);
  for (const std::string& fault : t.faults)
    if (!known(bench->faults, fault, list)) return bad_input("--fault: “" + fault + "” is none of " + list);
  if (!(t.sampling >= 1) || t.sampling > 5000) return bad_input("--rate: expected 1 to 5000 Hz");
  if (!o.stop_force.empty()) {
    const auto f = parse_quantity(o.stop_force, Dimension::force);
    if (!f) return bad_input("--stop-force: " + f.error().message);
    t.stop_force = f->value;
  }
  namespace fs = std::filesystem;
  std::error_code error;
  fs::create_directories(o.out, error);
  if (error) return bad_input(o.out + ": cannot be made: " + error.message());
  TestRecord record = bench->simulate(t);
  record.method = method->id;
  const std::string name = "si-" + std::to_string(o.seed);
  const fs::path csv = fs::path(o.out) / (name + ".csv"), json = fs::path(o.out) / (name + ".json");
  for (const fs::path& p : {csv, json})
    if (fs::exists(p)) return bad_input(p.string() + ": is already there; nothing is overwritten");
  if (record.run.has_samples()) {
    Segment& segment = record.run.segment();
    segment.file = csv.filename().string();
    for (const Channel& c : segment.samples->channels)
      segment.mapping[c.name] = {c.name, written_unit(method->channel(c.name))};
    const auto done =
        write_new_file(csv.string(), QByteArray::fromStdString(samples_to_csv(*segment.samples, *method)));
    if (!done) return bad_input(done.error().message);
  }
  const auto done = write_new_file(json.string(), QByteArray::fromStdString(record_to_json(record)));
  if (!done) return bad_input(done.error().message);
  std::printf("%s\n", json.string().c_str());
  return 0;
}

}  // namespace fortitor::cli
