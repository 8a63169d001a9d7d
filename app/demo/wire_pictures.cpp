#include "app/demo/wire_pictures.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QProcess>
#include <QPushButton>
#include <QTextStream>

#include "app/frame/main_window.h"
#include "app/kit/kit_page.h"
#include "app/stages/run_stage.h"
#include "app/theme/spoken.h"
#include "app/wires/teach_panel.h"
#include "app/wires/wire_board.h"

namespace fortitor {
namespace {

// A device, and where it is heard.
struct Device {
  QProcess process;
  std::string where;
  explicit Device(const QStringList& arguments) {
    process.start(QCoreApplication::applicationDirPath() + "/fortitor-standins",
                  arguments + QStringList{"--port", "0"});
    if (process.waitForReadyRead(10000))
      where = QString::fromUtf8(process.readLine()).trimmed().section(" speaks at ", 1).toStdString();
  }
  ~Device() {
    process.kill();
    process.waitForFinished();
  }
};

bool until(const std::function<bool()>& holds, int ms = 20000) {
  QElapsedTimer since;
  since.start();
  while (!holds() && since.elapsed() < ms) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
  return holds();
}

template <class W>
W* find(MainWindow& window, const QString& key) {
  for (W* w : window.findChildren<W*>())
    if (w->isVisible() && w->property("key") == key) return w;
  return nullptr;
}

// An item of the Kit of that name, made where there is none, on that wire.
Id on_wire(MainWindow& window, const std::string& kind, const std::string& name, const std::string& where) {
  Book& book = *window.bench().book();
  kit::Item item;
  item.kind = kind;
  item.fields.set(item.path("id"), name);
  if (const auto all = book.kit())
    for (const kit::Item& i : *all)
      if (i.kind == kind && i.name() == name) item = i;
  item.fields.set("settings.wire", where);
  const auto kept = book.save_item(item, "wired: " + name);
  window.wires().reload();
  return kept ? *kept : 0;
}

Id piece(const Book& book, const std::string& code) {
  const auto found = book.search(code, 1);
  return found.empty() ? 0 : found.front().specimen;
}

}  // namespace

int write_wire_pictures(MainWindow& window, const QString& folder) {
  bool failed = false;
  const auto shoot = [&](const QString& name) {
    for (int i = 0; i < 10; ++i) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    const QString path = folder + "/" + name + ".png";
    failed = !window.grab().save(path) || failed;
    QTextStream(stdout) << path << "\n";
  };
  Workbench& bench = window.bench();
  Device caliper({"caliper", "--speed", "8"}), box({"strain-box", "--speed", "0.05"}),
      frame({"frame", "--rest", "4", "--seed", "6", "--speed", "3"});
  if (caliper.where.empty() || box.where.empty() || frame.where.empty()) {
    QTextStream(stderr) << "fortitor: fortitor-standins does not lie beside the program\n";
    return 2;
  }
  // 1: the wire is entered on the card of its item.
  Id item = on_wire(window, "caliper", "Caliper 1", "");
  window.open("kit", item);
  until([&] { return find<QPushButton>(window, "kit-edit") != nullptr; });
  if (auto* edit = find<QPushButton>(window, "kit-edit")) edit->click();
  until([&] { return find<QLineEdit>(window, "settings.wire") != nullptr; }, 5000);
  if (auto* wire = find<QLineEdit>(window, "settings.wire")) {
    wire->setText(spoken("serial:/dev/ttyUSB0@9600"));
    wire->setFocus();
  }
  shoot("wire-1");
  // 2: what comes in, and a part of it in hand.
  const Id strain = on_wire(window, "indicator", "Strain box", box.where);
  window.open("kit", strain);
  until([&] {
    const LiveItem* live = window.wires().find(strain);
    return live != nullptr && live->good > 20;
  });
  until([&] { return find<LineParts>(window, "wire-parts") != nullptr; });
  if (auto* parts = find<LineParts>(window, "wire-parts")) {
    until([&] { return parts->box_of(1).isValid(); });
    parts->choose(1);
  }
  shoot("wire-2");
  // 3: a reading in its field.
  item = on_wire(window, "caliper", "Caliper 1", caliper.where);
  window.show_specimen(piece(*bench.book(), "HB-05"), int(Stage::measure));
  until([&] {
    const LiveItem* live = window.wires().find(item);
    return live != nullptr && live->format && live->last && live->last->good();
  });
  until([&] { return find<QLineEdit>(window, "specimen.parallel_length#0") != nullptr; });
  if (auto* field = find<QLineEdit>(window, "specimen.parallel_length#0")) {
    field->setFocus();
    window.wires().take_into(field);
  }
  until([&] { return bench.evaluation_current(); }, 3000);
  shoot("wire-3");
  // 4: a run that nobody drives here.
  on_wire(window, "frame", "FR-5025", frame.where);
  const Id bar = piece(*bench.book(), "HB-05");
  bench.edit("bench chosen", [&](TestRecord& r) {
    if (const auto all = bench.book()->kit())
      for (const kit::Item& i : *all)
        if (i.name() == "FR-5025") kit::fill(r, bench.method(), i, *all);
  });
  window.show_specimen(bar, int(Stage::run));
  RunStage& run = *window.part<RunStage>();
  until([&] { return run.machine().listened && !run.machine().now.empty(); });
  if (auto* main = find<QPushButton>(window, "run-main")) main->click();
  until([&] { return run.machine().reading("force") > 24000; }, 60000);
  shoot("wire-4");
  if (auto* main = find<QPushButton>(window, "run-main")) main->click();
  until([&] { return !run.running(); }, 5000);
  return failed ? 1 : 0;
}

}  // namespace fortitor
