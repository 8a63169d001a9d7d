#include "app/slate/slate_desk.h"

#include <QComboBox>
#include <QGridLayout>
#include <QMenu>

#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/method.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr size_t kLongest = 200;

}  // namespace

SlateDesk::SlateDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  const DeskFrame frame(this);
  auto* outer = frame.whole();
  line_ = new QLineEdit;
  line_->setProperty("key", "slate-line");
  line_->setAccessibleName(spoken("A line to work out"));
  line_->setPlaceholderText(spoken("hv 0.5kgf 43.2um    snatch 2000 kg 1.2 m/s 20 mm    2 5/8 in to mm"));
  line_->setStyleSheet(
      QString("font-family:'JetBrains Mono';font-size:%1px;padding:9px 14px").arg(qRound(18 * theme::scale())));
  outer->addWidget(line_);
  connect(line_, &QLineEdit::textEdited, this, [this](const QString& text) {
    if (const auto t = slate::read_line(text.toStdString())) choose(t->calculator, t->inputs);
  });
  connect(line_, &QLineEdit::returnPressed, this, [this] { take_line(line_->text()); });

  auto* row = frame.row();
  auto* list = parts::sheet();
  auto* list_column = parts::column(list, 8, 2);
  for (const slate::Calculator& c : slate::calculators()) {
    auto* b = parts::button(qs(c.title), "slate-" + qs(c.id), "row");
    b->setCheckable(true);
    b->setToolTip(spoken(qs(c.example)));
    connect(b, &QPushButton::clicked, this, [this, &c] { choose(&c, {}); });
    choices_[c.id] = b;
    list_column->addWidget(b);
  }
  list_column->addStretch();
  auto* list_area = parts::scroller(list);
  DeskFrame::side(list_area, 280);
  row->addWidget(list_area);

  auto* work_sheet = parts::sheet();
  auto* column = parts::column(work_sheet, 18, 12);
  head_ = parts::label("", "heading");
  column->addWidget(head_);
  inputs_ = new QGridLayout;
  inputs_->setHorizontalSpacing(12);
  inputs_->setVerticalSpacing(6);
  column->addLayout(inputs_);
  error_ = parts::label("", "quiet");
  column->addWidget(error_);
  answers_ = new QVBoxLayout;
  answers_->setSpacing(14);
  column->addLayout(answers_);
  caution_ = parts::label("", "caution");
  column->addWidget(caution_);
  column->addStretch();
  auto* acts = new QHBoxLayout;
  keep_ = parts::button("Keep on the tape", "slate-keep", "primary");
  hand_ = parts::button("New specimen of this…", "slate-hand");
  acts->addWidget(keep_);
  acts->addWidget(hand_);
  acts->addStretch();
  column->addLayout(acts);
  connect(keep_, &QPushButton::clicked, this, &SlateDesk::keep);
  connect(hand_, &QPushButton::clicked, this, &SlateDesk::hand_over);
  row->addWidget(parts::scroller(work_sheet), 1);

  auto* tape = parts::sheet();
  auto* tape_column = parts::column(tape, 14, 8);
  tape_column->addWidget(parts::label("Tape", "title"));
  rolls_ = new QVBoxLayout;
  rolls_->setSpacing(10);
  tape_column->addLayout(rolls_);
  tape_column->addStretch();
  auto* tape_area = parts::scroller(tape);
  DeskFrame::side(tape_area, 300);
  row->addWidget(tape_area);
  connect(bench, &Workbench::units_changed, this, [this] {
    if (!isVisible()) return;
    work();
    show_tape();
  });
}

std::vector<Doable> SlateDesk::found(const QString& typed) {
  const auto line = slate::read_line(typed.toStdString());
  if (!line || line->calculator->id == "convert") return {};  // the box converts units itself
  const auto answer = slate::work(*line->calculator, line->inputs, bench_->units());
  if (!answer) return {};
  return {{qs(slate::in_short(*answer, bench_->units())), qs(line->calculator->title),
           [this, typed] {
             emit desk_wanted(name(), 0, -1);
             take_line(typed);
           },
           Doable::Rank::answer}};
}

void SlateDesk::open(Id, int) {
  read_tape();
  if (calculator_ == nullptr) {
    const auto t = slate::read_line(slate::find("hv")->example);
    choose(t->calculator, t->inputs);
  }
  show_tape();
  line_->setFocus();
}

void SlateDesk::take_line(const QString& text) {
  const auto t = slate::read_line(text.toStdString());
  if (!t) {
    error_->setText(
        spoken("“" + text.trimmed() +
               "” is no line of the Slate: begin with a name from the list, or write a quantity, “to”, and a unit."));
    return;
  }
  line_->setText(text);
  choose(t->calculator, t->inputs);
  keep();
  line_->selectAll();
}

