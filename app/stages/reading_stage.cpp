#include "app/stages/reading_stage.h"

#include <QImage>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/section/section.h"
#include "core/standin/benches.h"

namespace fortitor {
namespace {

using parts::qs;

// A choice with its drawing, for looks and shapes.
class DrawnChoice : public QPushButton {
 public:
  DrawnChoice(std::string sketch, std::string path, const Choice& choice)
      : sketch_(std::move(sketch)), path_(std::move(path)), value_(choice.value) {
    setText(spoken(qs(choice.label)));
    setCheckable(true);
    setProperty("key", qs(path_ + "=" + value_));
    setAccessibleName(spoken(qs(choice.label)));
    setStyleSheet(
        QString("QPushButton{min-width:%1px;max-width:%1px;min-height:%2px;max-height:%2px;padding:0;border:0}")
            .arg(76)
            .arg(qRound(64 + 24 * theme::scale())));
    setToolTip(text());
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(isChecked() || hasFocus() ? theme::color(theme::Ink::action) : theme::color(theme::Ink::hairline),
                  isChecked() ? 2 : 1));
    p.setBrush(isChecked() ? theme::color(theme::Ink::selected) : theme::color(theme::Ink::sheet));
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    // Its name in two lines at most, as small as its longest word wants.
    QFont font = theme::words(10, isChecked() ? QFont::DemiBold : QFont::Normal);
    const QRect words = rect().adjusted(3, 0, -3, -4);
    int longest = 0;
    for (const QString& word : text().split(' '))
      longest = std::max(longest, QFontMetrics(font).horizontalAdvance(word));
    if (longest > words.width()) font.setPixelSize(std::max(7, font.pixelSize() * words.width() / longest));
    const QRect drawn = QFontMetrics(font).boundingRect(words, Qt::AlignHCenter | Qt::TextWordWrap, text());
    paint_choice(p, QRectF(rect()).adjusted(10, 6, -10, -10 - drawn.height()), sketch_, path_, value_);
    p.setPen(theme::color(theme::Ink::ink));
    p.setFont(font);
    p.drawText(words, Qt::AlignHCenter | Qt::AlignBottom | Qt::TextWordWrap, text());
  }

 private:
  std::string sketch_, path_, value_;
};

// Whether a choice has drawings beside this sketch.
bool is_drawn(const std::string& sketch, const FieldSpec& field) {
  QImage scrap(1, 1, QImage::Format_ARGB32);
  QPainter p(&scrap);
  return !field.choices.empty() && paint_choice(p, QRectF(0, 0, 1, 1), sketch, field.path, field.choices.front().value);
}

// The values of every choice on which other fields depend: when one changes the page is built anew.
std::string dependence(const Method& m, const TestRecord& r) {
  std::string out;
  std::string last;
  for (const FieldSpec& f : m.fields) {
    if (f.when_path.empty() || f.when_path == last) continue;
    last = f.when_path;
    out += r.fields.text(f.when_path) + ";";
  }
  return out;
}

}  // namespace

ReadingStage::ReadingStage(Workbench* bench, Stage stage, QWidget* parent) : StagePage(bench, stage, parent) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(12);
}

