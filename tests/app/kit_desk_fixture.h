// A window with the Kit's desk, and bars that want its items.
#pragma once

#include <QAction>
#include <QInputDialog>
#include <QMenu>
#include <QTimer>

#include "app/kit/kit_page.h"
#include "tests/app/window_fixture.h"

namespace fortitor {

class KitDesk : public WindowTest {
 protected:
  void undo() {
    QApplication::setActiveWindow(window_.get());
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  }
  std::vector<kit::Item> items() { return bench_.book()->kit().value(); }
  void begin(const QString& label) {
    window_->open("kit");
    auto* b = find<QPushButton>("kit-new");
    for (QAction* a : b->menu()->actions())
      if (a->text() == label) return a->trigger();
    ADD_FAILURE() << "no kind " << label.toStdString();
  }
  void choose(const QString& key, const QString& text) {
    auto* box = find<QComboBox>(key);
    ASSERT_NE(box, nullptr);
    box->setFocus();
    QTest::keyClicks(box, text);
  }
  void add_cell(const QString& name, const QString& capacity, const QString& due) {
    begin("Load cell");
    type("equipment.load_cell.id", name);
    type("equipment.load_cell.capacity", capacity);
    choose("equipment.load_cell.class", "class 1");
    type("equipment.load_cell.due", due);
    click("kit-keep");
    QCoreApplication::processEvents();
  }
  // Answers the next question that stands before the window.
  static void connect_answer(QTimer& timer, const QString& words) {
    QObject::connect(&timer, &QTimer::timeout, &timer, [&timer, words] {
      auto* ask = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
      if (ask == nullptr) return;
      timer.stop();
      ask->setTextValue(words);
      ask->accept();
    });
    timer.start(5);
  }
  // Two bars, the first with everything but its run.
  void bars(int n = 2) {
    Book& book = *bench_.book();
    const auto series = book.add_series(*book.add_job("J-1", "bars"), "Tension", "tension-metal");
    for (int i = 1; i <= n; ++i) {
      TestRecord r;
      r.method = "tension-metal";
      r.fields.set("specimen.id", "B-" + std::to_string(i));
      ids_.push_back(*book.add_specimen(*series, "B-" + std::to_string(i), r));
    }
    series_ = *series;
    bench_.touch_docket();
  }
  void give(Id id, const std::function<void(TestRecord&)>& change) { change_piece(id, "given", change); }
  std::vector<Id> ids_;
  Id series_ = 0;
};

}  // namespace fortitor
