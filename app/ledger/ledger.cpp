#include "app/ledger/ledger.h"

#include <QClipboard>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QRegularExpression>
#include <QScrollArea>
#include <QTextDocument>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "report/export.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

}  // namespace

LedgerList::LedgerList(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("Results"));
  setObjectName("plain");
}

void LedgerList::lay_out() {
  rows_.clear();
  double y = 0;
  const auto e = bench_->evaluation();
  bool hidden = false;
  const auto headline = [](const ResultValue& r) { return r.spec.headline || r.verdict != Verdict::none; };
  // Before a run there may be only an area: then the small results are all there is to show.
  const bool any = e && std::any_of(e->results.begin(), e->results.end(), headline);
  if (e) {
    for (const ResultValue& r : e->results) {
      if (any && !r.spec.headline && !all_ && r.verdict == Verdict::none && qs(r.spec.key) != open_) {
        hidden = true;
        continue;
      }
      double h = row_height(r);
      if (qs(r.spec.key) == open_) {
        QTextDocument doc;
        doc.setDefaultFont(theme::words(12));
        doc.setHtml(how_html(r));
        doc.setTextWidth(width() - 40);
        h += doc.size().height() + theme::scaled(18);
      }
      rows_.push_back({qs(r.spec.key), y, h});
      y += h;
    }
  }
  more_top_ = y;
  setAccessibleDescription(spoken(rows_.empty() ? waits_for().join(" ") : QString()));
  if (e && (hidden || all_)) y += theme::scaled(34);
  if (rows_.empty()) y = paint_missing(nullptr);
  setMinimumHeight(int(y) + 4);
  update();
}

void LedgerList::refresh() {
  lay_out();
}

void LedgerList::resizeEvent(QResizeEvent*) {
  lay_out();
}

QRectF LedgerList::row_of(const QString& key) const {
  for (const Row& r : rows_)
    if (r.key == key) return {0, r.top, double(width()), r.height};
  return {};
}

void LedgerList::open_how(const QString& key) {
  open_ = open_ == key ? QString() : key;
  lay_out();
  emit opened(open_);
}

// "R_eH = F/S₀" with its subscripts set low.
static QString with_subscripts(const QString& text) {
  static const QRegularExpression mark("_([A-Za-z0-9.]+)");
  return QString(text).toHtmlEscaped().replace(mark, "<sub>\\1</sub>");
}

QString LedgerList::how_html(const ResultValue& r) const {
  const UnitSet set = bench_->units();
  QString out = "<b>" + spoken("How") + "</b>";
  if (!r.source.empty())
    out += " <span style='color:" + theme::color(Ink::quiet).name() + "'>" +
           spoken("strain from " + r.source).toHtmlEscaped() + "</span>";
  for (const Step& step : r.how) {
    out += "<div style='font-family:\"JetBrains Mono\";margin-top:4px'>" + with_subscripts(spoken(step.expression));
    if (!step.with.empty()) out += "<br>= " + with_subscripts(spoken(step.with));
    if (!r.is_text())
      out += "<br>= <b>" + spoken(format_value(step.value, step.dimension, set, 5)).toHtmlEscaped() + "</b>";
    out += "</div>";
    if (!step.source.empty())
      out += "<div style='color:" + theme::color(Ink::quiet).name() + "'>" + spoken(step.source).toHtmlEscaped() +
             "</div>";
  }
  if (!r.budget.empty()) {
    out += "<div style='margin-top:6px'><b>" + spoken("Uncertainty") + "</b> U = " + qs(coverage_words(r)) + "·u = " +
           spoken(printed_uncertainty(r.expanded(), r.shown_like(), r.spec.dimension, set).text()).toHtmlEscaped() +
           "</div>";
    for (const BudgetTerm& t : r.budget)
      out += "<div>" +
             spoken(printed_uncertainty(t.contribution, r.value, r.spec.dimension, set).text()).toHtmlEscaped() +
             " <span style='color:" + theme::color(Ink::quiet).name() + "'>" + spoken(t.input).toHtmlEscaped() +
             "</span></div>";
  }
  return out;
}

void LedgerList::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto e = bench_->evaluation();
  if (!e || e->results.empty()) {
    paint_missing(&p);
    return;
  }
  for (const Row& row : rows_)
    if (const ResultValue* r = e->find(row.key.toStdString()))
      paint_row(p, *r, QRectF(0, row.top, width(), row.height));
  if (minimumHeight() > more_top_ + 10) {
    p.setPen(theme::color(Ink::action));
    p.setFont(theme::words(12, QFont::Medium));
    p.drawText(QRectF(12, more_top_, width() - 24, theme::scaled(34)), Qt::AlignVCenter,
               spoken(all_ ? "Fewer results" : "More results"));
  }
  if (hasFocus()) {
    p.setPen(QPen(theme::color(Ink::action), 2));
    const QRectF r = open_.isEmpty() ? QRectF(rect()) : row_of(open_);
    p.drawRect(r.adjusted(1, 1, -1, -1));
  }
}

// Nothing to show yet: what it waits for, stage by stage; a stage's name ends with a colon.
QStringList LedgerList::waits_for() const {
  QStringList out;
  if (!bench_->has_specimen()) return out;
  const Progress progress = bench_->progress();
  for (size_t i = 0; i < progress.size() && Stage(i) <= Stage::run; ++i) {
    if (progress[i].missing.empty()) continue;
    out << qs(std::string(stage_name(Stage(i)))) + ":";
    for (const std::string& sentence : progress[i].missing) out << qs(sentence);
  }
  return out;
}