void ReadingStage::rebuild() {
  auto* outer = static_cast<QHBoxLayout*>(layout());
  outer->setDirection(QBoxLayout::LeftToRight);
  parts::clear(outer);
  choices_.clear();
  const Method& m = bench_->method();
  auto* sheet = parts::sheet();
  auto* left = parts::column(sheet, 12, 8);
  auto* head = new QHBoxLayout;
  head->addWidget(parts::label(qs(m.guide(stage_).lead), "title"), 1);
  const standin::Bench* standin = standin::find_bench(m.standin);
  if (standin != nullptr && standin->readings) {
    auto* read = parts::button(qs(m.wording.looks), "caliper");
    read->setToolTip(spoken("Readings from the simulated caliper, on the simulated piece."));
    connect(read, &QPushButton::clicked, this, &ReadingStage::read_by_caliper);
    head->addWidget(read);
  }
  left->addLayout(head);
  pad_ = new SketchPad(bench_);
  const std::string& sketch = stage_ == Stage::measure ? m.measure_sketch : m.after_sketch;
  pad_->show_sketch(sketch);
  left->addWidget(pad_, 1);
  left->addWidget(parts::label(stage_ == Stage::measure
                                   ? "Enter goes to the next reading. M says it was missed. A column can be pasted."
                                   : "Enter goes to the next reading.",
                               "hint"));
  if (!pad_->hint().isEmpty()) left->addWidget(parts::label(pad_->hint(), "hint"));

  auto* side = side_ = new QWidget;
  side->setFixedWidth(int((stage_ == Stage::after ? 274 : 292) * std::min(1.4, theme::scale())));
  auto* right = parts::column(side, 0, 12);
  auto* facts = parts::sheet();
  auto* facts_layout = parts::column(facts, 14, 10);
  std::vector<const FieldSpec*> rest;
  for (const FieldSpec* f : fields_of_stage()) {
    if (pad_->holds(f->path) || f->path.rfind("equipment.", 0) == 0) continue;
    if (f->kind != FieldKind::choice) {
      rest.push_back(f);
      continue;
    }
    facts_layout->addWidget(parts::label(qs(f->label), "hint"));
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    int n = 0;
    const bool drawn = is_drawn(sketch, *f);
    const bool wordy =
        std::any_of(f->choices.begin(), f->choices.end(), [](const Choice& c) { return c.label.size() > 17; });
    for (const Choice& c : f->choices) {
      QPushButton* b =
          drawn ? new DrawnChoice(sketch, f->path, c) : parts::button(qs(c.label), qs(f->path + "=" + c.value));
      b->setCheckable(true);
      b->setProperty("path", qs(f->path));
      b->setProperty("value", qs(c.value));
      connect(b, &QPushButton::clicked, this,
              [this, field = *f, value = c.value] { bench_->set_field(field, qs(value)); });
      choices_.push_back(b);
      const int columns = drawn ? 3 : wordy ? 1 : 2;
      grid->addWidget(b, n / columns, n % columns);
      ++n;
    }
    facts_layout->addLayout(grid);
  }
  summary_ = new QVBoxLayout;
  summary_->setSpacing(6);
  facts_layout->addLayout(summary_);
  if (!rest.empty()) {
    form_ = new FieldForm(bench_);
    form_->show_fields(rest);
    facts_layout->addWidget(form_);
  } else {
    form_ = nullptr;
  }
  equipment_ = new EquipmentPanel(bench_, bench_);
  equipment_->show_slots(m, stage_);
  facts_layout->addWidget(equipment_);
  facts_layout->addSpacing(6);
  for (const auto& line : m.guide(stage_).guidance) facts_layout->addWidget(parts::label(qs(line), "quiet"));
  for (const auto& line : m.guide(stage_).cautions) facts_layout->addWidget(parts::label("△  " + qs(line), "caution"));
  facts_layout->addStretch();
  right->addWidget(parts::scroller(facts), 1);
  outer->addWidget(sheet, 1);
  outer->addWidget(side);
  beside_ = outer->minimumSize().width();
  side_width_ = side->width();
  stand();
  shape_ = dependence(m, bench_->record());
  refresh();
}

void ReadingStage::refresh() {
  if (pad_ == nullptr) return;
  if (dependence(bench_->method(), bench_->record()) != shape_) return rebuild();
  pad_->refresh();
  if (form_ != nullptr) form_->refresh();
  equipment_->refresh();
  for (QPushButton* b : choices_) {
    const std::string path = b->property("path").toString().toStdString();
    std::string value = bench_->record().fields.text(path);
    const FieldSpec* field = bench_->method().field(path);
    if (value.empty() && field != nullptr && field->first_is_usual) value = field->choices.front().value;
    b->setChecked(qs(value) == b->property("value").toString());
  }
  refresh_summary();
}

