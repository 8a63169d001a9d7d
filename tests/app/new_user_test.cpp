// A new user's hour, by keys alone: an empty book, the Kit, a job of six pieces in one series, three of them on the
// stand-in frame, three out of one machine's file; all judged, signed, printed. What a piece costs in keys and fields
// is counted and may not grow (docs/user-guide.md says the numbers).
#include <QAbstractItemView>
#include <QFile>
#include <QFileDialog>
#include <QMenu>
#include <QTimer>

#include "app/kit/kit_page.h"
#include "app/stages/import_panel.h"
#include "core/record/json.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor::new_user_test {
namespace {

class NewUser : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    QApplication::setActiveWindow(window_.get());
  }
  QWidget* here() {
    QWidget* w = QApplication::focusWidget();
    return w != nullptr ? w : window_.get();
  }
  void press(Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
    ++keys_;
    QTest::keyClick(here(), key, with);
    QCoreApplication::processEvents();
  }
  void write(const QString& text) {
    keys_ += int(text.size());
    QTest::keyClicks(here(), text);
  }
  // Walks by Tab to the field or button of that key.
  bool to(const QString& key) {
    ++fields_;
    QCoreApplication::processEvents();
    if (QApplication::focusWidget() == nullptr) QApplication::setActiveWindow(window_.get());  // a dialog was there
    for (int i = 0; i < 250; ++i) {
      if (here()->property("key").toString() == key) return true;
      press(Qt::Key_Tab);
    }
    ADD_FAILURE() << "Tab does not lead to " << key.toStdString();
    return false;
  }
  void fill(const QString& key, const QString& text) {
    if (!to(key)) return;
    press(Qt::Key_A, Qt::ControlModifier);
    write(text);
    press(Qt::Key_Return);
  }
  void push(const QString& key) {
    if (to(key)) press(Qt::Key_Space);
  }
  // Types into the dialog that comes next and accepts it.
  void answer_dialog(const QString& text) {
    auto* timer = new QTimer(window_.get());
    connect_to(timer, [this, timer, text] {
      auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
      if (dialog == nullptr) return;
      auto* line = dialog->findChild<QLineEdit*>("fileNameEdit");
      if (line == nullptr) return;
      timer->deleteLater();
      timer->stop();
      keys_ += int(text.size()) + 1;
      line->setText(text);  // its completer would take the keys of a person typing this fast
      static_cast<QDialog*>(dialog)->accept();
    });
  }
  static void connect_to(QTimer* timer, const std::function<void()>& act) {
    QObject::connect(timer, &QTimer::timeout, timer, act);
    timer->start(10);
  }
  // "New item…" drops a menu: arrows to the kind, Enter.
  void new_item(const QString& label) {
    ASSERT_TRUE(to("kit-new"));
    auto* menu = qobject_cast<QPushButton*>(here())->menu();
    int down = 1;
    for (QAction* a : menu->actions()) {
      if (a->text() == label) break;
      ++down;
    }
    auto* timer = new QTimer(window_.get());
    connect_to(timer, [this, timer, menu, down] {
      if (!menu->isVisible()) return;
      timer->deleteLater();
      timer->stop();
      for (int i = 0; i < down; ++i) QTest::keyClick(menu, Qt::Key_Down);
      QTest::keyClick(menu, Qt::Key_Return);
      keys_ += down + 1;
    });
    press(Qt::Key_Space);
  }
  void find_and_do(const QString& what) {
    QApplication::setActiveWindow(window_.get());
    press(Qt::Key_K, Qt::ControlModifier);
    write(what);
    press(Qt::Key_Return);
  }
  void stage(int n) { press(Qt::Key(Qt::Key_1 + n), Qt::AltModifier); }

  void equip() {
    find_and_do("Kit");
    const std::vector<std::pair<QString, std::vector<std::pair<QString, QString>>>> all = {
        {"Frame", {{"frame.id", "F-100"}, {"frame.capacity", "100 kN"}, {"frame.stiffness", "45 kN/mm"}}},
        {"Load cell", {{"load_cell.id", "LC-100"}, {"load_cell.capacity", "100 kN"}, {"load_cell.due", "in 5 months"}}},
        {"Grips", {{"grips.id", "W-2"}, {"grips.capacity", "100 kN"}}},
        {"Extensometer", {{"extensometer.id", "EX-50"}, {"extensometer.range", "12.5 mm"}}}};
    for (const auto& [label, values] : all) {
      new_item(label);
      for (const auto& [path, text] : values) fill("equipment." + path, text);
      push("kit-keep");
      QCoreApplication::processEvents();
    }
    push("kit-new-bench");
    fill("settings.name", "Bars");
    for (const char* kind : {"frame", "load_cell", "grips", "extensometer"})
      if (to(QString("bench-item:") + kind)) press(Qt::Key_Down);
    push("kit-keep");
    QCoreApplication::processEvents();
    ASSERT_EQ(bench_.book()->kit().value().size(), 5u);
  }

  void measure() {
    stage(1);
    ASSERT_EQ(bench_.stage(), Stage::measure);
    for (const char* d : {"10.01", "10.00", "9.99"}) {
      ASSERT_NE(qobject_cast<ReadingEdit*>(here()), nullptr);
      ++fields_;
      write(d);
      press(Qt::Key_Return);
    }
    if (!record().fields.number("specimen.gauge_length")) fill("specimen.gauge_length#0", "50 mm");
    if (!record().fields.number("specimen.extensometer_length")) fill("specimen.extensometer_length#0", "50 mm");
    fill("specimen.parallel_length#0", "60 mm");
  }
  void tick() {
    stage(2);
    for (const CheckItem& c : bench_.method().guide(Stage::set_up).checklist)
      if (c.safety) push("check:" + QString::fromStdString(c.id));
    const auto missing = bench_.progress()[size_t(Stage::set_up)].missing;
    ASSERT_TRUE(missing.empty()) << missing.front();
    push("setup-start");
    ASSERT_EQ(bench_.stage(), Stage::run);
  }
  void run() {
    RunStage* run = window_->part<RunStage>();
    run->set_speed(200);
    run->setFocus();
    // The last piece is out of the grips: what the frame says is of this one.
    ASSERT_TRUE(until([&] {
      return std::isfinite(run->machine().reading("force")) && !run->machine().top_grip && !run->machine().extensometer;
    }));
    press(Qt::Key_T);
    ASSERT_TRUE(until([&] { return run->machine().top_grip; }));
    press(Qt::Key_Z);
    ASSERT_TRUE(until([&] { return run->machine().force_zeroed; }));
    press(Qt::Key_B);
    ASSERT_TRUE(until([&] { return run->machine().bottom_grip; }));
    press(Qt::Key_X);
    ASSERT_TRUE(until([&] { return run->machine().extensometer; }));
    press(Qt::Key_O);
    QSignalSpy ended(run, &RunStage::run_ended);
    press(Qt::Key_Space);
    ASSERT_TRUE(until([&] { return run->machine().state == MachineState::holding || ended.count() > 0; }));
    if (ended.count() == 0) {
      press(Qt::Key_E);
      ASSERT_TRUE(until([&] { return !run->machine().extensometer; }));
      press(Qt::Key_Space);
      ASSERT_TRUE(until([&] { return ended.count() > 0; }));
    }
  }
  void after() {
    stage(4);
    fill("specimen.after.gauge_length#0", "63.20 mm");
    fill("specimen.after.diameter#0", "6.12");
    fill("specimen.after.diameter#1", "6.15");
    fill("specimen.after.break_to_mark#0", "24 mm");
    push("specimen.after.fracture=cup-and-cone");
  }
  void sign_and_print(const QString& name) {
    stage(6);
    settle();
    for (int guard = 0; guard < 12 && !bench_.evaluation()->open_judgements().empty(); ++guard) {
      const Finding f = *bench_.evaluation()->open_judgements().front();
      const Remedy r = f.remedies.back();
      const auto before = bench_.evaluation();
      push(QString::fromStdString("remedy:" + f.code + ":" + r.id));
      if (r.wants_reason) {
        QCoreApplication::processEvents();
        if (to(QString::fromStdString("reason:" + f.code))) {
          write("seen");
          press(Qt::Key_Return);
        }
      }
      ASSERT_TRUE(until([&] { return bench_.evaluation() != before && bench_.evaluation_current(); }));
      QCoreApplication::processEvents();
    }
    push("sign");
    ASSERT_TRUE(bench_.signed_off()) << window_->message().toStdString();
    const QString pdf = dir_.path() + "/" + name + ".pdf";
    answer_dialog(pdf);
    push("save-pdf");
    ASSERT_TRUE(until([&] { return QFile::exists(pdf); }, 20000));
  }

  int keys_ = 0, fields_ = 0;
};