double LedgerList::paint_missing(QPainter* p) const {
  const QStringList lines = waits_for();
  double y = 14;
  auto line = [&](const QString& text, bool heading) {
    const QFont font = theme::words(12, heading ? QFont::DemiBold : QFont::Normal);
    y += theme::scaled(heading ? 10 : 3);
    const QRectF box = QFontMetricsF(font).boundingRect(QRectF(12, y, width() - 24, 1e4), Qt::TextWordWrap, text);
    if (p != nullptr) {
      p->setFont(font);
      p->setPen(theme::color(heading ? Ink::ink : Ink::quiet));
      p->drawText(QRectF(12, y, width() - 24, box.height()), Qt::TextWordWrap, spoken(text));
    }
    y += box.height();
  };
  line(lines.isEmpty() ? "Results appear here." : "Results appear here. They wait for:", false);
  for (const QString& text : lines) line(text.endsWith(':') ? text.chopped(1) : text, text.endsWith(':'));
  return y;
}

std::vector<PaintedPart> LedgerList::painted_parts() {
  const auto e = bench_->evaluation();
  std::vector<PaintedPart> out;
  for (const Row& row : rows_) {
    const ResultValue* r = e ? e->find(row.key.toStdString()) : nullptr;
    if (r == nullptr) continue;
    const UnitSet set = bench_->units();
    QString value = r->is_text() ? spoken(qs(r->text)) : spoken(qs(reported(*r, bench_->record().fields, set).text()));
    if (r->censored) value = (r->censored->above ? "≥ " : "≤ ") + value;
    if (!r->is_text() && r->standard_uncertainty > 0)
      value += " ± " + spoken(qs(printed_uncertainty(r->expanded(), r->shown_like(), r->spec.dimension, set).number));
    if (r->verdict != Verdict::none) value += ", " + spoken(qs(std::string(verdict_word(r->verdict))));
    out.push_back({spoken(qs(r->spec.name)), value, QRectF(0, row.top, width(), row.height).toRect(),
                   QAccessible::ListItem, row.key == open_, [this, key = row.key] { open_how(key); }});
  }
  return out;
}

void LedgerList::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const double y = event->position().y();
  for (const Row& r : rows_)
    if (y >= r.top && y < r.top + r.height) return open_how(r.key);
  if (y >= more_top_) {
    all_ = !all_;
    lay_out();
  }
}

void LedgerList::keyPressEvent(QKeyEvent* event) {
  if (event->matches(QKeySequence::Copy)) {
    if (const auto e = bench_->evaluation())
      QGuiApplication::clipboard()->setText(qs(results_text(*e, bench_->record().fields, bench_->units())));
    bench_->say("Results copied with their units.");
    return;
  }
  const bool down = event->key() == Qt::Key_Down, up = event->key() == Qt::Key_Up;
  if ((down || up) && !rows_.empty()) {
    int at = -1;
    for (size_t i = 0; i < rows_.size(); ++i)
      if (rows_[i].key == open_) at = int(i);
    at = std::clamp(at < 0 ? (down ? 0 : int(rows_.size()) - 1) : at + (down ? 1 : -1), 0, int(rows_.size()) - 1);
    const QString key = rows_[size_t(at)].key;
    if (key != open_) open_how(key);
    return;
  }
  if (event->key() == Qt::Key_Escape && !open_.isEmpty()) return open_how(open_);
  QWidget::keyPressEvent(event);
}

Ledger::Ledger(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench), list_(new LedgerList(bench)) {
  setMinimumWidth(252);
  setMaximumWidth(340);
  auto* outer = parts::column(this, 0, 0);
  auto* sheet = parts::sheet();
  outer->addWidget(sheet);
  auto* layout = parts::column(sheet, 1, 0);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(11, 10, 11, 8);
  head->setSpacing(8);
  head->addWidget(parts::label("Ledger", "title"));
  count_ = parts::label("", "hint");
  count_->setWordWrap(false);
  head->addWidget(count_, 1);
  layout->addLayout(head);
  auto* line = new QFrame;
  line->setFixedHeight(1);
  line->setStyleSheet("background: palette(midlight)");
  layout->addWidget(line);
  auto* area = parts::scroller(list_);
  layout->addWidget(area, 1);
  connect(list_, &LedgerList::opened, bench, [this, area](const QString& key) {
    const QRectF r = list_->row_of(key);
    if (!r.isNull()) area->ensureVisible(0, int(r.center().y()), 0, int(r.height() / 2));
    emit bench_->highlighted(key);
  });
  sign_ = parts::button("Sign off…", "ledger-sign", "primary");
  connect(sign_, &QPushButton::clicked, this, &Ledger::sign_off_wanted);
  auto* foot = new QHBoxLayout;
  foot->setContentsMargins(11, 8, 11, 11);
  foot->addStretch();
  foot->addWidget(sign_);
  layout->addLayout(foot);
  connect(bench, &Workbench::evaluation_changed, this, &Ledger::refresh);
  connect(bench, &Workbench::units_changed, this, &Ledger::refresh);
  connect(bench, &Workbench::specimen_changed, this, &Ledger::refresh);
}

void Ledger::refresh() {
  const auto e = bench_->evaluation();
  count_->setText(spoken(bench_->has_specimen() ? qs(bench_->record().specimen_id()) + " · " +
                                                      QString::number(e ? e->results.size() : 0) + " results"
                                                : ""));
  list_->refresh();
  sign_->setVisible(bench_->has_specimen() && bench_->record().has_run());  // before it there is nothing to sign
}

}  // namespace fortitor
