#include "app/wires/teach_panel.h"

#include <QFileDialog>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QSaveFile>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/method.h"

namespace fortitor {
namespace {

using line::Use;
using parts::qs;
using theme::Ink;

constexpr size_t kLinesInSight = 4;

QString words_of(const line::Piece& p) {
  switch (p.use) {
    case Use::value: return qs(p.channel) + (p.unit.empty() ? QString() : ", " + qs(p.unit));
    case Use::clock: return "clock" + (p.unit.empty() ? QString() : ", " + qs(p.unit));
    case Use::counter: return "counter";
    case Use::status: return "status";
    case Use::unit: return "unit";
    case Use::nothing: return "–";
  }
  return {};
}

// What values of machines and instruments are called, so that a run and a table find them.
QStringList usual_names() {
  QStringList out;
  for (const Method* m : methods::all()) {
    for (const ChannelSpec& c : m->channels)
      if (c.name != "time" && !out.contains(qs(c.name))) out << qs(c.name);
    for (const SegmentSpec& s : m->segments)
      for (const ChannelSpec& c : s.channels)
        if (c.name != "time" && !out.contains(qs(c.name))) out << qs(c.name);
  }
  out.sort();
  return out;
}

}  // namespace

LineParts::LineParts(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("Parts of a line"));
  QSizePolicy grows(QSizePolicy::Preferred, QSizePolicy::Minimum);
  grows.setHeightForWidth(true);
  setSizePolicy(grows);
}

void LineParts::show_parts(std::vector<line::Piece> parts) {
  parts_ = std::move(parts);
  chosen_ = std::min(chosen_, parts_.empty() ? 0 : parts_.size() - 1);
  updateGeometry();
  update();
}

void LineParts::choose(size_t part) {
  if (part >= parts_.size()) return;
  chosen_ = part;
  setAccessibleDescription(spoken(qs(parts_[part].text) + ": " + words_of(parts_[part])));
  update();
  emit picked(part);
}

std::vector<QRect> LineParts::boxes(int room) const {
  std::vector<QRect> out;
  const QFontMetrics text(theme::numbers(13, QFont::DemiBold)), small(theme::words(11, QFont::Medium));
  const int height = text.height() + small.height() + theme::px(12), gap = theme::px(6);
  int x = 0, y = 0;
  for (const line::Piece& p : parts_) {
    const QString shown = (p.key.empty() ? QString() : qs(p.key) + " ") + qs(p.text);
    const int wide = std::min(
        std::max(text.horizontalAdvance(spoken(shown)), small.horizontalAdvance(spoken(words_of(p)))) + theme::px(18),
        room);
    if (x > 0 && x + wide > room) {
      x = 0;
      y += height + gap;
    }
    out.emplace_back(x, y, wide, height);
    x += wide + gap;
  }
  return out;
}

QRect LineParts::box_of(size_t part) const {
  const auto all = boxes(width());
  return part < all.size() ? all[part] : QRect();
}

int LineParts::heightForWidth(int room) const {
  const auto all = boxes(room);
  return all.empty() ? 0 : all.back().bottom() + theme::px(2);
}

QSize LineParts::sizeHint() const {
  return {theme::px(300), heightForWidth(std::max(width(), theme::px(300)))};
}

void LineParts::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto all = boxes(width());
  for (size_t i = 0; i < all.size(); ++i) {
    const line::Piece& piece = parts_[i];
    const bool here = i == chosen_, used = piece.use != Use::nothing;
    const QRectF box = QRectF(all[i]).adjusted(0.5, 0.5, -0.5, -0.5);
    p.setPen(QPen(theme::color(here ? Ink::action : Ink::hairline), here ? 2 : 1));
    p.setBrush(theme::color(used ? Ink::selected : Ink::sheet));
    p.drawRoundedRect(box, 4, 4);
    const QRect in = all[i].adjusted(theme::px(8), theme::px(4), -theme::px(8), -theme::px(4));
    p.setFont(theme::numbers(13, piece.number ? QFont::DemiBold : QFont::Normal));
    p.setPen(theme::color(used ? Ink::ink : Ink::quiet));
    const QString shown = (piece.key.empty() ? QString() : qs(piece.key) + " ") + qs(piece.text);
    p.drawText(in, Qt::AlignTop | Qt::AlignHCenter,
               p.fontMetrics().elidedText(spoken(shown), Qt::ElideMiddle, in.width()));
    p.setFont(theme::words(11, used ? QFont::Medium : QFont::Normal));
    p.setPen(theme::color(used ? Ink::action : Ink::quiet));
    p.drawText(in, Qt::AlignBottom | Qt::AlignHCenter,
               p.fontMetrics().elidedText(spoken(words_of(piece)), Qt::ElideRight, in.width()));
  }
  if (hasFocus() && chosen_ < all.size()) {
    p.setPen(QPen(theme::color(Ink::action), 1, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(all[chosen_]).adjusted(2.5, 2.5, -2.5, -2.5), 3, 3);
  }
}

