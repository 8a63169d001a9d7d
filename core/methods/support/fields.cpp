#include "core/methods/support/fields.h"

#include "core/record/words.h"

namespace fortitor::fields {

namespace {

FieldSpec field(std::string path, FieldKind kind, Stage stage) {
  FieldSpec f;
  f.path = std::move(path);
  f.kind = kind;
  f.stage = stage;
  if (const FieldWords* words = Words::shared().field(f.path)) say(f, *words);
  return f;
}

}  // namespace

FieldSpec quantity(std::string path, Dimension d, Stage stage, std::string symbol, bool required) {
  FieldSpec f = field(std::move(path), FieldKind::quantity, stage);
  f.dimension = d;
  f.symbol = std::move(symbol);
  f.required = required;
  return f;
}

FieldSpec readings(std::string path, Dimension d, Stage stage, int wanted, std::string symbol, bool required) {
  FieldSpec f = quantity(std::move(path), d, stage, std::move(symbol), required);
  f.kind = FieldKind::readings;
  f.wanted = wanted;
  return f;
}

FieldSpec choice(std::string path, Stage stage, const std::vector<std::string>& values, bool first_is_usual) {
  FieldSpec f = field(std::move(path), FieldKind::choice, stage);
  for (const std::string& v : values) f.choices.push_back({v, v});
  f.first_is_usual = first_is_usual;
  if (const FieldWords* words = Words::shared().field(f.path)) say(f, *words);
  return f;
}

FieldSpec number(std::string path, Stage stage) {
  return field(std::move(path), FieldKind::number, stage);
}

FieldSpec text(std::string path, Stage stage) {
  return field(std::move(path), FieldKind::text, stage);
}

FieldSpec flag(std::string path, Stage stage) {
  return field(std::move(path), FieldKind::flag, stage);
}

FieldSpec date(std::string path, Stage stage, DaySense sense) {
  FieldSpec f = field(std::move(path), FieldKind::date, stage);
  f.sense = sense;
  return f;
}

School school(std::string setting, const std::vector<std::string>& values) {
  School s{std::move(setting), {}, {}};
  for (const std::string& v : values) s.choices.push_back({v, v});
  return s;
}

FieldSpec under(FieldSpec f, std::string path, std::string values) {
  f.when_path = std::move(path);
  f.when_value = std::move(values);
  return f;
}

FieldSpec of_piece(FieldSpec f) {
  f.common = false;
  return f;
}

FieldSpec of_series(FieldSpec f) {
  f.common = true;
  return f;
}

FieldSpec of_item(FieldSpec f) {
  f.of_item = true;
  return f;
}

FieldSpec column(std::string name, Dimension d) {
  FieldSpec f = quantity(std::move(name), d, Stage::run);
  f.may_be_zero = f.may_be_negative = true;
  return f;
}

std::vector<FieldSpec> common() {
  using D = Dimension;
  const Stage prepare = Stage::prepare;
  auto required = [](FieldSpec f) {
    f.required = true;
    return f;
  };
  FieldSpec decision =
      choice("settings.decision", prepare, {"simple", "guarded-acceptance", "guarded-rejection", "four"}, true);
  FieldSpec compared = choice("settings.compared", prepare, {"absolute", "rounded"}, true);
  FieldSpec material = required(text("specimen.material", prepare));
  material.from_reference = true;
  return {of_piece(required(text("specimen.id", prepare))), material, required(text("specimen.family", prepare)),
          text("specimen.lot", prepare), of_piece(text("specimen.marking", prepare)),
          of_piece(text("specimen.surface", prepare)), of_piece(text("specimen.note", prepare)),
          of_item(text("specimen.heat", prepare)), of_item(text("specimen.product", prepare)),
          of_item(of_series(quantity("specimen.product_thickness", D::length, prepare))),
          of_item(choice("specimen.direction", prepare, {"longitudinal", "transverse", "through"})),
          of_item(of_piece(text("specimen.place", prepare))),
          of_item(of_piece(text("specimen.customer_mark", prepare))),
          of_item(of_series(text("settings.demand", prepare))),
          of_piece(quantity("conditions.temperature", D::temperature, prepare)),
          of_piece(quantity("conditions.humidity", D::elongation, prepare)),
          quantity("conditions.stated", D::time, prepare), of_piece(quantity("conditions.hours", D::time, prepare)),
          // Which pieces and faults there are the stand-in of the method says.
          text("equipment.standin.piece", Stage::run), text("equipment.standin.fault", Stage::run),
          text("equipment.standin.practice", Stage::run), number("equipment.standin.seed", Stage::run),
          text("settings.series.left_out", Stage::evaluate),
          of_series(choice("settings.rounding", Stage::evaluate, {"iso", "astm", "significant"}, true)),
          of_series(number("settings.figures", Stage::evaluate)), decision, compared};
}

FieldSpec zero_choice() {
  return choice("settings.zero", Stage::evaluate, {"shift", "keep"}, true);
}

void say_field(const Schema& m, FieldSpec& f) {
  if (const FieldWords* words = Words::of(m.id).field(f.path)) say(f, *words);
}

namespace {

// One by one, and for every method, what it says itself or what all methods say.
template <class T>
const T* said(const std::map<std::string, T>& own, const std::map<std::string, T>& shared, const std::string& key) {
  if (const auto it = own.find(key); it != own.end()) return &it->second;
  const auto it = shared.find(key);
  return it == shared.end() ? nullptr : &it->second;
}

void say_stages(Method& m, const Words& own, const Words& shared) {
  static constexpr const char* kNames[kStageCount] = {"prepare", "measure",  "set_up",  "run",
                                                      "after",   "evaluate", "sign_off"};
  for (int i = 0; i < kStageCount; ++i) {
    StageGuide& guide = m.stages[size_t(i)];
    const StageWords* words = said(own.stages, shared.stages, kNames[i]);
    if (words == nullptr) continue;
    guide = {words->lead, words->guidance, words->cautions, {}};
    for (const StageWords::Check& c : words->checklist) guide.checklist.push_back({c.id, c.text, c.safety});
  }
}

void say_tables(Schema& m, const Words& own) {
  for (TableSpec& t : m.tables) {
    const auto words = own.tables.find(t.id);
    if (words == own.tables.end()) continue;
    t.label = words->second.label;
    t.row = words->second.row;
    t.instruction = words->second.instruction;
    const auto column = [&](FieldSpec& f) {
      if (const auto it = words->second.columns.find(f.path); it != words->second.columns.end()) say(f, it->second);
    };
    if (t.control) column(*t.control);
    for (FieldSpec& f : t.columns) column(f);
    for (RowMark& mark : t.marks)
      if (const auto it = words->second.marks.find({mark.key}); it != words->second.marks.end())
        mark.label = it->second;
  }
}

void say_channels(Method& m, const Words& own, const Words& shared) {
  const auto name = [&](std::vector<ChannelSpec>& channels) {
    for (ChannelSpec& c : channels) {
      c.label = own.channel(c.name);
      if (c.label.empty()) c.label = shared.channel(c.name);
    }
  };
  name(m.channels);
  for (SegmentSpec& s : m.segments) {
    name(s.channels);
    if (const auto it = own.segments.find(s.id); it != own.segments.end()) s.label = it->second;
  }
}

void say_wording(Wording& w, const Words& own, const Words& shared) {
  for (const auto& [key, place] : {std::pair<const char*, std::string Wording::*>{"run_first", &Wording::run_first},
                                   {"growing", &Wording::growing},
                                   {"after_run", &Wording::after_run},
                                   {"to_measure", &Wording::to_measure},
                                   {"measure_why", &Wording::measure_why},
                                   {"set_up", &Wording::set_up},
                                   {"looks", &Wording::looks}})
    w.*place = *said(own.wording, shared.wording, key);
}

}  // namespace

void say_schema(Schema& schema) {
  const Words& own = Words::of(schema.id);
  say_tables(schema, own);
  for (FieldSpec& f : schema.fields) say_field(schema, f);
}

void finish(Method& m) {
  const Words &own = Words::of(m.id), &shared = Words::shared();
  m.name = own.name;
  m.short_name = own.short_name;
  say_stages(m, own, shared);
  say_tables(m, own);
  say_channels(m, own, shared);
  say_wording(m.wording, own, shared);
  for (TimerSpec& t : m.timers)
    if (const auto it = own.timers.find(t.elapsed_path); it != own.timers.end()) t.name = it->second;
  auto add = [&](FieldSpec f) {
    if (m.field(f.path) == nullptr) m.fields.push_back(std::move(f));
  };
  for (const EquipmentSlot& slot : m.equipment)
    for (const auto* fields : {&slot.fields, &slot.papers})
      for (const FieldSpec& f : *fields) add(f);
  for (School& s : m.schools) {
    FieldSpec f = of_series(choice(s.setting, Stage::evaluate, {}, true));
    f.choices = s.choices;
    say(f, own.schools.at(s.setting));
    s.label = f.label;
    s.choices = f.choices;
    add(std::move(f));
  }
  for (int i = 0; i < kStageCount; ++i)
    for (const CheckItem& item : m.stages[size_t(i)].checklist) {
      FieldSpec f = flag("settings.checks." + item.id, Stage(i));
      f.label = item.text;
      add(std::move(f));
    }
  for (const TableSpec& t : m.tables)
    if (t.read_unloaded)
      for (FieldSpec c : t.columns) {
        c.path = "run.unload." + c.path;
        add(std::move(c));
      }
  for (FieldSpec& f : m.fields) {
    const FieldSpec* by = f.when_path.empty() ? nullptr : m.field(f.when_path);
    // Nothing chosen yet: the first choice is what the drawing shows.
    f.when_default = by != nullptr && !by->choices.empty() && by->choices.front().value == f.when_value;
    say_field(m, f);
  }
  for (EquipmentSlot& slot : m.equipment)
    for (auto* fields : {&slot.fields, &slot.papers})
      for (FieldSpec& f : *fields) say_field(m, f);
  for (FieldSpec& f : m.series.fields)
    if (const auto it = own.series.find(f.path); it != own.series.end()) say(f, it->second);
  if (!m.limit_dimension)
    m.limit_dimension = [result = m.result](const std::string& key) -> std::optional<Dimension> {
      const auto spec = result(key);
      return spec ? std::optional(spec->dimension) : std::nullopt;
    };
}

void add_drive(std::vector<FieldSpec>& all, bool required) {
  using D = Dimension;
  all.push_back(quantity("settings.speed.elastic", D::speed, Stage::set_up, "v", required));
  all.push_back(quantity("settings.sampling", D::frequency, Stage::set_up, "f", required));
  all.push_back(quantity("settings.stop.force", D::force, Stage::set_up));
  all.push_back(quantity("settings.stop.travel", D::length, Stage::set_up));
  all.push_back(quantity("settings.stop.strain", D::elongation, Stage::set_up));
}

}  // namespace fortitor::fields
