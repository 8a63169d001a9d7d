#include "app/watch/watch.h"

#include <QLineEdit>
#include <QPainter>

#include "app/guide/guide_parts.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;

class Glyph : public QWidget {
 public:
  explicit Glyph(const Finding& f) : severity_(f.severity), answered_(f.answer.has_value()) { setFixedSize(22, 22); }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    const QRectF box(4, 4, 14, 14);
    if (answered_) return theme::draw_glyph(p, box, Verdict::meets);
    if (severity_ == Severity::check) return theme::draw_glyph(p, box, Verdict::open);
    if (severity_ == Severity::void_test) return theme::draw_glyph(p, box, Verdict::void_test);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::color(theme::Ink::quiet), 1.6));
    p.drawEllipse(box.adjusted(2, 2, -2, -2));
  }

 private:
  Severity severity_;
  bool answered_;
};

}  // namespace

Watch::Watch(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  auto* outer = parts::column(this, 0, 0);
  auto* sheet = parts::sheet();
  outer->addWidget(sheet);
  auto* layout = parts::column(sheet, 1, 0);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(12, 9, 12, 7);
  head->setSpacing(8);
  head->addWidget(parts::label("Watch", "title"));
  count_ = parts::label("", "hint");
  count_->setWordWrap(false);
  head->addWidget(count_, 1);
  layout->addLayout(head);
  auto* content = new QWidget;
  content->setObjectName("plain");
  rows_ = parts::column(content, 0, 0);
  rows_->addStretch();
  area_ = parts::scroller(content);
  layout->addWidget(area_, 1);
  connect(bench, &Workbench::evaluation_changed, this, &Watch::refresh);
  connect(bench, &Workbench::specimen_changed, this, &Watch::refresh);
}

QString Watch::signature() const {
  QString out = QString::number(bench_->specimen());
  if (const auto e = bench_->evaluation())
    for (const Finding& f : e->findings) out += qs(f.code + f.message) + (f.answer ? qs(f.answer->at) : "");
  return out;
}

void Watch::refresh() {
  const QString now = signature();
  if (now == shown_) return;
  shown_ = now;
  parts::clear(rows_);
  const auto e = bench_->evaluation();
  const size_t open = e ? e->open_judgements().size() : 0;
  count_->setText(spoken(open == 0 ? "nothing wants your word"
                                   : QString::number(open) + (open == 1 ? " judgement wants" : " judgements want") +
                                         " your word before sign-off"));
  if (e) {
    for (bool first : {true, false})  // open ones first
      for (const Finding& f : e->findings)
        if ((f.severity != Severity::note && !f.answer) == first) add_row(f);
  }
  rows_->addStretch();
  // As tall as its judgements, up to three of them; nothing to judge takes one line.
  const int n = e ? int(e->findings.size()) : 0;
  area_->setVisible(n > 0);
  setFixedHeight(int((n == 0 ? 42 : std::min(40 + 52 * n, 172)) * std::min(1.3, theme::scale())));
}

void Watch::add_row(const Finding& finding) {
  auto* row = new QWidget;
  row->setObjectName("plain");
  row->setProperty("key", "finding:" + qs(finding.code));
  auto* column = new QVBoxLayout(row);
  column->setContentsMargins(12, 7, 12, 7);
  column->setSpacing(6);
  auto* line = new QHBoxLayout;
  line->setSpacing(8);
  column->addLayout(line);
  line->addWidget(new Glyph(finding), 0, Qt::AlignTop);
  QString text = qs(finding.message);
  if (finding.answer) {
    QString label = qs(finding.answer->remedy);
    for (const Remedy& r : finding.remedies)
      if (r.id == finding.answer->remedy) label = qs(r.label);
    text += " Answered: " + label + (finding.answer->reason.empty() ? "" : ", “" + qs(finding.answer->reason) + "”") +
            " (" + qs(finding.answer->by) + ").";
  }
  auto* message = parts::label(text, finding.answer || finding.severity == Severity::note ? "quiet" : "");
  message->setTextInteractionFlags(Qt::TextSelectableByMouse);
  message->setMinimumWidth(120);
  line->addWidget(message, 1);

  if (guide_for_finding(qs(finding.code))) {
    auto* explain = parts::button("?", "explain:" + qs(finding.code));
    explain->setToolTip(spoken("What it means, why it is raised, what is done about it (F1)"));
    explain->setAccessibleName(spoken("Explain " + qs(finding.code)));
    explain->setFixedWidth(int(30 * theme::scale()));
    explain->setFocusPolicy(Qt::TabFocus);
    line->addWidget(explain, 0, Qt::AlignTop);
    connect(explain, &QPushButton::clicked, this, [this, code = qs(finding.code)] { emit explained(code); });
  }
  auto* reason = new QLineEdit;
  reason->setProperty("key", "reason:" + qs(finding.code));
  reason->setPlaceholderText(spoken("Reason, then Enter"));
  reason->setAccessibleName(spoken("Reason"));
  reason->hide();
  if (finding.severity != Severity::note) {
    for (const Remedy& remedy : finding.remedies) {
      if (finding.answer && finding.answer->remedy == remedy.id) continue;
      auto* b = parts::button(qs(remedy.label), "remedy:" + qs(finding.code) + ":" + qs(remedy.id));
      line->addWidget(b, 0, Qt::AlignTop);
      connect(b, &QPushButton::clicked, this, [this, finding, remedy, reason] {
        if (!remedy.wants_reason) return bench_->answer(finding, remedy, {});
        reason->setProperty("remedy", qs(remedy.id));
        reason->show();
        reason->setFocus();
      });
    }
  }
  connect(reason, &QLineEdit::returnPressed, this, [this, finding, reason] {
    if (reason->text().trimmed().isEmpty()) {
      bench_->say("A reason is wanted: it stays with the record.");
      return;
    }
    for (const Remedy& remedy : finding.remedies)
      if (qs(remedy.id) == reason->property("remedy").toString())
        return bench_->answer(finding, remedy, reason->text().trimmed());
  });
  column->addWidget(reason);
  auto* hairline = new QFrame;
  hairline->setFixedHeight(1);
  hairline->setStyleSheet("background: " + theme::color(theme::Ink::hairline).name());
  rows_->addWidget(row);
  rows_->addWidget(hairline);
}

}  // namespace fortitor
