#include "app/callout/call_out_panel.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/record/keyed.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

namespace {

struct KeySpec {
  int key;
  const char *name, *words;
};
constexpr KeySpec kKeys[] = {{Qt::Key_Return, "Enter", "keep"},
                             {Qt::Key_M, "M", "missed"},
                             {Qt::Key_R, "R", "re-read"},
                             {Qt::Key_D, "D", "doubtful"},
                             {Qt::Key_C, "C", "cracking"},
                             {Qt::Key_B, "B", "broke"},
                             {Qt::Key_N, "N", "note"},
                             {Qt::Key_Up, "↑", "larger step"},
                             {Qt::Key_Down, "↓", "smaller step"},
                             {Qt::Key_G, "G", "other stop"},
                             {Qt::Key_E, "E", "end"},
                             {Qt::Key_Space, "Space", "let the stand-in go and read"}};

}  // namespace

CallOutPanel::CallOutPanel(QWidget* parent) : QFrame(parent) {
  setObjectName("callout");
  auto* layout = parts::column(this, 16, 4);
  layout->setContentsMargins(18, 12, 18, 12);
  head_ = parts::label("", "calloutQuiet");
  stop_ = new QLabel;
  stop_->setTextFormat(Qt::PlainText);
  stop_->setObjectName("calloutStop");
  stop_->setAccessibleName(spoken("Next stop"));
  line_ = parts::label("", "calloutQuiet");
  line_->setTextFormat(Qt::RichText);
  alarm_ = parts::label("", "calloutAlarm");
  channels_ = parts::label("", "calloutQuiet");
  channels_->setTextFormat(Qt::RichText);
  entry_ = new QLineEdit;
  entry_->setObjectName("calloutEntry");
  entry_->setProperty("key", "call-out");
  entry_->setAccessibleName(spoken("Reading"));
  unit_ = parts::label("", "calloutQuiet");
  unit_->setWordWrap(false);
  standin_ = parts::label("", "calloutQuiet");
  wires_ = parts::label("", "calloutQuiet");
  wires_->setTextFormat(Qt::RichText);
  wires_->setAccessibleName(spoken("On the wires"));
  wires_->setVisible(false);
  layout->addWidget(head_);
  layout->addWidget(stop_);
  layout->addWidget(line_);
  layout->addWidget(channels_);
  auto* field = new QFrame;
  field->setObjectName("calloutField");
  auto* row = new QHBoxLayout(field);
  row->setContentsMargins(14, 2, 14, 2);
  row->addWidget(entry_, 1);
  row->addWidget(unit_);
  layout->addWidget(field);
  layout->addWidget(wires_);
  layout->addWidget(alarm_);
  layout->addWidget(standin_);
  layout->addStretch();
  keys_ = new QWidget;
  keys_->setObjectName("calloutKeys");
  layout->addWidget(keys_);
}

void CallOutPanel::set_method(const Method& method) {
  delete keys_->layout();
  for (QPushButton* b : buttons_) b->deleteLater();
  buttons_.clear();
  marks_.clear();
  const TableSpec& w = *method.keyed_table();
  auto* grid = new QGridLayout(keys_);
  grid->setContentsMargins(0, 4, 0, 0);
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(0);
  // Without stops to go to there are fewer keys: five stand beside one another, Space among them.
  const int across = w.stepped() ? 4 : 5;
  int n = 0;
  for (const KeySpec& k : kKeys) {
    if (k.key == Qt::Key_C && !w.may_crack) continue;
    if (k.key == Qt::Key_B && !w.ends_in_break) continue;
    if (k.key == Qt::Key_Space && method.standin.empty()) continue;
    const bool steps = k.key == Qt::Key_Up || k.key == Qt::Key_Down || k.key == Qt::Key_G;
    if (steps && !w.stepped()) continue;
    const QString words = k.key != Qt::Key_Space || w.stepped() ? QString(k.words)
                          : !w.stopwatch.empty()                ? QString("out of the bath, then the blow")

                          : w.runs_by_itself ? QString("start or halt the rig")
                                             : QString("let the stand-in read");
    auto* b = new QPushButton(spoken(QString(k.name) + "  " + words));
    b->setObjectName("calloutKey");
    b->setProperty("key", "key-" + QString(k.name));
    b->setFocusPolicy(Qt::NoFocus);
    connect(b, &QPushButton::clicked, this, [this, key = k.key] { emit key_wanted(key); });
    const bool wide = k.key == Qt::Key_Space;
    const int span = !wide ? 1 : w.stepped() ? 4 : across - 1;
    if (wide && n % across + span > across) n += across - n % across;
    grid->addWidget(b, n / across, n % across, 1, span, Qt::AlignLeft);
    buttons_.push_back(b);
    n += span;
  }
  for (const RowMark& m : w.marks) {
    marks_.push_back(m);
    auto* b = new QPushButton(spoken(QString(QChar(m.key)) + "  " + qs(m.label)));
    b->setObjectName("calloutKey");
    b->setProperty("key", QString("key-") + QChar(m.key));
    b->setFocusPolicy(Qt::NoFocus);
    connect(b, &QPushButton::clicked, this, [this, key = m.key] { emit key_wanted(key); });
    grid->addWidget(b, n / across, n % across, Qt::AlignLeft);
    buttons_.push_back(b);
    ++n;
  }
  grid->setColumnStretch(across - 1, 1);
}

