#include "core/methods/support/fields.h"

namespace fortitor::fields {

FieldSpec quantity(std::string path, std::string label, Dimension d, Stage stage, std::string symbol, std::string hint,
                   bool required) {
  FieldSpec f;
  f.path = std::move(path);
  f.label = std::move(label);
  f.kind = FieldKind::quantity;
  f.dimension = d;
  f.stage = stage;
  f.symbol = std::move(symbol);
  f.hint = std::move(hint);
  f.required = required;
  return f;
}

FieldSpec readings(std::string path, std::string label, Dimension d, Stage stage, int wanted, std::string symbol,
                   std::string hint, bool required) {
  FieldSpec f = quantity(std::move(path), std::move(label), d, stage, std::move(symbol), std::move(hint), required);
  f.kind = FieldKind::readings;
  f.wanted = wanted;
  return f;
}

FieldSpec choice(std::string path, std::string label, Stage stage, std::vector<Choice> choices, bool first_is_usual) {
  FieldSpec f;
  f.path = std::move(path);
  f.label = std::move(label);
  f.kind = FieldKind::choice;
  f.stage = stage;
  f.choices = std::move(choices);
  f.first_is_usual = first_is_usual;
  return f;
}

FieldSpec number(std::string path, std::string label, Stage stage, std::string hint) {
  FieldSpec f;
  f.path = std::move(path);
  f.label = std::move(label);
  f.kind = FieldKind::number;
  f.stage = stage;
  f.hint = std::move(hint);
  return f;
}

FieldSpec text(std::string path, std::string label, Stage stage, std::string hint) {
  FieldSpec f = number(std::move(path), std::move(label), stage, std::move(hint));
  f.kind = FieldKind::text;
  return f;
}

FieldSpec flag(std::string path, std::string label, Stage stage) {
  FieldSpec f = number(std::move(path), std::move(label), stage);
  f.kind = FieldKind::flag;
  return f;
}

FieldSpec date(std::string path, std::string label, Stage stage, DaySense sense) {
  FieldSpec f = number(std::move(path), std::move(label), stage);
  f.kind = FieldKind::date;
  f.sense = sense;
  return f;
}

FieldSpec usually(FieldSpec f, std::string words) {
  f.usual = std::move(words);
  return f;
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

FieldSpec column(std::string name, std::string label, Dimension d) {
  FieldSpec f = quantity(std::move(name), std::move(label), d, Stage::run);
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
  FieldSpec decision = choice("settings.decision", "Decision rule", prepare,
                              {{"simple", "simple acceptance"},
                               {"guarded-acceptance", "guarded acceptance"},
                               {"guarded-rejection", "guarded rejection"},
                               {"four", "four outcomes"}},
                              true);
  FieldSpec compared = choice("settings.compared", "Compared", prepare,
                              {{"absolute", "as computed"}, {"rounded", "rounded like the limit"}}, true);
  FieldSpec material =
      required(text("specimen.material", "Material", prepare, "Designation on the certificate or drawing."));
  material.from_reference = true;
  return {
      of_piece(required(text("specimen.id", "Specimen", prepare, "As marked on the piece."))), material,
      required(text("specimen.family", "Family", prepare, "Usual values of the family check the results.")),
      text("specimen.lot", "Lot", prepare, "From the stamp or the colour on the bar's end."),
      of_piece(text("specimen.marking", "Marking", prepare, "Stamp, colour or tag found on the piece.")),
      of_piece(text("specimen.surface", "Surface", prepare, "Turned, ground, as rolled; nicks seen.")),
      of_piece(text("specimen.note", "Note", prepare)),
      of_item(text("specimen.heat", "Heat", prepare, "From the mill's document.")),
      of_item(text("specimen.product", "Product", prepare, "What it was cut from: plate, bar, profile.")),
      of_item(of_series(quantity("specimen.product_thickness", "Thickness of the product", D::length, prepare, "",
                                 "Demands often depend on it."))),
      of_item(choice("specimen.direction", "Direction", prepare,
                     {{"longitudinal", "along"}, {"transverse", "across"}, {"through", "through the thickness"}})),
      of_item(
          of_piece(text("specimen.place", "Place in the product", prepare, "Such as quarter width, mid thickness."))),
      of_item(of_piece(text("specimen.customer_mark", "Customer's mark", prepare, "As the customer calls the piece."))),
      of_item(of_series(text("settings.demand", "Demand sheet", prepare, "Whose limits these are."))),
      of_piece(quantity("conditions.temperature", "Room temperature", D::temperature, prepare)),
      of_piece(quantity("conditions.humidity", "Humidity", D::elongation, prepare)),
      quantity("conditions.stated", "Conditioning wanted", D::time, prepare, "", "Starts the timer."),
      of_piece(quantity("conditions.hours", "Conditioned so far", D::time, prepare)),
      // Which pieces and faults there are the stand-in of the method says.
      text("equipment.standin.piece", "Stand-in piece", Stage::run, "Which model the stand-in holds."),
      text("equipment.standin.fault", "Practice fault", Stage::run, "Something that goes wrong, for practice."),
      text("equipment.standin.practice", "Practice", Stage::run, "The task and its seed: not a test."),
      number("equipment.standin.seed", "Stand-in seed", Stage::run, "The same seed gives the same piece."),
      text("settings.series.left_out", "Left out of the series because", Stage::evaluate,
           "A physical reason; the numbers are given with and without the piece."),
      of_series(choice("settings.rounding", "Rounding", Stage::evaluate,
                       {{"iso", "ISO 6892-1"}, {"astm", "ASTM E29"}, {"significant", "significant figures"}}, true)),
      usually(of_series(number("settings.figures", "Figures", Stage::evaluate)), "4, of significant figures"), decision,
      compared};
}

FieldSpec zero_choice() {
  return choice("settings.zero", "Zero", Stage::evaluate,
                {{"shift", "take the offset off"}, {"keep", "keep it as preload"}}, true);
}

void finish(Method& m) {
  auto add = [&](FieldSpec f) {
    if (m.field(f.path) == nullptr) m.fields.push_back(std::move(f));
  };
  for (const EquipmentSlot& slot : m.equipment)
    for (const auto* fields : {&slot.fields, &slot.papers})
      for (const FieldSpec& f : *fields) add(f);
  for (const School& s : m.schools) add(of_series(choice(s.setting, s.label, Stage::evaluate, s.choices, true)));
  for (int i = 0; i < kStageCount; ++i)
    for (const CheckItem& item : m.stages[size_t(i)].checklist)
      add(flag("settings.checks." + item.id, item.text, Stage(i)));
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
  }
  if (!m.limit_dimension)
    m.limit_dimension = [result = m.result](const std::string& key) -> std::optional<Dimension> {
      const auto spec = result(key);
      return spec ? std::optional(spec->dimension) : std::nullopt;
    };
  auto say = [](std::string& words, const char* otherwise) {
    if (words.empty()) words = otherwise;
  };
  say(m.wording.run_first, "What is read afterwards comes after the run.");
  say(m.wording.growing, "The curve grows here during the run.");
  say(m.wording.after_run, "The run is over. Go on at After.");
  say(m.wording.to_measure, "to look at after the run");
  say(m.wording.measure_why, "While it lies on the bench.");
  say(m.wording.set_up, "Speed and stops");
  say(m.wording.looks, "Read with stand-in caliper");
}

void add_drive(std::vector<FieldSpec>& all, bool required) {
  using D = Dimension;
  all.push_back(quantity("settings.speed.elastic", "Speed", D::speed, Stage::set_up, "v", "Crosshead.", required));
  all.push_back(quantity("settings.sampling", "Sampling", D::frequency, Stage::set_up, "f",
                         "At least 50 samples below yield.", required));
  all.push_back(
      quantity("settings.stop.force", "Stop at force", D::force, Stage::set_up, "", "Limit that stops the run."));
  all.push_back(
      quantity("settings.stop.travel", "Stop at travel", D::length, Stage::set_up, "", "Limit that stops the run."));
  all.push_back(quantity("settings.stop.strain", "Stop at strain", D::elongation, Stage::set_up, "",
                         "Limit that stops the run."));
}

}  // namespace fortitor::fields
