#include "core/bench/arrival.h"

#include <algorithm>
#include <filesystem>

#include "core/methods/support/recorded.h"
#include "core/record/keyed.h"
#include "core/section/section.h"

namespace fortitor {
namespace {

namespace fs = std::filesystem;

Readings readings_from(const std::vector<std::string>& typed) {
  Readings out;
  for (const std::string& t : typed)
    if (const auto q = parse_quantity(t, Dimension::length)) out.push_back(reading_of(*q));
  return out;
}

// A list of readings, or one where the field takes one.
void set_lengths(TestRecord& r, const Method& m, const std::string& path, const std::vector<std::string>& typed) {
  const FieldSpec* f = m.field(path);
  const Readings all = readings_from(typed);
  if (f == nullptr || all.empty()) return;
  if (f->kind == FieldKind::readings)
    r.fields.set(path, all);
  else
    r.fields.set(path, all.front());
}

bool has_shape(const Method& m, const std::string& shape) {
  const FieldSpec* f = m.field("specimen.section.shape");
  return f != nullptr &&
         std::any_of(f->choices.begin(), f->choices.end(), [&](const Choice& c) { return c.value == shape; });
}

void set_shape(TestRecord& r, const Method& m, const std::string& shape) {
  if (has_shape(m, shape)) r.fields.set("specimen.section.shape", shape);
}

void fill(Arrival& a, const Method& m, const FileSays& says, const std::string& otherwise) {
  TestRecord& r = a.record;
  r.method = m.id;
  r.operator_name = says.operator_name;
  r.tested_at = says.tested_at;
  r.fields.set("specimen.id", says.piece.empty() ? otherwise : says.piece);
  if (!says.material.empty()) r.fields.set("specimen.material", says.material);
  for (const auto& [size, typed] : says.sizes)
    if (const std::string path = size_path(m, size); !path.empty()) set_lengths(r, m, path, typed);
  if (says.sizes.count("diameter") != 0)
    set_shape(r, m, "round");
  else if (says.sizes.count("width") != 0)
    set_shape(r, m, "flat");
  if (!says.gauge_length.empty())
    for (const char* path : {"specimen.gauge_length", "specimen.extensometer_length"})
      if (a.columns.count("extension") != 0 || std::string(path) == "specimen.gauge_length")
        set_lengths(r, m, path, {says.gauge_length});
}

std::vector<std::string> parted(const std::string& text, char by) {
  std::vector<std::string> out(1);
  for (char c : text)
    if (c == by)
      out.emplace_back();
    else
      out.back() += c;
  return out;
}

}  // namespace

std::vector<Arrival> arrivals_of(const std::string& name, const MachineFile& file, const Method* as) {
  std::vector<Arrival> out;
  Proposal proposed = propose_method(file);
  if (as != nullptr) proposed = {as, true};
  const std::string stem = fs::path(name).stem().string();
  for (size_t b = 0; b < file.blocks.size(); ++b) {
    Arrival a;
    a.file = name;
    a.block = b;
    a.proposed = proposed;
    const CsvTable& table = file.blocks[b].table;
    a.columns = guess_channels(table.dialect, *proposed.method);
    std::map<std::string, ChannelSource> mapping;
    for (const auto& [channel, guess] : a.columns) mapping[channel] = guess.source;
    fill(a, *proposed.method, file_says(file, b),
         stem + (file.blocks.size() > 1 ? "-" + std::to_string(b + 1) : std::string()));
    for (const ChannelSpec& c : proposed.method->channels)
      if (c.required && a.columns.count(c.name) == 0)
        a.problem += (a.problem.empty() ? "No column is recognised as " : ", ") + c.label;
    if (!a.problem.empty()) {
      a.problem += ".";
    } else if (auto samples = samples_from_table(table, mapping, *proposed.method)) {
      a.record.run.set_samples(*samples);
    } else {
      a.problem = samples.error().message;
    }
    out.push_back(std::move(a));
  }
  return out;
}

std::vector<Arrival> arrivals_of(const std::string& path, const Method* as) {
  const std::string name = fs::path(path).filename().string();
  const auto file = read_machine_file(path);
  if (file) return arrivals_of(name, *file, as);
  Arrival a;
  a.file = name;
  a.proposed.method = as != nullptr ? as : methods::all().front();
  a.record.method = a.proposed.method->id;
  a.record.fields.set("specimen.id", fs::path(name).stem().string());
  a.problem = file.error().message;
  return {a};
}

// An extension in millimetres is no strain without the length it was measured over.
static bool wants_length(const Arrival& a) {
  const Method& m = *a.proposed.method;
  const SamplesPtr s = a.record.run.samples();
  return !a.without_length && s && s->find("extension") != nullptr && s->find("strain") == nullptr &&
         m.field("specimen.extensometer_length") != nullptr && !a.record.fields.number("specimen.extensometer_length");
}

std::string missing_of(const Arrival& a) {
  const Method& m = *a.proposed.method;
  if (!a.problem.empty()) return {};
  if (m.field("specimen.section.shape") != nullptr && !(section_of(a.record.fields).area > 0)) {
    if (has_shape(m, "round") && has_shape(m, "flat")) return "its diameter, or width × thickness";
    return has_shape(m, "round") ? "its diameter" : "its width × thickness";
  }
  if (m.field("specimen.width") != nullptr && a.record.fields.readings("specimen.width").empty())
    return "its width × " + std::string(m.field("specimen.depth") != nullptr ? "depth" : "thickness");
  if (wants_length(a)) return "the length of the extensometer; Enter alone goes on without";
  return {};
}

Outcome<Done> take_size(Arrival& a, const std::string& typed) {
  const Method& m = *a.proposed.method;
  const bool sized = m.field("specimen.section.shape") == nullptr || section_of(a.record.fields).area > 0;
  if (sized && wants_length(a)) {
    if (typed.find_first_not_of(' ') == std::string::npos) {
      a.without_length = true;
      return Done{};
    }
    const auto q = parse_quantity(typed, Dimension::length);
    if (!q) return q.error();
    if (!(q->value > 0)) return InputError{"“" + typed + "”: a length is above zero.", {}};
    a.record.fields.set("specimen.extensometer_length", reading_of(*q));
    return Done{};
  }
  std::string text = typed;
  for (const std::string times : {"×", "*", " by ", "X"})
    for (size_t at = text.find(times); at != std::string::npos; at = text.find(times, at + 1))
      text.replace(at, times.size(), "x");
  const std::vector<std::string> sides = parted(text, 'x');
  if (sides.size() > 2) return InputError{"“" + typed + "”: two sizes at most are wanted.", {}};
  // A unit stands behind the last and holds for both.
  std::vector<Readings> sizes;
  const Unit* unit = nullptr;
  for (size_t i = sides.size(); i-- > 0;) {
    Readings all;
    for (const std::string& one : parted(sides[i], ';')) {
      TypingContext context;
      context.default_unit = unit;
      const auto q = parse_quantity(one, Dimension::length, context);
      if (!q) return q.error();
      if (!(q->value > 0)) return InputError{"“" + typed + "”: a size is above zero.", {}};
      if (unit == nullptr) unit = q->unit;
      all.push_back(reading_of(*q));
    }
    sizes.insert(sizes.begin(), std::move(all));
  }
  auto put = [&](const std::string& path, const Readings& values) {
    const FieldSpec* f = m.field(path);
    if (f == nullptr) return false;
    if (f->kind == FieldKind::readings)
      a.record.fields.set(path, values);
    else
      a.record.fields.set(path, values.front());
    return true;
  };
  const std::string second = m.field("specimen.depth") != nullptr ? "depth" : "thickness";
  if (sizes.size() == 1) {
    if (!has_shape(m, "round")) return InputError{"Width and " + second + " are wanted, such as 12.5 × 3.0 mm.", {}};
    set_shape(a.record, m, "round");
    put("specimen.section.diameter", sizes[0]);
    return Done{};
  }
  if (m.field("specimen.section.shape") != nullptr) {
    if (!has_shape(m, "flat")) return InputError{"A diameter is wanted, such as 10.02 mm.", {}};
    set_shape(a.record, m, "flat");
    put("specimen.section.width", sizes[0]);
    put("specimen.section.thickness", sizes[1]);
    return Done{};
  }
  if (!put("specimen.width", sizes[0]) || !put("specimen." + second, sizes[1]))
    return InputError{m.name + " asks for no such sizes.", {}};
  return Done{};
}

Figure raw_curve(const Arrival& a) {
  return recorded_figure(a.record, *a.proposed.method);
}

std::vector<std::string> files_of(const std::vector<std::string>& paths) {
  std::vector<std::string> out;
  for (const std::string& p : paths) {
    std::error_code none;
    if (!fs::is_directory(p, none)) {
      out.push_back(p);
      continue;
    }
    std::vector<std::string> inside;
    for (const auto& entry : fs::directory_iterator(p, none))
      if (entry.is_regular_file(none) && entry.path().filename().string().front() != '.')
        inside.push_back(entry.path().string());
    std::sort(inside.begin(), inside.end());
    out.insert(out.end(), inside.begin(), inside.end());
  }
  return out;
}

}  // namespace fortitor
