// The real window over a fresh book, driven with keys and mouse.
#pragma once

#include <gtest/gtest.h>

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

#include "app/frame/main_window.h"
#include "app/ledger/ledger.h"
#include "app/stages/field_edit.h"
#include "app/stages/run_stage.h"
#include "app/stages/sign_off_stage.h"
#include "tests/test_clock.h"

namespace fortitor {

class WindowTest : public testing::Test {
 protected:
  /// What lies at `path` before the book is opened: nothing.
  virtual void lay_out_book(const QString& /*path*/) {}
  void SetUp() override {
    lay_out_book(dir_.path() + "/b.fortitor");
    const auto opened = bench_.open(dir_.path() + "/b.fortitor", "R. Vale", test_clock());
    ASSERT_TRUE(opened);
    window_ = std::make_unique<MainWindow>(&bench_);
    bench_.touch_docket();
    window_->show_today();
    window_->show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get()));
  }
  void TearDown() override { window_.reset(); }

  /// Widget by its "key" property; the visible one when a page was rebuilt. Null where there is none (yet): the way to
  /// ask inside `until`.
  template <class W>
  W* seen(const QString& key) {
    QCoreApplication::processEvents();  // fresh children are shown by a posted event
    for (W* w : window_->findChildren<W*>())
      if (w->property("key").toString() == key && w->isVisible()) return w;
    return nullptr;
  }
  /// The same where it must be there by now.
  template <class W>
  W* find(const QString& key) {
    W* const there = seen<W>(key);
    if (there == nullptr) ADD_FAILURE() << "no " << key.toStdString();
    return there;
  }
  /// Whether a button with this key is there and can be pressed.
  bool ready(const QString& key) {
    const auto* button = seen<QPushButton>(key);
    return button != nullptr && button->isEnabled();
  }
  void click(const QString& key) {
    auto* b = find<QWidget>(key);
    ASSERT_NE(b, nullptr);
    ASSERT_TRUE(b->isEnabled()) << key.toStdString();
    QTest::mouseClick(b, Qt::LeftButton);
  }
  /// Types into the field with this key and leaves it with Enter.
  void type(const QString& key, const QString& text) {
    auto* e = find<QLineEdit>(key);
    ASSERT_NE(e, nullptr);
    e->setFocus();
    QTest::keyClick(e, Qt::Key_A, Qt::ControlModifier);
    if (text.isEmpty()) QTest::keyClick(e, Qt::Key_Delete);
    QTest::keyClicks(e, text);
    QTest::keyClick(e, Qt::Key_Return);
  }
  /// Waits until `done` holds, on the application's own events.
  bool until(const std::function<bool()>& done, int ms = 60000) { return QTest::qWaitFor(done, ms); }
  void settle() {
    ASSERT_TRUE(until([&] {
      return bench_.evaluation() != nullptr &&
             (bench_.evaluation_current() || bench_.previewing() || bench_.what_if() || bench_.book()->read_only());
    }));
    QCoreApplication::processEvents();
  }
  /// Changes a piece that may not be on the bench, and waits until that is kept.
  void change_piece(Id piece, const QString& what, const std::function<void(TestRecord&)>& change) {
    bool kept = false;
    bench_.edit_specimen(piece, what, change, [&kept] { kept = true; });
    ASSERT_TRUE(until([&] { return kept; })) << what.toStdString();
  }
  /// Keeps a run as out of a machine's file; empty, or why it was refused.
  std::string import_run(Id piece, const SamplesPtr& samples, const QString& source) {
    std::optional<std::string> said;
    bench_.import_run(piece, samples, {}, source,
                      [&](const Outcome<Done>& done) { said = done ? std::string() : done.error().message; });
    return until([&] { return said.has_value(); }) ? *said : "nothing came of it";
  }
  /// Whether some label in sight has these words.
  bool says(const QString& part) {
    QCoreApplication::processEvents();
    for (const QLabel* l : window_->findChildren<QLabel*>())
      if (l->isVisible() && l->text().contains(part)) return true;
    return false;
  }
  const TestRecord& record() const { return bench_.record(); }
  double result(const char* key) const {
    const auto e = bench_.evaluation();
    const ResultValue* r = e ? e->find(key) : nullptr;
    return r == nullptr ? std::nan("") : r->value;
  }

  QTemporaryDir dir_;
  Workbench bench_;
  std::unique_ptr<MainWindow> window_;
};

}  // namespace fortitor
