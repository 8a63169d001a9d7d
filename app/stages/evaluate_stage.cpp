#include "app/stages/evaluate_stage.h"

#include <QFileDialog>
#include <QGuiApplication>
#include <QInputDialog>
#include <algorithm>
#include <cmath>

#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "report/export.h"

namespace fortitor {

using parts::qs;

EvaluateStage::EvaluateStage(Workbench* bench, QWidget* parent) : StagePage(bench, Stage::evaluate, parent) {
  auto* outer = parts::column(this, 0, 8);
  auto* sheet = parts::sheet();
  auto* figures = parts::column(sheet, 8, 0);
  pictures_ = new QHBoxLayout;
  pictures_->setSpacing(6);
  pictures_->addStretch();
  figures->addLayout(pictures_);
  figure_ = new FigureView;
  figures->addWidget(figure_, 1);
  connect(figure_, &FigureView::dragged, this, [this](const Handle& h, double v) { drag(h, v, false); });
  connect(figure_, &FigureView::released, this, [this](const Handle& h, double v) { drag(h, v, true); });
  connect(figure_, &FigureView::picked, this, &EvaluateStage::result_picked);
  auto* beside = new QHBoxLayout;
  beside->setSpacing(8);
  beside->addWidget(sheet, 1);
  how_ = new HowPanel(bench);
  how_->hide();
  beside->addWidget(how_);
  outer->addLayout(beside, 1);

  // Schools and buttons flow: they take the lines they need and never make the page wider.
  auto* controls = new QVBoxLayout;
  controls->setSpacing(6);
  schools_ = new FlowLayout;
  what_if_ = parts::button("What if…", "what-if", "", this);
  what_if_->setToolTip(spoken("Try settings beside the original; keep or drop them after."));
  keep_ = parts::button("Keep the what-if", "what-if-keep", "primary", this);
  drop_ = parts::button("Drop it", "what-if-drop", "", this);
  how_open_ = parts::button("How it is computed", "how", "", this);
  how_open_->setCheckable(true);
  how_open_->setToolTip(spoken("Every setting of the evaluation: what it is now and what the usual is."));
  compare_ = new Compare(bench, this);
  compare_open_ = parts::button("Compare…", "compare", "", this);
  compare_open_->setToolTip(spoken("Curves of other pieces under this one."));
  auto* others = new QMenu(compare_open_);
  compare_open_->setMenu(others);
  connect(others, &QMenu::aboutToShow, this, [this, others] { compare_->fill(*others); });
  connect(compare_, &Compare::changed, this, &EvaluateStage::show_evaluation);
  connect(compare_, &Compare::mark_wanted, this, [this] {
    bool ok = false;
    const QString mark =
        QInputDialog::getText(this, spoken("Compare"), spoken("Mark of the other piece"), QLineEdit::Normal, {}, &ok);
    if (ok) compare_->take_mark(mark);
  });
  save_ = parts::button("Save figure…", "figure-save", "", this);
  controls->addLayout(schools_);
  alternatives_ = new AlternativesStrip(bench);
  controls->addWidget(alternatives_);
  outer->addLayout(controls);
  connect(what_if_, &QPushButton::clicked, bench, [bench] { bench->begin_what_if(); });
  connect(keep_, &QPushButton::clicked, bench, [bench] { bench->keep_preview("what-if kept"); });
  connect(drop_, &QPushButton::clicked, bench, [bench] { bench->drop_preview(); });
  connect(how_open_, &QPushButton::toggled, this, [this](bool open) {
    if (open) how_->rebuild();
    how_->setVisible(open);
    show_schools();
  });
  connect(save_, &QPushButton::clicked, this, &EvaluateStage::export_figure);
  connect(bench, &Workbench::evaluation_changed, this, &EvaluateStage::show_evaluation);
  connect(bench, &Workbench::highlighted, this, [this](const QString& key) { figure_->highlight(key.toStdString()); });
}

void EvaluateStage::rebuild() {
  // The buttons stay; what belongs to the method goes.
  while (QLayoutItem* item = schools_->takeAt(0)) {
    if (QWidget* w = item->widget(); w != nullptr && w->property("school").toBool()) {
      w->setProperty("school", false);  // it lives until the next event, and must not be shown again
      w->hide();
      w->deleteLater();
    }
    delete item;
  }
  chips_.clear();
  for (const School& school : bench_->method().schools) {
    // The name and its first choice stay together.
    auto* head = new QWidget;
    head->setProperty("school", true);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    auto* name = parts::label(qs(school.label), "quiet");
    name->setWordWrap(false);
    row->addWidget(name);
    const FieldSpec* field = bench_->method().field(school.setting);
    for (const Choice& c : school.choices) {
      auto* chip = parts::button(qs(c.label), qs(school.setting + "=" + c.value));
      chip->setCheckable(true);
      chip->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
      chip->setProperty("path", qs(school.setting));
      chip->setProperty("value", qs(c.value));
      chip->setProperty("first", c.value == school.choices.front().value);
      chip->setProperty("school", true);
      connect(chip, &QPushButton::clicked, this, [this, spec = *field, c] { bench_->set_field(spec, qs(c.value)); });
      const bool first = &c == &school.choices.front();
      if (first) row->addWidget(chip);
      if (first) schools_->begin_group(18);
      schools_->addWidget(first ? head : static_cast<QWidget*>(chip));
      chips_.push_back(chip);
    }
  }
  schools_->begin_group(18);
  for (QPushButton* b : {what_if_, keep_, drop_, how_open_, compare_open_, save_}) schools_->addWidget(b);
  figure_->highlight("");
  if (how_->isVisible()) how_->rebuild();
  show_schools();
  show_evaluation();
  refresh();
}

// The panel holds the schools too: they stand in one place at a time.
void EvaluateStage::show_schools() {
  for (QWidget* w : findChildren<QWidget*>())
    if (w->property("school").toBool()) w->setVisible(!how_open_->isChecked());
}

void EvaluateStage::refresh() {
  for (QPushButton* chip : chips_) {
    const std::string now = bench_->record().fields.text(chip->property("path").toString().toStdString());
    chip->setChecked(now.empty() ? chip->property("first").toBool() : qs(now) == chip->property("value").toString());
  }
  what_if_->setVisible(!bench_->what_if());
  keep_->setVisible(bench_->what_if());
  drop_->setVisible(bench_->what_if());
  alternatives_->refresh();
  if (how_->isVisible()) how_->refresh();
}

void EvaluateStage::show_evaluation() {
  refresh();
  const auto e = bench_->evaluation();
  if (!e || e->figures.empty())
    return figure_->show_nothing("There is nothing to draw yet. Run the piece, or import a machine's file, at Run.");
  offer_figures(*e);
  auto wanted = [&](const Evaluation& from) -> const Figure* {
    for (const Figure& f : from.figures)
      if (f.id == picture_) return &f;
    return from.figures.empty() ? nullptr : &from.figures.front();
  };
  const auto original = bench_->original();
  if (compare_->empty())
    return figure_->show_figure(*wanted(*e), bench_->units(), original ? wanted(*original) : nullptr);
  Figure with = *wanted(*e);
  compare_->lay(with);
  figure_->show_figure(with, bench_->units(), original ? wanted(*original) : nullptr);
}

void EvaluateStage::offer_figures(const Evaluation& e) {
  const size_t n = e.figures.size() > 1 ? e.figures.size() : 0;
  while (picture_buttons_.size() > n) {
    picture_buttons_.back()->deleteLater();
    picture_buttons_.pop_back();
  }
  while (picture_buttons_.size() < n) {
    const int i = int(picture_buttons_.size());
    auto* b = parts::button("", QString("figure-%1").arg(i));
    b->setCheckable(true);
    connect(b, &QPushButton::clicked, this, [this, b] {
      picture_ = b->property("figure").toString().toStdString();
      show_evaluation();
    });
    pictures_->insertWidget(i, b);
    picture_buttons_.push_back(b);
  }
  const bool known = std::any_of(e.figures.begin(), e.figures.end(), [&](const Figure& f) { return f.id == picture_; });
  for (size_t i = 0; i < n; ++i) {
    picture_buttons_[i]->setText(spoken(qs(e.figures[i].title)));
    picture_buttons_[i]->setProperty("figure", qs(e.figures[i].id));
    picture_buttons_[i]->setChecked(known ? e.figures[i].id == picture_ : i == 0);
  }
}

void EvaluateStage::drag(const Handle& handle, double at, bool keep) {
  const double value = handle.from + at * handle.per;
  const Method& m = bench_->method();
  auto change = [&](TestRecord& r) {
    for (const auto& [path, typed] : handle.with)
      if (const FieldSpec* f = m.field(path))
        if (const auto v = bench_->parse_field(*f, qs(typed))) r.fields.set(path, *v);
    const FieldSpec* f = m.field(handle.setting);
    if (f == nullptr || !(value > 0)) return;
    const std::string typed = plain_number(value, 5) + " " + std::string(internal_symbol(handle.dimension));
    if (const auto v = bench_->parse_field(*f, qs(typed))) r.fields.set(handle.setting, *v);
  };
  bench_->preview(change);
  if (keep && !bench_->what_if())
    bench_->keep_preview("dragged: " + qs(handle.label) + " " +
                         qs(format_value(value, handle.dimension, bench_->units(), 4)));
}

void EvaluateStage::export_figure() {
  const auto e = bench_->evaluation();
  if (!e) return;
  const QString path = QFileDialog::getSaveFileName(
      this, spoken("Save figure"), qs(bench_->record().specimen_id()) + ".svg",
      parts::file_kinds("Figure", "*.svg *.png *.pdf *.csv"), nullptr, QFileDialog::DontConfirmOverwrite);
  if (path.isEmpty()) return;
  bench_->write("Writing the figure", [e, units = bench_->units(), path]() -> Outcome<QString> {
    if (const auto done = fortitor::export_figure(*e, units, path.toStdString()); !done) return done.error();
    return "Figure saved: " + path;
  });
}

}  // namespace fortitor
