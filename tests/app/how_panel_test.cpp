// Every setting of a method has a hand: at its stage, on its sketch, or in the panel "How it is computed".
#include "app/stages/how_panel.h"

#include <map>
#include <set>

#include "app/series/common_page.h"
#include "app/stages/evaluate_stage.h"
#include "core/methods/support/settings.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor::how_panel_test {
namespace {

class HowPanelTest : public WindowTest {
 protected:
  void on_the_bench(const TestRecord& record) {
    const Id series = *bench_.book()->add_series(*bench_.book()->add_job("TC-1", "Bolts"), "Bars", record.method);
    piece_ = *bench_.book()->add_specimen(series, "B-1", record);
    if (record.has_run()) {
      ASSERT_TRUE(bench_.book()->store_run(piece_, *record.run.samples(), "bench"));
      ASSERT_TRUE(bench_.book()->save_record(piece_, 0, record, {"2222200", "none", 0}, "made"));
    }
    bench_.touch_docket();
    window_->show_specimen(piece_, int(Stage::evaluate));
  }
  Id piece_ = 0;
};

TEST_F(HowPanelTest, SettingsAreChangedInPlaceAndPutBack) {
  on_the_bench(standin::simulate_tension({.seed = 3}));
  settle();
  click("how");
  const auto* panel = window_->findChild<HowPanel*>();
  ASSERT_TRUE(panel->isVisible());
  const double usual = result("rp02");
  ASSERT_TRUE(std::isfinite(usual));
  // Another offset asked for: a result of its own.
  type("settings.offset", "0.2 %; 0.5 %");
  settle();
  EXPECT_EQ(record().fields.readings("settings.offset").size(), 2u);
  const auto has = [&](const std::string& part) {
    for (const ResultValue& r : bench_.evaluation()->results)
      if (r.spec.key.find(part) != std::string::npos) return true;
    return false;
  };
  EXPECT_TRUE(has("rp05"));
  click("usual:settings.offset");
  settle();
  ASSERT_TRUE(until([&] { return bench_.evaluation_current(); }));
  EXPECT_FALSE(record().fields.has("settings.offset"));
  EXPECT_FALSE(has("rp05"));
  // What cannot be read is said and changes nothing.
  bench_.set_field(*bench_.method().field("settings.modulus.school"), "line");
  type("settings.modulus.from", "5 kg");
  EXPECT_FALSE(record().fields.has("settings.modulus.from"));
}

TEST_F(HowPanelTest, WhatIfIsChangedBesideTheOriginal) {
  on_the_bench(standin::simulate_tension({.seed = 3}));
  settle();
  click("how");
  const double before = result("e_modulus");
  click("what-if");
  bench_.set_field(*bench_.method().field("settings.modulus.school"), "line");  // asks for its ends
  type("settings.modulus.from", "100 MPa");
  type("settings.modulus.to", "180 MPa");
  ASSERT_TRUE(until([&] { return std::isfinite(result("e_modulus")) && result("e_modulus") != before; }));
  ASSERT_NE(bench_.original(), nullptr);
  EXPECT_EQ(bench_.original()->find("e_modulus")->value, before);
  EXPECT_FALSE(bench_.book()->record(piece_)->fields.has("settings.modulus.from"));
  click("what-if-drop");
  settle();
  EXPECT_EQ(result("e_modulus"), before);
}

// Keys of everything that edits a field on the pages of the piece in hand.
std::set<std::string> hands(MainWindow* window) {
  std::set<std::string> out;
  QCoreApplication::processEvents();
  for (const QWidget* w : window->findChildren<QWidget*>()) {
    if (!w->isVisibleTo(window)) continue;
    std::string key = w->property("key").toString().toStdString();
    if (const size_t cut = key.find_first_of("#="); cut != std::string::npos) key = key.substr(0, cut);
    if (key.starts_with("check:")) key = "settings.checks." + key.substr(6);
    out.insert(key);
    if (const auto* edit = dynamic_cast<const FieldEdit*>(w)) out.insert(edit->field().path);
    if (const auto* edit = dynamic_cast<const ReadingEdit*>(w)) out.insert(edit->field().path);
  }
  return out;
}

TEST_F(HowPanelTest, EveryFieldOfEveryMethodHasAHand) {
  const Id job = *bench_.book()->add_job("TC-1", "All methods");
  for (const Method* m : methods::all()) {
    TestRecord record;
    record.method = m->id;
    const Id series = *bench_.book()->add_series(job, m->short_name, m->id);
    const Id piece = *bench_.book()->add_specimen(series, "P-" + m->id, record);
    std::set<std::string> found;
    const auto walk = [&] {
      for (int s = 0; s < kStageCount; ++s) {
        window_->show_specimen(piece, s);
        if (Stage(s) == Stage::prepare) {
          auto* fold = find<QPushButton>("item-fold");  // where it comes from
          if (!fold->isChecked()) fold->click();
        }
        if (Stage(s) == Stage::evaluate) {
          auto* open = find<QPushButton>("how");
          if (!open->isChecked()) open->click();
        }
        found.merge(hands(window_.get()));
      }
    };
    walk();
    // What is asked for under another choice only: one choice of each field at a time, until all were made.
    std::set<std::string> tried;
    while (true) {
      std::map<std::string, const FieldSpec*> chosen;  // by what is chosen, what is then asked for
      for (const FieldSpec& f : m->fields) {
        if (f.when_path.empty() || found.count(f.path) != 0 || f.brought || m->field(f.when_path) == nullptr) continue;
        if (tried.count(f.path) == 0 && chosen.emplace(f.when_path, &f).second) tried.insert(f.path);
      }
      if (chosen.empty()) break;
      bench_.edit("chosen", [&](TestRecord& r) {
        for (const auto& [path, asked] : chosen) {
          if (m->field(path)->kind == FieldKind::flag)
            r.fields.set(path, asked->when_value == "true");
          else if (asked->when_at_least > 0)
            r.fields.set(path, asked->when_at_least);
          else
            r.fields.set(path, asked->when_value.substr(0, asked->when_value.find('|')));
        }
      });
      walk();
    }
    for (const FieldSpec& f : m->fields) {
      // What an item of the Kit brings, what the practice bench sets for itself, and columns of rows, keyed one by one.
      if (f.brought || f.path.starts_with("equipment.standin.")) continue;
      // What has an act of its own: renamed in the docket, kept by a button, left out on the page of the series, read
      // on the call-out sheet when the piece is unloaded.
      if (f.path == "specimen.id" || f.path.ends_with(".what_if") || f.path == "settings.series.left_out" ||
          f.path.starts_with("run.unload."))
        continue;
      EXPECT_EQ(found.count(f.path), 1u) << m->id << ": " << f.path << " cannot be edited anywhere";
    }
  }
}

TEST(SettingsOfEvaluation, SayWhatIsUsual) {
  for (const Method* m : methods::all())
    for (const FieldSpec& f : m->fields) {
      const bool a_setting =
          f.stage == Stage::evaluate && f.path != "settings.series.left_out" && !f.path.ends_with(".what_if");
      const bool said_by_its_choice = f.first_is_usual && !f.choices.empty();
      EXPECT_TRUE(!a_setting || said_by_its_choice || !f.usual.empty()) << m->id << " " << f.path;
    }
}

TEST(SettingsOfEvaluation, TellWhatIsOtherThanUsual) {
  const Method& m = *methods::find("tension-metal");
  Fields fields;
  EXPECT_FALSE(other_than_usual(*m.field("settings.zero"), fields));
  fields.set("settings.zero", std::string("shift"));
  EXPECT_FALSE(other_than_usual(*m.field("settings.zero"), fields));
  fields.set("settings.zero", std::string("keep"));
  EXPECT_TRUE(other_than_usual(*m.field("settings.zero"), fields));
}

}  // namespace
}  // namespace fortitor::how_panel_test
