// A new job of any method and its way through the stages, for tests that drive whole specimens.
#pragma once

#include <gtest/gtest.h>

#include "app/callout/call_out_sheet.h"
#include "tests/app/window_fixture.h"

namespace fortitor {

class SlowMethods : public WindowTest {
 protected:
  void new_job(const char* method, const QString& specimens = "X-01") {
    QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
    type("job-code", "TC-090");
    type("job-title", "Slow tests");
    auto* choice = find<QComboBox>("job-method");
    ASSERT_NE(choice, nullptr);
    const int at = choice->findData(method);
    ASSERT_GE(at, 0) << method;
    choice->setCurrentIndex(at);
    type("job-series", "First series");
    type("job-specimens", specimens);
    ASSERT_TRUE(bench_.has_specimen());
    EXPECT_EQ(record().method, method);
    settle();
  }
  void go(int stage) {
    QTest::keyClick(window_.get(), Qt::Key(Qt::Key_1 + stage), Qt::AltModifier);
    ASSERT_EQ(int(bench_.stage()), stage);
    settle();
  }
  // Takes everything the plan advises, fills what it still asks for, ticks the safety lines.
  void set_up() {
    go(2);
    const Plan plan = bench_.method().plan(record());
    for (const Advice& a : plan.advice)
      if (bench_.method().field(a.setting) != nullptr && !record().fields.number(a.setting))
        click(QString::fromStdString("use:" + a.setting));
    for (const CheckItem& c : bench_.method().guide(Stage::set_up).checklist) {
      auto* box = find<QCheckBox>(QString::fromStdString("check:" + c.id));
      ASSERT_NE(box, nullptr);
      box->setFocus();
      QTest::keyClick(box, Qt::Key_Space);
    }
    const auto missing = bench_.progress()[size_t(Stage::set_up)].missing;
    ASSERT_TRUE(missing.empty()) << missing.front();
    click("setup-start");
    ASSERT_EQ(bench_.stage(), Stage::run);
  }
  QLineEdit* entry() { return window_->part<RunStage>()->call_out()->entry(); }
  void key(Qt::Key k) { QTest::keyClick(entry(), k); }
  void read(const QString& text) {
    QTest::keyClicks(entry(), text);
    key(Qt::Key_Return);
  }
  // Answers what is open and signs.
  void sign() {
    go(6);
    for (int guard = 0; guard < 12 && !bench_.evaluation()->open_judgements().empty(); ++guard) {
      const Finding f = *bench_.evaluation()->open_judgements().front();
      const Remedy r = f.remedies.back();
      const auto before = bench_.evaluation();
      click(QString::fromStdString("remedy:" + f.code + ":" + r.id));
      if (r.wants_reason) {
        auto* reason = find<QLineEdit>(QString::fromStdString("reason:" + f.code));
        ASSERT_NE(reason, nullptr);
        QTest::keyClicks(reason, "looked at it again");
        QTest::keyClick(reason, Qt::Key_Return);
      }
      ASSERT_TRUE(until([&] { return bench_.evaluation() != before; }));
      QCoreApplication::processEvents();
    }
    ASSERT_TRUE(until([&] { return bench_.evaluation_current(); }));
    QCoreApplication::processEvents();
    click("sign");
    EXPECT_TRUE(bench_.signed_off()) << window_->message().toStdString();
    EXPECT_TRUE(window_->part<SignOffStage>()->write_certificate(dir_.path() + "/c.pdf"));
    EXPECT_TRUE(bench_.book()->verify().empty());
  }
};

}  // namespace fortitor
