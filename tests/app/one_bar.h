// A window with one measured bar before its run.
#pragma once

#include <QFile>
#include <QLabel>

#include "app/stages/import_panel.h"
#include "app/stages/run_stage.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor {

class OneBar : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    TestRecord r = standin::simulate_tension({.seed = 6});
    samples_ = r.run.samples();
    r.run = fortitor::Run{};
    r.events.clear();
    for (const CheckItem& c : methods::find(r.method)->guide(Stage::set_up).checklist)
      r.fields.set("settings.checks." + c.id, true);
    r.fields.set("specimen.id", std::string("B-1"));
    Book& book = *bench_.book();
    const auto series = book.add_series(*book.add_job("J-1", "one bar"), "Tension", "tension-metal");
    id_ = *book.add_specimen(*series, "B-1", r);
    window_->show_specimen(id_, int(Stage::run));
    settle();
  }
  QString write(const QString& name, const QByteArray& text) {
    const QString path = dir_.path() + "/" + name;
    QFile f(path);
    EXPECT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(text);
    return path;
  }
  bool panel_says(const QString& part) {
    for (const QLabel* l : window_->part<RunStage>()->import_panel()->findChildren<QLabel*>())
      if (l->text().contains(part)) return true;
    return false;
  }
  void open_file(const QString& path) {
    window_->part<RunStage>()->show_import(true);
    QSignalSpy read(window_->part<RunStage>()->import_panel(), &ImportPanel::read);
    window_->part<RunStage>()->import_panel()->open(path);
    ASSERT_TRUE(read.wait(20000));
  }
  /// Pushes a button of the import and waits until what it keeps is kept.
  void keep(const QString& key) {
    QSignalSpy kept(window_->part<RunStage>()->import_panel(), &ImportPanel::imported);
    click(key);
    ASSERT_TRUE(until([&] { return kept.count() > 0; })) << window_->message().toStdString();
  }
  void press(std::initializer_list<Qt::Key> keys) {
    for (Qt::Key k : keys) {
      const MachineStatus before = window_->part<RunStage>()->machine();
      QTest::keyClick(window_->part<RunStage>(), k);
      QSignalSpy changed(window_->part<RunStage>(), &RunStage::machine_changed);
      ASSERT_TRUE(changed.wait(10000));
      ASSERT_TRUE(changed.wait(10000));
    }
  }
  SamplesPtr samples_;
  Id id_ = 0;
};

}  // namespace fortitor