void SlateDesk::choose(const slate::Calculator* c, const std::map<std::string, std::string>& typed) {
  calculator_ = c;
  typed_ = typed;
  for (const auto& [id, button] : choices_) button->setChecked(id == c->id);
  head_->setText(spoken(qs(c->title)));
  build_inputs();
  work();
}

void SlateDesk::build_inputs() {
  parts::clear(inputs_);
  edits_.clear();
  int at = 0;
  for (const slate::Input& i : calculator_->inputs) {
    const int r = at / 3 * 2, c = at % 3;
    ++at;
    inputs_->addWidget(parts::label(qs(i.label), "quiet"), r, c);
    const std::string given = typed_.count(i.key) ? typed_[i.key] : "";
    const QString key = "slate:" + qs(i.key);
    if (!i.choices.empty()) {
      auto* box = new QComboBox;
      for (const std::string& w : i.choices) box->addItem(qs(w));
      for (int k = 0; k < box->count(); ++k)
        if (box->itemText(k).compare(qs(given), Qt::CaseInsensitive) == 0) box->setCurrentIndex(k);
      connect(box, &QComboBox::activated, this, [this, box, k = i.key] {
        typed_[k] = box->currentText().toStdString();
        work();
      });
      edits_[i.key] = box;
    } else {
      auto* edit = new QLineEdit(qs(given));
      edit->setPlaceholderText(spoken(qs(i.hint)));
      connect(edit, &QLineEdit::textEdited, this, [this, k = i.key](const QString& text) {
        typed_[k] = text.trimmed().toStdString();
        work();
      });
      connect(edit, &QLineEdit::returnPressed, this, &SlateDesk::keep);
      edits_[i.key] = edit;
    }
    edits_[i.key]->setProperty("key", key);
    edits_[i.key]->setAccessibleName(spoken(qs(i.label)));
    inputs_->addWidget(edits_[i.key], r + 1, c);
  }
  for (int c = 0; c < 3; ++c) inputs_->setColumnStretch(c, 1);
}

void SlateDesk::work() {
  if (calculator_ == nullptr) return;
  parts::clear(answers_);
  const auto lines = slate::work(*calculator_, typed_, bench_->units());
  error_->setText(spoken(lines ? QString() : qs(lines.error().message)));
  error_->setVisible(!lines);
  keep_->setEnabled(bool(lines));
  hand_->setVisible(!calculator_->method.empty());
  hand_->setEnabled(bool(lines));
  caution_->setText(spoken(qs(calculator_->caution)));
  caution_->setVisible(!calculator_->caution.empty());
  if (!lines) return;
  bool first = true;
  for (const slate::Line& l : *lines) {
    auto* block = new QVBoxLayout;
    block->setSpacing(2);
    auto* top = new QHBoxLayout;
    top->addWidget(parts::label(qs(l.name), first ? "title" : "quiet"), 1);
    auto* value = parts::label(qs(slate::value_words(l, bench_->units())), "mono");
    value->setProperty("key", "slate-answer");
    value->setFont(theme::numbers(first ? 34 : 16, QFont::Bold));
    value->setStyleSheet(QString("font-family:'JetBrains Mono';font-weight:700;font-size:%1px")
                             .arg(qRound((first ? 34 : 16) * theme::scale())));
    if (!l.text.empty() && l.step.expression.empty())
      value->setStyleSheet(QString("font-size:%1px").arg(qRound(13 * theme::scale())));
    top->addWidget(value, 0, Qt::AlignRight);
    block->addLayout(top);
    if (!l.step.expression.empty())
      block->addWidget(parts::label(qs(l.step.expression) + (l.step.with.empty() ? "" : ",  " + qs(l.step.with)) +
                                        (l.step.source.empty() ? "" : "   (" + qs(l.step.source) + ")"),
                                    "hint"));
    answers_->addLayout(block);
    first = false;
  }
}

// The line that gives these inputs again.
std::string SlateDesk::line_of_inputs() const {
  const auto get = [&](const char* key) { return typed_.count(key) ? typed_.at(key) : std::string(); };
  if (calculator_->id == "convert") return get("text") + " to " + get("unit");
  std::string out = calculator_->names.front();
  for (const slate::Input& i : calculator_->inputs)
    if (const auto it = typed_.find(i.key); it != typed_.end() && !it->second.empty()) {
      std::string joined;
      for (char c : it->second)
        if (c != ' ') joined += c;
      out += " " + i.key + "=" + joined;
    }
  return out;
}