// Beside the drawing, or beneath it where large words leave no room for both.
void ReadingStage::stand() {
  auto* outer = static_cast<QHBoxLayout*>(layout());
  if (side_ == nullptr || parentWidget() == nullptr) return;
  const bool beneath = parentWidget()->width() < beside_;
  if (beneath == (outer->direction() == QBoxLayout::TopToBottom)) return;
  outer->setDirection(beneath ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
  side_->setMinimumWidth(beneath ? 0 : side_width_);
  side_->setMaximumWidth(beneath ? QWIDGETSIZE_MAX : side_width_);
  auto* facts = side_->findChild<QScrollArea*>();
  facts->setMinimumHeight(beneath ? facts->widget()->sizeHint().height() : 0);  // the page scrolls, not a part of it
}

void ReadingStage::resizeEvent(QResizeEvent* event) {
  StagePage::resizeEvent(event);
  stand();
}

void ReadingStage::evaluated() {
  if (pad_ == nullptr) return;
  refresh_summary();
  pad_->update();
}

// Mean, range and spread of every list as it fills, and what follows from them.
void ReadingStage::refresh_summary() {
  parts::clear(summary_);
  const UnitSet set = bench_->units();
  const Fields& fields = bench_->record().fields;
  auto line = [&](const QString& name, const QString& value, const QString& note, bool warn) {
    auto* row = new QHBoxLayout;
    auto* l = parts::label(name, "quiet");
    row->addWidget(l, 1);
    auto* v = parts::label(value, "mono");
    v->setWordWrap(false);
    row->addWidget(v);
    summary_->addLayout(row);
    if (note.isEmpty()) return;
    auto* n = parts::label(note, warn ? "caution" : "hint");
    n->setAlignment(Qt::AlignRight);
    summary_->addWidget(n);
  };
  for (const FieldSpec* f : fields_of_stage()) {
    if (f->kind != FieldKind::readings || !(f->spread_limit > 0)) continue;
    const Dim d = dimension_of(fields, f->path, f->symbol, f->label);
    if (!d.given()) continue;
    QString note;
    const double ratio = d.mean != 0 ? d.range / std::abs(d.mean) : 0;
    if (d.values.size() > 1)
      note =
          "spread " + qs(format_value(d.range, f->dimension, set, 2)) + ", " + qs(significant(100 * ratio, 2)) + " %";
    if (d.missed > 0) note += (note.isEmpty() ? "" : "; ") + QString::number(d.missed) + " missed";
    line(qs(f->label) + ", mean", qs(format_value(d.mean, f->dimension, set, 5)), note, ratio > f->spread_limit);
  }
  const auto e = bench_->evaluation();
  if (!e) return;
  const Method& m = bench_->method();
  for (const std::string& key : stage_ == Stage::measure ? m.measure_keys : m.after_keys) {
    if (const ResultValue* r = e->find(key)) {
      QString note;
      if (r->standard_uncertainty > 0)
        note = "± " + qs(printed_uncertainty(r->expanded(), r->shown_like(), r->spec.dimension, set).text());
      line(qs(r->spec.name), qs(reported(*r, fields, set).text()), note, false);
    }
  }
}

void ReadingStage::read_by_caliper() {
  const standin::Bench* standin = standin::find_bench(bench_->method().standin);
  if (standin == nullptr || !standin->readings) return;
  std::map<std::string, FieldValue> found;
  for (const FieldSpec* f : fields_of_stage()) {
    if (f->kind != FieldKind::readings && f->kind != FieldKind::quantity) continue;
    Readings list;
    for (const auto& typed : standin->readings(bench_->record(), f->path, f->wanted))
      if (const auto q = parse_quantity(typed, f->dimension)) list.push_back(reading_of(*q));
    if (list.empty()) continue;
    if (f->kind == FieldKind::quantity)
      found[f->path] = list.front();
    else
      found[f->path] = list;
  }
  if (stage_ == Stage::after && standin->looks && bench_->record().has_run())
    for (const auto& [path, value] : standin->looks(bench_->record()))
      if (const FieldSpec* f = bench_->method().field(path))
        if (const auto v = bench_->parse_field(*f, qs(value))) found[path] = *v;
  if (found.empty()) {
    bench_->say("The stand-in caliper finds nothing to read here yet" +
                QString(stage_ == Stage::after ? ": the piece has to break first." : "."));
    return;
  }
  bench_->edit("read with the stand-in caliper", [&](TestRecord& r) {
    for (const auto& [path, value] : found) r.fields.set(path, value);
    r.fields.set("equipment.standin.piece", standin::piece_of(r, *standin));
    r.fields.set("equipment.standin.seed", double(standin::seed_of(r)));
  });
}

}  // namespace fortitor
