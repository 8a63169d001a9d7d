#include "app/spectrum/step_strip.h"

#include <QHBoxLayout>
#include <QPainter>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

namespace {

class StepCard : public QPushButton {
 public:
  explicit StepCard(int step) : step_(step) {
    setCheckable(true);
    setAutoExclusive(false);
    setText(spoken(qs(spectrum::name_of(spectrum::ChainStep(step)))));
    setAccessibleName(spoken(text()));
    setProperty("key", "step-" + text());
    setStyleSheet(QString("QPushButton{border:0;padding:0;min-width:40px;min-height:%1px}")
                      .arg(int(54 * std::min(1.6, theme::scale()))));
    setCursor(Qt::PointingHandCursor);
  }
  void set_words(const QString& words, bool done) {
    words_ = words;
    done_ = done;
    setAccessibleDescription(spoken(words));
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -1);
    p.setPen(QPen(theme::color(isChecked() ? Ink::ink : Ink::hairline), isChecked() ? 2 : 1));
    p.setBrush(theme::color(Ink::sheet));
    p.drawRoundedRect(box, 4, 4);
    p.setPen(Qt::NoPen);
    QColor head = theme::temper(std::min(step_, 6));
    if (!done_) head = theme::color(Ink::hairline);
    p.setBrush(head);
    p.drawRect(QRectF(box.left() + 1, box.top() + 1, box.width() - 2, 4));
    if (hasFocus()) {
      p.setPen(QPen(theme::color(Ink::action), 1.6));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(box.adjusted(3, 7, -3, -3), 3, 3);
    }
    const QRectF text_box = box.adjusted(10, 9, -6, -5);
    p.setPen(theme::color(Ink::ink));
    p.setFont(theme::words(13, QFont::DemiBold));
    p.drawText(text_box, Qt::AlignLeft | Qt::AlignTop, spoken(text()));
    p.setFont(theme::words(11));
    p.setPen(theme::color(Ink::quiet));
    p.drawText(text_box, Qt::AlignLeft | Qt::AlignBottom,
               p.fontMetrics().elidedText(spoken(words_), Qt::ElideRight, int(text_box.width())));
  }

 private:
  int step_;
  QString words_;
  bool done_ = false;
};

}  // namespace

StepStrip::StepStrip(QWidget* parent) : QWidget(parent) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  for (int i = 0; i < spectrum::kSteps; ++i) {
    auto* card = new StepCard(i);
    connect(card, &QPushButton::clicked, this, [this, i] { emit step_wanted(i); });
    row->addWidget(card, 1);
    cards_[size_t(i)] = card;
  }
}

void StepStrip::show_steps(const spectrum::Spectrum* s) {
  for (int i = 0; i < spectrum::kSteps; ++i) {
    const bool done = s != nullptr && s->done >= i;
    static_cast<StepCard*>(cards_[size_t(i)])
        ->set_words(s != nullptr ? qs(spectrum::words_of(*s, spectrum::ChainStep(i))) : QString(), done);
  }
}

void StepStrip::choose(int step) {
  chosen_ = step;
  for (int i = 0; i < spectrum::kSteps; ++i) cards_[size_t(i)]->setChecked(i == step);
}

}  // namespace fortitor
