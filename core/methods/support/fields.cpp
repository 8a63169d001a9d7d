#include "core/methods/support/fields.h"

#include "core/standin/benches.h"

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

void add_standin(Method& m) {
  const standin::Bench* bench = standin::find_bench(m.standin);
  for (FieldSpec& f : m.fields) {
    if (bench != nullptr && f.path == "equipment.standin.piece") f.choices = bench->pieces;
    if (bench != nullptr && f.path == "equipment.standin.fault") f.choices = bench->faults;
  }
}

void add_derived(Method& m) {
  add_standin(m);
  for (const School& s : m.schools)
    if (m.field(s.setting) == nullptr) m.fields.push_back(choice(s.setting, s.label, Stage::evaluate, s.choices, true));
  for (int i = 0; i < kStageCount; ++i)
    for (const CheckItem& item : m.stages[size_t(i)].checklist)
      m.fields.push_back(flag("settings.checks." + item.id, item.text, Stage(i)));
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
