// Forms in a language of long words and at large letters: what can be chosen can be read.
#include "app/stages/field_form.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QStyleOptionComboBox>

#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "core/methods/method.h"
#include "tests/app/window_fixture.h"

namespace fortitor::field_form_test {
namespace {

class FieldFormTest : public WindowTest {
 protected:
  void lay_out_book(const QString&) override {
    speak(Language::german);
    theme::set_scale(1.5);
  }
  void TearDown() override {
    WindowTest::TearDown();
    theme::set_scale(1.0);
    speak(Language::english);
  }
};

// Where the words of a choice are written, px.
int room(const QComboBox& box) {
  QStyleOptionComboBox option;
  option.initFrom(&box);
  return box.style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, &box).width();
}

TEST_F(FieldFormTest, EveryChoiceOfEveryMethodIsReadWhole) {
  size_t looked_at = 0, beside = 0;
  for (const Method* m : methods::all()) {
    std::vector<const FieldSpec*> fields;
    for (const FieldSpec& f : m->fields) fields.push_back(&f);
    FieldForm form(&bench_);
    form.show_fields(fields, 2);
    form.show();
    for (const int width : {1200, 700, 420, 900}) {
      form.resize(width, 4000);
      QCoreApplication::processEvents();
      for (const auto* box : form.findChildren<QComboBox*>()) {
        ASSERT_LE(box->mapTo(&form, QPoint(box->width(), 0)).x(), form.width());
        beside += box->width() < form.width() / 2 ? 1 : 0;
        for (int i = 0; i < box->count(); ++i) {
          const int words = box->fontMetrics().horizontalAdvance(box->itemText(i));
          if (words > form.width() - 60) continue;  // of no form so narrow
          ++looked_at;
          EXPECT_LE(words, room(*box)) << m->id << " " << box->property("key").toString().toStdString() << " at "
                                       << width << ": " << box->itemText(i).toStdString();
        }
      }
    }
  }
  EXPECT_GT(looked_at, 500u);
  EXPECT_GT(beside, 50u) << "short choices stand beside each other";
}

TEST_F(FieldFormTest, KeysGoThroughItInItsOrderWhateverItsWidth) {
  const Method& m = *methods::find("tension-metal");
  std::vector<const FieldSpec*> fields;
  for (const FieldSpec& f : m.fields)
    if (f.kind == FieldKind::choice || f.kind == FieldKind::text) fields.push_back(&f);
  FieldForm form(&bench_);
  form.show_fields(fields, 2);
  form.show();
  for (const int width : {900, 320, 900}) {
    form.resize(width, 4000);
    QCoreApplication::processEvents();
    const QWidget* before = nullptr;
    for (const auto* edit : form.findChildren<FieldEdit*>()) {
      if (before != nullptr) {
        EXPECT_TRUE(edit->y() > before->y() || edit->x() > before->x()) << width;
      }
      before = edit;
    }
  }
}

TEST_F(FieldFormTest, AStripStaysOneRowAndOpensWide) {
  const Method& m = *methods::find("flexure-beam");
  std::vector<const FieldSpec*> fields;
  for (const FieldSpec& f : m.fields)
    if (f.kind == FieldKind::choice && fields.size() < 3) fields.push_back(&f);
  ASSERT_EQ(fields.size(), 3u);
  FieldForm form(&bench_);
  form.show_fields(fields, 3);
  form.resize(420, 200);
  form.show();
  QCoreApplication::processEvents();
  for (const auto* edit : form.findChildren<FieldEdit*>()) EXPECT_EQ(edit->y(), 0);
  for (const auto* box : form.findChildren<QComboBox*>())
    for (int i = 0; i < box->count(); ++i)
      EXPECT_LE(box->fontMetrics().horizontalAdvance(box->itemText(i)), box->view()->minimumWidth());
}

TEST_F(FieldFormTest, OfNoFieldsIsEmpty) {
  FieldForm form(&bench_);
  form.show_fields({}, 0);
  form.resize(400, 100);
  form.show();
  form.refresh();
  EXPECT_TRUE(form.findChildren<FieldEdit*>().empty());
}

}  // namespace
}  // namespace fortitor::field_form_test