void LineParts::mousePressEvent(QMouseEvent* event) {
  const auto all = boxes(width());
  for (size_t i = 0; i < all.size(); ++i)
    if (all[i].contains(event->pos())) return choose(i);
}

void LineParts::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Right && chosen_ + 1 < parts_.size()) return choose(chosen_ + 1);
  if (event->key() == Qt::Key_Left && chosen_ > 0) return choose(chosen_ - 1);
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space) return choose(chosen_);
  QWidget::keyPressEvent(event);
}

TeachPanel::TeachPanel(WireBoard* wires, Id item, QWidget* parent) : QWidget(parent), wires_(wires), item_(item) {
  auto* whole = parts::column(this, 0, 6);
  state_ = parts::label("", "quiet");
  whole->addWidget(state_);
  lines_ = parts::label("", "");
  lines_->setTextFormat(Qt::PlainText);
  lines_->setStyleSheet(QString("font-family:'JetBrains Mono';font-size:%1px").arg(theme::px(12)));
  lines_->setAccessibleName(spoken("Lines that came in last"));
  whole->addWidget(lines_);
  parts_ = new LineParts;
  parts_->setProperty("key", "wire-parts");
  whole->addWidget(parts_);
  choice_ = new QWidget;
  auto* rows = parts::column(choice_, 0, 4);
  use_ = new QComboBox;
  use_->setProperty("key", "wire-use");
  use_->setAccessibleName(spoken("What the part is"));
  for (Use u : {Use::value, Use::clock, Use::counter, Use::status, Use::nothing})
    use_->addItem(spoken(qs(line::use_word(u))), int(u));
  name_ = new QComboBox;
  name_->setEditable(true);
  name_->setProperty("key", "wire-name");
  name_->setAccessibleName(spoken("What the value is called"));
  name_->addItems(usual_names());
  unit_ = new QLineEdit;
  unit_->setProperty("key", "wire-unit");
  unit_->setAccessibleName(spoken("Its unit"));
  unit_->setPlaceholderText(spoken("unit"));
  unit_->setMaximumWidth(theme::px(70));
  for (QComboBox* box : {use_, name_}) {
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(6);
  }
  auto* first = new QHBoxLayout;
  auto* is = parts::label("It is", "quiet");
  is->setWordWrap(false);
  first->addWidget(is);
  first->addWidget(use_, 1);
  rows->addLayout(first);
  auto* second = new QHBoxLayout;
  auto* called = parts::label("called", "quiet");
  called->setWordWrap(false);
  second->addWidget(called);
  second->addWidget(name_, 1);
  second->addWidget(unit_);
  rows->addLayout(second);
  whole->addWidget(choice_);
  problem_ = parts::label("", "caution");
  whole->addWidget(problem_);
  keep_ = parts::button("Keep this format", "wire-keep", "primary");
  export_ = parts::button("Export the format…", "wire-export");
  connect(export_, &QPushButton::clicked, this, &TeachPanel::export_format);
  whole->addWidget(keep_);
  whole->addWidget(export_);
  choice_->setVisible(false);
  problem_->setVisible(false);
  connect(keep_, &QPushButton::clicked, this, [this] {
    held_ = false;
    choice_->setVisible(false);
    emit keep_wanted();
  });
  connect(parts_, &LineParts::picked, this, [this] {
    held_ = true;
    show_choice();
  });
  connect(use_, &QComboBox::activated, this, [this] {
    if (Use(use_->currentData().toInt()) != Use::value) unit_->clear();  // what it was as a value is not its unit now
    apply();
  });
  // What is given a name is a value.
  const auto named = [this] {
    if (!name_->currentText().trimmed().isEmpty()) use_->setCurrentIndex(use_->findData(int(Use::value)));
    apply();
  };
  connect(name_, &QComboBox::textActivated, this, named);
  connect(name_->lineEdit(), &QLineEdit::returnPressed, this, named);
  connect(unit_, &QLineEdit::editingFinished, this, &TeachPanel::apply);
  refresh();
}

