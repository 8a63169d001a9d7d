#include <cmath>
#include <cstdio>

#include "cli/commands.h"
#include "core/bench/propose.h"
#include "core/json/json.h"
#include "core/methods/method.h"
#include "core/record/machine_file.h"
#include "core/record/mapping.h"
#include "core/record/says.h"

namespace fortitor::cli {
namespace {

// What the file says of itself, with only what is there.
Json says_json(const FileSays& says, const Method& method) {
  Json j = Json::object();
  for (const auto& [key, text] : {std::pair{"piece", &says.piece},
                                  {"operator", &says.operator_name},
                                  {"tested_at", &says.tested_at},
                                  {"material", &says.material},
                                  {"customer", &says.customer},
                                  {"order", &says.order}})
    if (!text->empty()) j[key] = *text;
  Json sizes = Json::object();
  for (const auto& [size, readings] : says.sizes) {
    const std::string path = size_path(method, size);
    sizes[path.empty() ? size : path] = readings;
  }
  if (!sizes.empty()) j["sizes"] = sizes;
  if (!says.gauge_length.empty()) j["gauge_length"] = says.gauge_length;
  if (!says.rate.empty()) j["rate"] = says.rate;
  return j;
}

struct Ends {
  double first = NAN, last = NAN, max = NAN;
};
Ends ends_of(const std::vector<double>& values) {
  Ends e;
  for (double v : values) {
    if (!std::isfinite(v)) continue;
    if (!std::isfinite(e.first)) e.first = v;
    e.last = v;
    e.max = std::isfinite(e.max) ? std::max(e.max, v) : v;
  }
  return e;
}

Json number(double v) {
  return std::isfinite(v) ? Json(v) : Json(nullptr);
}

}  // namespace

int import_file(const std::string& path, const std::string& method_id, bool json) {
  const Method* method = method_id.empty() ? nullptr : methods::find(method_id);
  if (!method_id.empty() && method == nullptr) return bad_input("there is no method “" + method_id + "”.");
  const auto file = read_machine_file(path);
  if (!file) return bad_input(file.error().message);
  const Proposal proposed = propose_method(*file);
  if (method == nullptr) method = proposed.method;
  Json out = {{"fortitor", "import/1"},
              {"method", method->id},
              {"sure", !method_id.empty() || proposed.sure},
              {"says", says_json(file_says(*file), *method)},
              {"encoding", file->encoding},
              {"separator", file->separator},
              {"decimal", std::string(1, file->decimal)},
              {"blocks", Json::array()}};
  for (size_t k = 0; k < file->blocks.size(); ++k) {
    const MachineBlock& b = file->blocks[k];
    const CsvDialect& d = b.table.dialect;
    const auto guesses = guess_channels(d, *method);
    Json block = {
        {"title", b.title}, {"rows", b.table.rows()}, {"columns", Json::array()}, {"channels", Json::object()}};
    for (size_t i = 0; i < d.columns.size(); ++i) {
      Json column = {{"column", d.columns[i]}, {"channel", nullptr}, {"unit", d.units[i]}, {"sure", false}};
      for (const auto& [channel, guess] : guesses)
        if (guess.source.column == d.columns[i]) {
          column["channel"] = channel;
          column["unit"] = guess.source.unit;
          column["sure"] = guess.sure;
        }
      block["columns"].push_back(std::move(column));
    }
    std::map<std::string, ChannelSource> mapping;
    for (const auto& [channel, guess] : guesses) mapping[channel] = guess.source;
    const auto samples = samples_from_table(b.table, mapping, *method);
    if (samples)
      for (const Channel& c : (*samples)->channels) {
        const Ends e = ends_of(c.values);
        block["channels"][c.name] = {{"first", number(e.first)}, {"last", number(e.last)}, {"max", number(e.max)}};
      }
    else
      block["problem"] = samples.error().message;
    if (file->blocks.size() > 1) block["says"] = says_json(file_says(*file, k), *method);
    out["blocks"].push_back(std::move(block));
  }
  if (!file->notes.empty()) out["notes"] = file->notes;
  if (json) {
    std::printf("%s\n", out.dump(2).c_str());
    return 0;
  }
  std::printf("%s: %s, parted by %s, decimal %c, for %s\n", path.c_str(), file->encoding.c_str(),
              file->separator.c_str(), file->decimal, method->name.c_str());
  for (const Json& b : out["blocks"]) {
    const auto title = b["title"].get<std::string>();
    std::printf("\n%s%s%zu rows\n", title.c_str(), title.empty() ? "" : ": ", b["rows"].get<size_t>());
    for (const Json& c : b["columns"]) {
      const std::string channel = c["channel"].is_null() ? "left out" : c["channel"].get<std::string>();
      const auto unit = c["unit"].get<std::string>();
      std::printf("  %s%s → %s%s\n", c["column"].get<std::string>().c_str(),
                  unit.empty() ? "" : (" in " + unit).c_str(), channel.c_str(),
                  c["channel"].is_null() || c["sure"].get<bool>() ? "" : " (a guess)");
    }
    if (b.contains("problem")) std::printf("  %s\n", b["problem"].get<std::string>().c_str());
  }
  for (const std::string& note : file->notes) std::printf("%s\n", note.c_str());
  return 0;
}

}  // namespace fortitor::cli