void CallOutPanel::show_text(const Text& t) {
  head_->setText(spoken(t.head));
  // As large as the panel allows: this is what is read from the machine.
  double px = 64;
  const double room = std::max(160, width() - 40);
  while (px > 30 && QFontMetricsF(theme::numbers(px, QFont::Bold)).horizontalAdvance(spoken(t.stop)) > room) px -= 2;
  stop_->setFont(theme::numbers(px, QFont::Bold));
  stop_->setStyleSheet(
      QString("QLabel#calloutStop{color:%1;font-size:%2px;font-family:'JetBrains Mono';font-weight:700}")
          .arg(theme::temper(0).name())
          .arg(px * theme::scale()));
  stop_->setText(spoken(t.stop));
  line_->setText(spoken(t.line));
  line_->setVisible(!t.line.isEmpty());
  QString channels;
  for (int i = 0; i < t.channels.size(); ++i)
    channels += (i > 0 ? "&nbsp;&nbsp;&nbsp;" : "") + QString(i == t.channel ? "<b style='color:%2'>%1</b>" : "%1")
                                                          .arg(t.channels[i].toHtmlEscaped())
                                                          .replace("%2", theme::temper(0).name());
  channels_->setText(spoken(channels));
  channels_->setVisible(t.channels.size() > 1);
  unit_->setText(spoken(t.unit));
  alarm_->setText(spoken(t.alarm));
  alarm_->setVisible(!t.alarm.isEmpty());
  standin_->setText(spoken(t.standin));
  standin_->setVisible(!t.standin.isEmpty());
  entry_->setEnabled(!t.ended);
  entry_->parentWidget()->setVisible(!t.ended);
  keys_->setVisible(!t.ended);
}

void CallOutPanel::show_wires(const QStringList& says, const QString& words, bool stands) {
  QString text;
  for (const QString& one : says)
    text +=
        (text.isEmpty() ? "" : "&nbsp;&nbsp;&nbsp; ") +
        QString(one).replace("<b>", QString("<b style=\"color:#FFFFFF;font-family:'JetBrains Mono';font-size:%1px\">")
                                        .arg(qRound(17 * theme::scale())));
  text += text.isEmpty() || words.isEmpty() ? "" : "<br>";
  text += stands ? "<b style='color:" + theme::temper(0).name() + "'>" + words + "</b>" : words;
  wires_->setText(spoken(text));
  wires_->setVisible(!text.isEmpty());
  for (QPushButton* b : buttons_)
    if (b->property("key") == "key-Space") b->setVisible(says.isEmpty());  // a real machine is not driven
}

void CallOutPanel::show_marks(const std::vector<RowMark>& marks) {
  for (size_t i = 0; i < marks_.size(); ++i)
    buttons_[buttons_.size() - marks_.size() + i]->setVisible(
        std::any_of(marks.begin(), marks.end(),
                    [&](const RowMark& m) { return m.key == marks_[i].key && m.column == marks_[i].column; }));
}

RowTable::RowTable(QWidget* parent) : QWidget(parent) {
  setAccessibleName(spoken("Readings"));
}

int RowTable::row_height() const {
  return int(27 * theme::scale());
}

QSize RowTable::sizeHint() const {
  return {320, row_height() * int(rows_.size() + 1)};
}

namespace {

bool kept_place(const Rows& rows) {
  return std::any_of(rows.begin(), rows.end(), [](const Row& row) { return row.has("x"); });
}

}  // namespace