void TeachPanel::refresh() {
  const LiveItem* live = wires_->find(item_);
  if (live == nullptr) return;
  QString state = live->open ? "Connected" : "Not connected" + (live->why.isEmpty() ? QString() : ": " + live->why);
  if (live->format) state += ". " + qs(line::words_of(*live->format)) + (live->proposed ? ", not kept yet" : "");
  if (live->good + live->bad > 0)
    state +=
        QString(". %1 read").arg(live->good) + (live->bad > 0 ? QString(", %1 no reading").arg(live->bad) : QString());
  state_->setText(spoken(state + "."));
  QStringList lines;
  for (size_t i = live->lines.size() > kLinesInSight ? live->lines.size() - kLinesInSight : 0; i < live->lines.size();
       ++i)
    lines << qs(live->lines[i]);
  lines_->setText(spoken(lines.join("\n")));
  keep_->setVisible(live->proposed);
  export_->setVisible(live->format.has_value());
  if (!live->format) return;
  // The newest line that the format reads; the one that is pointed at stays.
  if (!held_)
    for (const std::string& l : live->lines)
      if (line::read(*live->format, l).state != line::State::bad) line_ = l;
  if (held_ && shown_ == *live->format) return;
  shown_ = *live->format;
  parts_->show_parts(line::pieces_of(shown_, line_));
}

void TeachPanel::export_format() {
  const QString path =
      QFileDialog::getSaveFileName(this, spoken("Line format"), "format.json", "Line formats (*.json)");
  if (path.isEmpty()) return;
  QSaveFile file(path);
  const QByteArray json = QByteArray::fromStdString(line::format_to_json(shown_)) + "\n";
  if (!file.open(QIODevice::WriteOnly) || file.write(json) != json.size() || !file.commit()) {
    problem_->setText(spoken(path + " could not be written: " + file.errorString() + "."));
    problem_->setVisible(true);
  }
}

void TeachPanel::show_choice() {
  const auto all = line::pieces_of(shown_, line_);
  if (parts_->chosen() >= all.size()) return;
  const line::Piece& p = all[parts_->chosen()];
  problem_->setVisible(false);
  choice_->setVisible(p.use != Use::unit);
  use_->setCurrentIndex(std::max(0, use_->findData(int(p.use))));
  name_->setCurrentText(p.use == Use::value ? qs(p.channel) : QString());
  unit_->setText(qs(p.unit));
  unit_->setPlaceholderText(spoken(p.unit_in_line ? "as said" : "unit"));
  name_->setEnabled(p.number);
  unit_->setEnabled(p.number && p.use != Use::counter);
}

// Taken at once: what the next lines say shows whether it was meant so.
void TeachPanel::apply() {
  if (!held_ || !choice_->isVisible()) return;
  const line::Taught taught{Use(use_->currentData().toInt()), name_->currentText().trimmed().toStdString(),
                            unit_->text().trimmed().toStdString()};
  const auto all = line::pieces_of(shown_, line_);
  const size_t at = parts_->chosen();
  if (at >= all.size()) return;
  const line::Piece& p = all[at];
  const bool with_unit = taught.use == Use::value || taught.use == Use::clock;
  if (p.use == taught.use && (taught.use != Use::value || p.channel == taught.channel) &&
      (!with_unit || p.unit == taught.unit))
    return;
  if (taught.use == Use::value && taught.channel.empty()) return name_->setFocus();  // a name comes next
  const auto f = line::teach(shown_, line_, at, taught);
  problem_->setVisible(!f);
  if (!f) return problem_->setText(spoken(qs(f.error().message)));
  wires_->try_format(item_, *f);
  refresh();
  show_choice();
}

}  // namespace fortitor