void SlateDesk::keep() {
  if (calculator_ == nullptr) return;
  if (const auto lines = slate::work(*calculator_, typed_, bench_->units()); !lines) return work();
  std::string line = line_->text().trimmed().toStdString();
  const auto read = slate::read_line(line);
  if (!read || read->calculator != calculator_ || read->inputs != typed_) line = line_of_inputs();
  if (tape_.empty() || tape_.front().line != line) tape_.insert(tape_.begin(), {line, ""});
  if (tape_.size() > kLongest) tape_.resize(kLongest);
  keep_tape();
  show_tape();
}

const SettingRows<SlateDesk::Kept>& SlateDesk::tape_of_book() {
  static const SettingRows<Kept> tape("slate.tape", {{"line", &Kept::line}, {"note", &Kept::note}});
  return tape;
}

void SlateDesk::read_tape() {
  tape_ = tape_of_book().of(*bench_->book());
}

void SlateDesk::keep_tape() {
  if (const auto kept = tape_of_book().keep(*bench_->book(), tape_); !kept) bench_->say(qs(kept.error().message));
}

void SlateDesk::show_tape() {
  parts::clear(rolls_);
  for (size_t i = 0; i < tape_.size(); ++i) {
    const auto t = slate::read_line(tape_[i].line);
    if (!t) continue;
    const auto lines = slate::work(*t->calculator, t->inputs, bench_->units());
    auto* block = new QVBoxLayout;
    block->setSpacing(2);
    auto* typed = parts::button(qs(tape_[i].line), "slate-tape-" + QString::number(i), "row");
    typed->setToolTip(spoken("Takes the line up again."));
    connect(typed, &QPushButton::clicked, this, [this, line = tape_[i].line] {
      line_->setText(qs(line));
      if (const auto again = slate::read_line(line)) choose(again->calculator, again->inputs);
    });
    block->addWidget(typed);
    auto* answer =
        parts::label(lines ? qs(slate::in_short(*lines, bench_->units())) : qs(lines.error().message), "mono");
    answer->setContentsMargins(10, 0, 0, 0);
    block->addWidget(answer);
    auto* note = new QLineEdit(qs(tape_[i].note));
    note->setPlaceholderText(spoken("a note"));
    note->setProperty("key", "slate-note-" + QString::number(i));
    note->setAccessibleName(spoken("Note to " + qs(tape_[i].line)));
    connect(note, &QLineEdit::editingFinished, this, [this, note, i] {
      if (!note->isModified() || i >= tape_.size()) return;
      tape_[i].note = note->text().trimmed().toStdString();
      note->setModified(false);
      keep_tape();
    });
    block->addWidget(note);
    rolls_->addLayout(block);
  }
  if (tape_.empty())
    rolls_->addWidget(
        parts::label("Lines that are kept stand here, the newest on top, each with room for a note.", "hint"));
}

void SlateDesk::hand_over() {
  const Method* method = methods::find(calculator_->method);
  if (method == nullptr) return;
  QMenu menu;
  for (const JobRow& job : bench_->book()->jobs()) {
    QAction* a = menu.addAction(spoken(qs(job.code + " " + job.title)));
    a->setData(qlonglong(job.id));
  }
  if (menu.isEmpty()) return bench_->say("There is no job yet: open one first.");
  menu.setProperty("key", "slate-jobs");
  const QAction* chosen = menu.exec(hand_->mapToGlobal(QPoint(0, -menu.sizeHint().height())));
  if (chosen == nullptr) return;
  const Id job = chosen->data().toLongLong();
  Id series = 0, specimen = 0;
  const auto done = bench_->book()->together([&]() -> Outcome<Done> {
    for (const SeriesRow& s : bench_->book()->series(job))
      if (s.method == method->id) series = s.id;
    if (series == 0) {
      const auto made = bench_->book()->add_series(job, method->short_name, method->id);
      if (!made) return made.error();
      series = *made;
    }
    TestRecord r;
    r.method = method->id;
    const std::string code = "S-" + std::to_string(bench_->book()->specimens(series).size() + 1);
    for (const SeriesRow& s : bench_->book()->series(job))
      if (s.id == series) r.series = s.title;
    r.job = chosen->text().section(' ', 0, 0).toStdString();
    r.fields.set("specimen.id", code);
    for (const slate::Input& i : calculator_->inputs) {
      const auto it = typed_.find(i.key);
      if (i.path.empty() || it == typed_.end() || it->second.empty()) continue;
      const FieldSpec* f = method->field(i.path);
      const auto q = parse_quantity(it->second, i.dimension, {bench_->units(), nullptr});
      if (f != nullptr && q) r.fields.set(i.path, reading_of(*q));
    }
    const auto made = bench_->book()->add_specimen(series, code, r);
    if (!made) return made.error();
    specimen = *made;
    return Done{};
  });
  if (!done) return bench_->say(qs(done.error().message));
  bench_->touch_docket();
  emit desk_wanted("specimen", specimen, int(Stage::measure));
}

}  // namespace fortitor