void RowTable::show_rows(const TestRecord& r, const Evaluation* e, const CallOut& now, UnitSet set) {
  const TableSpec& t = now.table;
  const Rows& rows = r.run.rows(t.id);
  rows_.clear();
  heads_ = {""};
  if (t.control) heads_ << qs(t.control->label);
  std::vector<const FieldSpec*> columns;
  for (const FieldSpec& c : t.columns) {
    if (c.planned && c.kind != FieldKind::text && !(c.path == "x" && kept_place(rows))) continue;
    // What is marked or said rather than read stands there once a row has it.
    const bool marked = c.kind == FieldKind::flag || c.kind == FieldKind::choice || c.kind == FieldKind::text;
    if (!marked || std::any_of(rows.begin(), rows.end(), [&](const Row& row) { return row.has(c.path); }))
      columns.push_back(&c);
  }
  // With many columns there is room for symbols only.
  const bool narrow = columns.size() > 2;
  for (const FieldSpec* c : columns) {
    QString head = qs(narrow && !c->symbol.empty() ? c->symbol : c->label);
    const bool bare = columns.size() > 4 && c->kind == FieldKind::quantity;
    if (c->kind == FieldKind::readings || c->planned || bare) head += ", " + qs(bare_unit(*c, set).symbol);
    heads_ << head;
  }
  std::vector<const RowValue*> values;
  if (e != nullptr)
    for (const RowValue& v : e->row_values)
      if (v.table == t.id &&
          std::none_of(columns.begin(), columns.end(), [&](const FieldSpec* c) { return c->path == v.key; }))
        values.push_back(&v);
  heads_ << (t.stepped() ? "off the line" : values.empty() ? "" : qs(values.front()->name));
  kept_ = rows.size();
  auto shown = [&](const Row& row, const FieldSpec& f) -> QString {
    if (!row.has(f.path)) return "–";
    if (f.kind == FieldKind::flag) return row.cells.flag(f.path) ? "yes" : "–";
    if (f.kind == FieldKind::choice || f.kind == FieldKind::text) return qs(row.cells.text(f.path));
    if (f.kind == FieldKind::readings) {
      if (const auto v = cell_value(row, f, r)) return qs(significant(*v / bare_unit(f, set).factor, 4));
      const Readings list = row.cells.readings(f.path);
      QString typed;
      for (const Reading& one : list) typed += (typed.isEmpty() ? "" : " ") + (one.missed() ? "missed" : qs(one.typed));
      return typed;
    }
    if (const auto v = f.planned ? row.number(f.path) : std::nullopt)
      return qs(plain_number(*v / bare_unit(f, set).factor, 4));
    const Reading* reading = row.reading(f.path);
    if (reading == nullptr || reading->missed()) return "missed";
    if (columns.size() > 4)
      return qs(plain_number((*reading->value - bare_unit(f, set).offset) / bare_unit(f, set).factor, 4));
    // In the unit it was typed in, when that is the unit set's own; else changed to it.
    return qs(set == UnitSet::si ? reading->typed : typed_value(*reading->value, f.dimension, set, 5));
  };
  // Stops count from the unloaded one, 0; readings from 1.
  const size_t first = t.stepped() ? 0 : 1;
  for (size_t i = 0; i < kept_; ++i) {
    Line line;
    line.number = QString::number(i + first);
    if (t.control) line.cells << shown(rows[i], *t.control);
    for (const FieldSpec* c : columns) line.cells << shown(rows[i], *c);
    line.doubtful = !rows[i].used();
    line.note = qs(rows[i].note);
    if (e != nullptr)
      for (const RowLine& fit : e->lines) {
        if (i >= fit.residual.size()) continue;
        line.flagged = line.flagged || fit.off[i];
        if (!std::isfinite(fit.residual[i])) continue;
        double largest = 0;
        for (const Row& row : rows) largest = std::max(largest, std::abs(row.number(fit.column).value_or(0)));
        // What is left of rounding is no distance.
        const double off = std::abs(fit.residual[i]) < 1e-9 * largest ? 0 : fit.residual[i];
        if (!line.off.isEmpty()) line.off += "  ";
        line.off += (off > 0 ? "+" : "") + qs(format_number(off, fit.dimension, set, 2));
      }
    for (const RowValue* v : values)
      if (i < v->values.size() && std::isfinite(v->values[i]))
        line.off += qs(format_value(v->values[i], v->dimension, set, 4));
    if (line.flagged && !line.doubtful) line.off = "re-read  " + line.off;
    if (line.doubtful) line.off = qs(row_state_word(rows[i].state));
    rows_.push_back(line);
  }
  if (now.phase != CallOut::Phase::ended && now.row == kept_)
    for (int ahead = 0; ahead < 3; ++ahead) {
      Line line;
      line.number = QString::number(kept_ + first + size_t(ahead));
      if (t.control) line.cells << qs(typed_value(now.control + ahead * now.step, t.control->dimension, set, 4));
      for (size_t c = 0; c < columns.size(); ++c) line.cells << "–";
      line.coming = true;
      rows_.push_back(line);
      if (now.phase == CallOut::Phase::unloading || now.last_done) break;
      if (!t.stepped() && kept_ + size_t(ahead) + 1 >= t.usual) break;
    }
  if (chosen_ && *chosen_ >= kept_) chosen_.reset();
  setMinimumHeight(sizeHint().height());
  update();
}