TEST_F(NewUser, AnHourByKeysAlone) {
  equip();
  press(Qt::Key_N, Qt::ControlModifier);
  fill("job-code", "TC-050");
  fill("job-title", "Stay rods");
  fill("job-due", "in 3 days");
  fill("job-series", "Tension");
  fill("job-specimens", "SR-1 SR-2 SR-3 SR-4 SR-5 SR-6");
  ASSERT_TRUE(bench_.has_specimen());
  settle();
  // The first piece: everything once.
  fill("specimen.material", "S355J2");
  fill("specimen.lot", "LG-9");
  fill("limit:rm:min", "470");
  measure();
  stage(2);
  if (to("bench")) press(Qt::Key_Down);
  ASSERT_EQ(record().fields.text("equipment.load_cell.id"), "LC-100");
  push("use-all");
  push("series-hold");
  tick();
  run();
  after();
  sign_and_print("SR-1");

  std::vector<Id> ids;
  for (const SpecimenRow& s : bench_.book()->specimens(bench_.book()->series_of(bench_.specimen()).id))
    ids.push_back(s.id);
  // The second and third on the frame: readings and ticks alone.
  for (int k : {1, 2}) {
    keys_ = fields_ = 0;
    find_and_do("SR-" + QString::number(k + 1));
    ASSERT_EQ(bench_.specimen(), ids[size_t(k)]);
    settle();
    EXPECT_EQ(record().fields.text("equipment.load_cell.id"), "LC-100");
    EXPECT_EQ(record().fields.text("specimen.material"), "S355J2");
    measure();
    tick();
    const int before_run = fields_;
    run();
    after();
    sign_and_print("SR-" + QString::number(k + 1));
    RecordProperty("keys_" + std::to_string(k), keys_);
    RecordProperty("fields_" + std::to_string(k), fields_);
    RecordProperty("before_run_" + std::to_string(k), before_run);
    EXPECT_LE(before_run, 8) << "three diameters, the parallel length, the ticks, the way to the machine";
    EXPECT_LE(fields_, 15);
    EXPECT_LE(keys_, 140) << "without the file dialog";
  }
  // The other three are measured, then come out of one file.
  for (int k : {3, 4, 5}) {
    find_and_do("SR-" + QString::number(k + 1));
    settle();
    measure();
  }
  QByteArray text = "Frame 2\n";
  const std::string csv = samples_to_csv(*standin::simulate_tension({.seed = 6}).run.samples(), bench_.method());
  for (int k = 1; k <= 3; ++k) text += "\nSpecimen " + QByteArray::number(k) + "\n" + QByteArray::fromStdString(csv);
  const QString path = dir_.path() + "/three.csv";
  QFile f(path);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write(text);
  f.close();
  find_and_do("SR-4");
  settle();
  stage(3);
  push("tab-import");
  ImportPanel* panel = window_->part<RunStage>()->import_panel();
  QSignalSpy read(panel, &ImportPanel::read);
  answer_dialog(path);
  push("import-open");
  ASSERT_TRUE(until([&] { return read.count() > 0; }));
  QSignalSpy spread(panel, &ImportPanel::imported);
  push("import-spread");
  ASSERT_TRUE(until([&] { return spread.count() > 0; }));
  for (int k : {3, 4, 5}) ASSERT_TRUE(bench_.book()->record(ids[size_t(k)])->run.samples()) << k;
  for (int k : {3, 4, 5}) {
    find_and_do("SR-" + QString::number(k + 1));
    settle();
    after();
    sign_and_print("SR-" + QString::number(k + 1));
  }
  for (const Id id : ids) EXPECT_TRUE(bench_.book()->specimen(id)->signed_off);
  EXPECT_TRUE(bench_.book()->verify().empty());
}

}  // namespace
}  // namespace fortitor::new_user_test
