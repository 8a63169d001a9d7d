#include "app/arrivals/arrivals_desk.h"

#include <QFileDialog>
#include <QSignalBlocker>

#include "app/arrivals/keep.h"
#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"

namespace fortitor {

using parts::qs;

ArrivalsDesk::ArrivalsDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  auto* outer = DeskFrame(this).row();
  auto* left = DeskFrame::side(parts::sheet(), 270);
  auto* left_layout = parts::column(left, 12, 8);
  left_layout->addWidget(parts::label("What came in", "heading"));
  list_ = new QListWidget;
  list_->setAccessibleName(spoken("Pieces that came in"));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setWordWrap(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setSpacing(2);
  left_layout->addWidget(list_, 1);
  into_ = new QComboBox;
  into_->setAccessibleName(spoken("Kept in"));
  left_layout->addWidget(parts::label("Kept in", "hint"));
  left_layout->addWidget(into_);
  keep_ = parts::button("Keep", "arrivals-keep", "primary");
  left_layout->addWidget(keep_);
  outer->addWidget(left);

  auto* right = parts::sheet();
  auto* layout = parts::column(right, 16, 8);
  auto* top = new QHBoxLayout;
  auto* names = new QVBoxLayout;
  names->setSpacing(2);
  head_ = parts::label("", "heading");
  of_file_ = parts::label("", "hint");
  names->addWidget(head_);
  names->addWidget(of_file_);
  top->addLayout(names, 1);
  method_ = new QComboBox;
  method_->setAccessibleName(spoken("Method"));
  for (const Method* m : methods::all())
    if (!m->channels.empty()) method_->addItem(spoken(qs(m->name)), qs(m->id));
  top->addWidget(method_);
  layout->addLayout(top);
  auto* asked = new QHBoxLayout;
  asked->addWidget(parts::label("Mark", "hint"));
  mark_ = new QLineEdit;
  mark_->setProperty("key", "arrivals-mark");
  mark_->setAccessibleName(spoken("Mark of the piece"));
  mark_->setMaximumWidth(int(150 * theme::scale()));
  asked->addWidget(mark_);
  asked_ = parts::label("", "title");
  asked_->setWordWrap(false);
  asked->addSpacing(16);
  asked->addWidget(asked_);
  size_ = new QLineEdit;
  size_->setProperty("key", "arrivals-size");
  size_->setAccessibleName(spoken("Size of the piece"));
  size_->setPlaceholderText(spoken("10.02 mm, or 12.5 × 3.0 mm"));
  size_->setMinimumWidth(int(230 * theme::scale()));
  size_->setMaximumWidth(int(260 * theme::scale()));
  asked->addWidget(size_);
  asked->addStretch();
  layout->addLayout(asked);
  problem_ = parts::label("", "error");
  problem_->setWordWrap(true);
  layout->addWidget(problem_);
  figure_ = new FigureView;
  figure_->set_first_panel_only(true);
  layout->addWidget(figure_, 1);
  numbers_ = parts::rich_label("");
  numbers_->setWordWrap(true);
  layout->addWidget(numbers_);
  columns_ = parts::label("", "hint");
  columns_->setWordWrap(true);
  layout->addWidget(columns_);
  outer->addWidget(right, 1);

  connect(list_, &QListWidget::currentRowChanged, this, [this] { show_one(); });
  connect(size_, &QLineEdit::returnPressed, this, &ArrivalsDesk::take_typed);
  connect(mark_, &QLineEdit::editingFinished, this, [this] {
    if (shown() < 0 || mark_->text().trimmed().isEmpty()) return;
    all_[size_t(shown())].arrival.record.fields.set("specimen.id", mark_->text().trimmed().toStdString());
    all_[size_t(shown())].refused.clear();
    fill_list();
  });
  connect(method_, &QComboBox::activated, this, [this] {
    if (const Method* m = methods::find(method_->currentData().toString().toStdString())) read_again(*m);
  });
  connect(keep_, &QPushButton::clicked, this, &ArrivalsDesk::keep);
}

void ArrivalsDesk::dress() {
  theme::dress(this);
  list_->setStyleSheet("QListWidget::item{padding:7px 8px;border-bottom:1px solid " +
                       theme::color(theme::Ink::hairline).name() +
                       ";} QListWidget::item:selected{background:" + theme::color(theme::Ink::hairline).name() +
                       ";color:" + theme::color(theme::Ink::ink).name() + ";}");
}

void ArrivalsDesk::open(Id, int detail) {
  if (detail == 1) {
    const QStringList files = QFileDialog::getOpenFileNames(this, spoken("Files of a testing machine"));
    if (!files.isEmpty()) take(files);
  }
  const QSignalBlocker quiet(into_);
  into_->clear();
  into_->addItem(spoken("a new job"), 0);
  if (bench_->has_specimen()) {
    const SeriesRow series = bench_->book()->series_of(bench_->specimen());
    into_->addItem(qs(series.title), qlonglong(series.id));
    // What came in goes where one is at work, when it is of the same kind.
    if (!all_.empty() && all_.front().arrival.proposed.method->id == series.method) into_->setCurrentIndex(1);
  }
  fill_list();
}

void ArrivalsDesk::take(const QStringList& paths) {
  std::vector<std::string> named;
  for (const QString& p : paths) named.push_back(p.toStdString());
  const auto came = std::make_shared<std::vector<Came>>();
  bench_->tasks().run(
      "Reading what came in", this,
      [came, named](Task& task) {
        const auto files = files_of(named);
        for (size_t i = 0; i < files.size() && !task.stopped(); ++i) {
          for (Arrival& a : arrivals_of(files[i])) {
            Evaluation e = a.problem.empty() ? methods::evaluate(a.record, {.uncertainty = false}) : Evaluation{};
            came->push_back({std::move(a), std::move(e), {}});
          }
          task.set_progress(double(i + 1) / double(files.size()));
        }
      },
      [this, came, paths] {
        ++drop_;
        paths_ = paths;
        all_ = std::move(*came);
        open(0, 0);
        list_->setCurrentRow(0);
        show_one();
        if (size_->isVisible()) size_->setFocus();
        emit arrived();
      });
}

void ArrivalsDesk::evaluate(size_t n) {
  const auto made = std::make_shared<Evaluation>();
  const auto record = std::make_shared<const TestRecord>(all_[n].arrival.record);
  bench_->tasks().run(
      "Evaluating " + qs(record->specimen_id()), this,
      [made, record, today = bench_->today(), shelf = bench_->shelf()](Task&) {
        *made = methods::evaluate(*record, {.uncertainty = false, .today = today, .shelf = shelf});
      },
      [this, made, n, drop = drop_] {
        if (drop != drop_ || n >= all_.size()) return;
        all_[n].evaluation = std::move(*made);
        fill_list();
        go_to_next_missing();
      });
}

QString ArrivalsDesk::state_of(const Came& one) const {
  if (!one.refused.isEmpty()) return one.refused;
  if (!one.arrival.problem.empty()) return qs(one.arrival.problem);
  if (const std::string missing = missing_of(one.arrival); !missing.empty())
    return missing.find("extensometer") != std::string::npos ? "a length is wanted" : "its size is wanted";
  for (const ResultValue& r : one.evaluation.results)
    if (r.spec.key == one.arrival.proposed.method->series.key && !r.is_text())
      return qs(plain_symbol(r.spec.symbol) + " " + reported(r, one.arrival.record.fields, bench_->units()).text());
  return "ready";
}

void ArrivalsDesk::fill_list() {
  filling_ = true;
  const int row = std::max(0, shown());
  list_->clear();
  size_t ready = 0;
  for (const Came& one : all_) {
    ready += one.arrival.problem.empty();
    auto* item = new QListWidgetItem(qs(one.arrival.record.specimen_id()) + "\n" + spoken(state_of(one)), list_);
    item->setToolTip(spoken(qs(one.arrival.file)));
    const bool open = one.arrival.problem.empty() && missing_of(one.arrival).empty();
    if (!open) item->setForeground(theme::color(one.arrival.problem.empty() ? theme::Ink::near : theme::Ink::fails));
  }
  list_->setCurrentRow(all_.empty() ? -1 : std::min(row, int(all_.size()) - 1));
  keep_->setText(spoken(ready == 1 ? "Keep the piece" : "Keep " + QString::number(ready) + " pieces"));
  keep_->setEnabled(ready > 0);
  filling_ = false;
  show_one();
}

void ArrivalsDesk::show_one() {
  if (filling_) return;
  const bool any = shown() >= 0 && size_t(shown()) < all_.size();
  for (QWidget* w : std::initializer_list<QWidget*>{method_, mark_, size_, asked_, numbers_, columns_})
    w->setVisible(any);
  if (!any) {
    head_->setText(spoken("Nothing has come in"));
    of_file_->setText(spoken("Drop a machine's file anywhere in the window."));
    problem_->hide();
    figure_->show_nothing("The curve stands here.");
    return;
  }
  const Came& one = all_[size_t(shown())];
  const Arrival& a = one.arrival;
  const TestRecord& r = a.record;
  head_->setText(
      spoken(qs(r.specimen_id()) + "  ·  " + qs(a.proposed.method->name) + (a.proposed.sure ? "" : " (proposed)")));
  QString of = "from " + qs(a.file);
  if (!r.tested_at.empty()) of += ", tested " + qs(day_words(r.tested_at.substr(0, 10), bench_->today()));
  if (!r.operator_name.empty()) of += " by " + qs(r.operator_name);
  of_file_->setText(spoken(of + (r.tested_at.empty() ? ", which names no day" : "")));
  method_->setCurrentIndex(method_->findData(qs(a.proposed.method->id)));
  mark_->setText(qs(r.specimen_id()));
  const std::string missing = missing_of(a);
  asked_->setText(spoken(missing.empty() ? "" : "Type " + qs(missing)));
  asked_->setVisible(!missing.empty());
  size_->setVisible(!missing.empty());
  size_->clear();
  problem_->setText(spoken(qs(a.problem)));
  problem_->setVisible(!a.problem.empty());
  QString columns;
  for (const auto& [channel, guess] : a.columns)
    columns += (columns.isEmpty() ? "" : "   ") + qs(guess.source.column) + " → " + qs(channel) +
               (guess.source.unit.empty() ? "" : ", " + qs(guess.source.unit)) + (guess.sure ? "" : " (a guess)");
  columns_->setText(spoken(columns));
  size_->setPlaceholderText(
      spoken(missing.find("extensometer") != std::string::npos ? "50 mm" : "10.02 mm, or 12.5 × 3.0 mm"));
  const std::vector<Figure>& figures = one.evaluation.figures;
  const bool its_own = !figures.empty() && (missing.empty() || figures.front().raw);
  const Figure shown = its_own ? figures.front() : raw_curve(a);
  if (shown.empty())
    figure_->show_nothing("No curve could be made of it.");
  else
    figure_->show_figure(shown, bench_->units());
  QString numbers;
  for (const ResultValue& v : one.evaluation.results) {
    if (!v.spec.headline || v.is_text()) continue;
    numbers += "<span style='white-space:nowrap'><b>" + qs(plain_symbol(v.spec.symbol)).toHtmlEscaped() + "</b> " +
               qs(reported(v, r.fields, bench_->units()).text()).toHtmlEscaped() + "</span> &nbsp;&nbsp; ";
  }
  numbers_->setText(spoken(numbers));
}

void ArrivalsDesk::take_typed() {
  if (shown() < 0) return;
  Came& one = all_[size_t(shown())];
  const auto taken = take_size(one.arrival, size_->text().toStdString());
  if (!taken) return bench_->say(qs(taken.error().message));
  bench_->say("");
  evaluate(size_t(shown()));
}

// On to the next that wants something typed.
void ArrivalsDesk::go_to_next_missing() {
  for (size_t k = 0; k < all_.size(); ++k)
    if (const size_t i = (size_t(std::max(0, shown())) + k) % all_.size(); !missing_of(all_[i].arrival).empty()) {
      list_->setCurrentRow(int(i));
      size_->setFocus();
      return;
    }
  keep_->setFocus();
}

// Another method for all that came: their columns are placed anew, what was typed stays where it fits.
void ArrivalsDesk::read_again(const Method& as) {
  const auto came = std::make_shared<std::vector<Came>>();
  const auto before = std::make_shared<const std::vector<Came>>(all_);
  std::vector<std::string> named;
  for (const QString& p : paths_) named.push_back(p.toStdString());
  bench_->tasks().run(
      "Reading it as " + qs(as.name), this,
      [came, before, named, method = &as, shelf = bench_->shelf()](Task&) {
        for (const std::string& f : files_of(named))
          for (Arrival& a : arrivals_of(f, method)) {
            for (const Came& was : *before) {
              if (was.arrival.file != a.file || was.arrival.block != a.block) continue;
              for (const auto& [path, value] : was.arrival.record.fields.all())
                if (method->field(path) != nullptr) a.record.fields.set(path, value);
            }
            Evaluation e =
                a.problem.empty() ? methods::evaluate(a.record, {.uncertainty = false, .shelf = shelf}) : Evaluation{};
            came->push_back({std::move(a), std::move(e), {}});
          }
      },
      [this, came] {
        ++drop_;
        all_ = std::move(*came);
        open(0, 0);
        emit arrived();
      });
}

void ArrivalsDesk::keep() {
  const Id into = into_->currentData().toLongLong();
  std::vector<Arrival> arrivals;
  for (const Came& one : all_) arrivals.push_back(one.arrival);
  const auto came = std::make_shared<Outcome<KeptArrivals>>(InputError{"It was stopped; nothing is kept.", {}});
  keep_->setEnabled(false);
  bench_->tasks().run_in_turn(
      "Keeping what came in", this,
      [came, arrivals, into, pass = bench_->book()->pass(), today = bench_->today(),
       now = bench_->clock().local()](Task&) {
        auto book = Book::open(pass);
        *came = book ? keep_arrivals(**book, arrivals, into, today, now) : Outcome<KeptArrivals>(book.error());
      },
      [this, came, drop = drop_] {
        bench_->touch_docket();
        if (!*came) {
          keep_->setEnabled(true);
          return bench_->say(qs(came->error().message));
        }
        QString words;
        std::vector<Came> left;
        if (drop != drop_) left = all_;  // something else came in meanwhile
        for (const auto& [n, why] : (*came)->refused) {
          words += qs(why) + " ";
          if (drop != drop_) continue;
          words += "(" + qs(all_[n].arrival.file) + ") ";
          left.push_back(all_[n]);
          left.back().refused = qs(why);
        }
        // What is kept is no arrival any more; what was refused stays, with its reason, to be marked anew.
        ++drop_;
        all_ = std::move(left);
        fill_list();
        if (!(*came)->series.empty()) emit desk_wanted("series", (*came)->series.front(), 0);
        bench_->say(words);
        emit kept();
      });
}

}  // namespace fortitor