void RowTable::choose(std::optional<size_t> row) {
  chosen_ = row;
  update();
}

void RowTable::move_choice(int by) {
  if (kept_ == 0) return;
  const int at = chosen_ ? int(*chosen_) : int(kept_);
  const int next = std::clamp(at + by, 0, int(kept_));
  choose(next == int(kept_) ? std::nullopt : std::optional(size_t(next)));
}

void RowTable::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const int h = row_height();
  const size_t columns = size_t(heads_.size());
  if (columns < 3) return;
  const double number = 34 * theme::scale(), last = width() * (columns > 4 ? 0.26 : 0.3);
  const double each = (width() - number - last) / double(columns - 2);
  auto cell = [&](size_t c, int y) {
    if (c == 0) return QRectF(10, y, number, h);
    if (c == columns - 1) return QRectF(width() - last - 12, y, last, h);
    return QRectF(number + double(c - 1) * each, y, each - 4, h);
  };
  p.setFont(theme::words(12));
  p.setPen(theme::color(Ink::quiet));
  for (size_t c = 1; c < columns; ++c)
    p.drawText(cell(c, 0), Qt::AlignRight | Qt::AlignVCenter, spoken(heads_[qsizetype(c)]));
  for (size_t i = 0; i < rows_.size(); ++i) {
    const Line& row = rows_[i];
    const int y = int(i + 1) * h;
    if (row.flagged && !row.doubtful) {
      QColor warn = theme::color(Ink::fails);
      warn.setAlpha(theme::dark() ? 70 : 38);
      p.fillRect(QRectF(0, y, width(), h), warn);
    }
    if (chosen_ && *chosen_ == i) {
      p.setPen(QPen(theme::color(Ink::action), 2));
      p.drawRect(QRectF(1, y + 1, width() - 2, h - 2));
    }
    p.setPen(QPen(theme::color(Ink::hairline), 1));
    p.drawLine(0, y, width(), y);
    p.setFont(theme::numbers(13));
    const QColor plain = row.coming || row.doubtful ? theme::color(Ink::quiet) : theme::color(Ink::ink);
    p.setPen(theme::color(Ink::quiet));
    p.drawText(cell(0, y), Qt::AlignVCenter, spoken(row.number));
    p.setPen(plain);
    for (qsizetype c = 0; c < row.cells.size(); ++c)
      p.drawText(cell(size_t(c) + 1, y), Qt::AlignRight | Qt::AlignVCenter, spoken(row.cells[c]));
    p.setFont(theme::numbers(12));
    p.setPen(row.flagged && !row.doubtful ? theme::color(Ink::fails) : theme::color(Ink::quiet));
    QString tail = row.off;
    if (!row.note.isEmpty()) tail += "  ✎";
    p.drawText(cell(columns - 1, y), Qt::AlignRight | Qt::AlignVCenter, spoken(tail));
  }
}

void RowTable::mousePressEvent(QMouseEvent* event) {
  const int i = int(event->position().y()) / row_height() - 1;
  choose(i >= 0 && i < int(kept_) && !(chosen_ && int(*chosen_) == i) ? std::optional(size_t(i)) : std::nullopt);
}

std::vector<PaintedPart> RowTable::painted_parts() {
  std::vector<PaintedPart> out;
  for (size_t i = 0; i < rows_.size(); ++i) {
    const Line& row = rows_[i];
    QStringList said;
    for (qsizetype c = 0; c < row.cells.size(); ++c) said << spoken(heads_[c + 1]) + " " + spoken(row.cells[c]);
    for (const QString& behind : {row.off, row.note})
      if (!behind.isEmpty()) said << spoken(behind);
    PaintedPart part{spoken(row.number), said.join(", "), QRect(0, int(i + 1) * row_height(), width(), row_height())};
    part.current = chosen_ && *chosen_ == i;
    if (!row.coming) part.press = [this, i] { choose(chosen_ && *chosen_ == i ? std::nullopt : std::optional(i)); };
    out.push_back(std::move(part));
  }
  return out;
}

QString RowTable::text() const {
  QString out = heads_.join('\t') + "\n";
  for (const Line& r : rows_)
    if (!r.coming) out += r.number + "\t" + r.cells.join('\t') + "\t" + r.off + "\t" + r.note + "\n";
  return out;
}

}  // namespace fortitor
