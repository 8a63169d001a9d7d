#include "app/today/jobs_page.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>

#include "app/frame/desk_frame.h"
#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/today/method_box.h"
#include "core/bench/marks.h"
#include "core/bench/records.h"
#include "core/record/json.h"
#include "store/bundle.h"
#include "store/papers.h"

namespace fortitor {

using parts::qs;

namespace {
// Jobs, and specimens of a series, that are laid out at once; the others are found by typing.
constexpr size_t kShown = 30;
}  // namespace

namespace {

// A record file into the job and series that it names, made when they are not there: all of it or nothing.
Outcome<Id> take_record(Book& book, const QString& path) {
  const auto record = load_record(path.toStdString());
  if (!record) return record.error();
  Id specimen = 0;
  const auto done = book.together([&]() -> Outcome<Done> {
    const std::string code = record->job.empty() ? "Imported" : record->job;
    const auto known = book.job_by_code(code);
    const auto job = known ? Outcome<Id>(known->id) : book.add_job(code, "");
    if (!job) return job.error();
    const std::string title = record->series.empty() ? methods::find(record->method)->short_name : record->series;
    Id series = 0;
    for (const SeriesRow& s : book.series(*job))
      if (s.title == title && s.method == record->method) series = s.id;
    if (series == 0) {
      const auto made = book.add_series(*job, title, record->method);
      if (!made) return made.error();
      series = *made;
    }
    const std::string name =
        record->specimen_id().empty() ? QFileInfo(path).completeBaseName().toStdString() : record->specimen_id();
    const auto made = book.add_specimen(series, name, *record);
    if (!made) return made.error();
    specimen = *made;
    for (const Segment& segment : record->run.segments) {
      if (!segment.samples) continue;
      const auto run = book.store_run(specimen, *segment.samples, "record " + QFileInfo(path).fileName().toStdString(),
                                      segment.name);
      if (!run) return run.error();
    }
    if (!record->run.has_samples()) return Done{};
    const auto saved = book.save_record(specimen, 0, *record, {}, "record file taken over");
    return saved ? Outcome<Done>(Done{}) : Outcome<Done>(saved.error());
  });
  if (!done) return done.error();
  return specimen;
}

}  // namespace

JobsPage::JobsPage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  auto* outer = DeskFrame(this).row();
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 14, 8);
  auto* head = new QHBoxLayout;
  head->addWidget(parts::line("All jobs", "heading"), 1);
  filter_ = new QLineEdit;
  filter_->setProperty("key", "jobs-filter");
  filter_->setAccessibleName(spoken("Find a job"));
  filter_->setPlaceholderText(spoken("Find a job"));
  filter_->setFixedWidth(180);
  connect(filter_, &QLineEdit::textChanged, this, &JobsPage::refresh);
  head->addWidget(filter_);
  layout->addLayout(head);
  auto* content = new QWidget;
  content->setObjectName("plain");
  list_ = parts::column(content, 0, 6);
  layout->addWidget(parts::scroller(content), 1);
  outer->addWidget(sheet, 1);

  auto* form = parts::sheet();
  auto* column = parts::column(form, 14, 6);
  column->addWidget(parts::label("New job", "heading"));
  column->addWidget(parts::label("A number that is already there gets a further series or further specimens.", "hint"));
  auto line = [&](const QString& name, const QString& key, const QString& hint) {
    column->addWidget(parts::label(name, "hint"));
    auto* e = new QLineEdit;
    e->setProperty("key", key);
    e->setAccessibleName(spoken(name));
    e->setPlaceholderText(spoken(hint));
    connect(e, &QLineEdit::returnPressed, this, [this, e] {
      if (e == specimens_)
        create();
      else
        focusNextChild();
    });
    column->addWidget(e);
    return e;
  };
  code_ = line("Number", "job-code", "TC-031");
  title_ = line("Title", "job-title", "Hanger bolts, line 2");
  due_ = line("Due", "job-due", "Fri, 27.11., in 3 days");
  series_ = line("Series", "job-series", "Tension, round bar");
  column->addWidget(parts::label("Method", "hint"));
  method_ = new MethodBox;
  method_->setProperty("key", "job-method");
  method_->setAccessibleName(spoken("Method"));
  column->addWidget(method_);
  specimens_ = line("Specimens", "job-specimens", "HB-01..HB-06, or 6 × HB-");
  error_ = parts::label("", "error");
  column->addWidget(error_);
  auto* b = parts::button("Create", "job-create", "primary");
  connect(b, &QPushButton::clicked, this, &JobsPage::create);
  column->addWidget(b);
  column->addSpacing(12);
  auto* file = parts::button("Add a record file…", "job-record-file");
  file->setToolTip(
      spoken("A record (*.json) with its CSV beside it becomes a specimen of the job and series it names."));
  connect(file, &QPushButton::clicked, this, &JobsPage::add_record_file);
  column->addWidget(file);
  auto* take = parts::button("Take in a bundle…", "job-take-bundle");
  take->setToolTip(spoken("A job that was handed on as a bundle, with its specimens, runs and versions."));
  connect(take, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, spoken("A bundle"), {}, parts::file_kinds("Bundles", "*.fortitor-bundle"));
    if (!path.isEmpty()) take_bundle(path);
  });
  column->addWidget(take);
  column->addStretch();
  outer->addWidget(DeskFrame::side(form, 340));
}

void JobsPage::open(Id, int detail) {
  refresh();
  if (detail != 1) return;
  code_->setFocus();
}

void JobsPage::refresh() {
  parts::clear(list_);
  const auto outline = bench_->book()->outline();
  if (outline.empty()) list_->addWidget(parts::label("No job yet. Begin with its number on the right.", "quiet"));
  size_t fitting = 0;
  const auto customers = customers_of(*bench_->book());
  for (const auto& [job, all_series, spectra] : outline) {
    const std::string asked = customers.count(job.code) ? customers.at(job.code) : std::string();
    if (!qs(job.code + " " + job.title + " " + asked).contains(filter_->text().trimmed(), Qt::CaseInsensitive))
      continue;
    if (++fitting > kShown) continue;
    auto* card = parts::sheet();
    auto* layout = parts::column(card, 12, 4);
    layout->addWidget(parts::line(qs(job.code + "  " + job.title), "title"));
    auto* head = new QHBoxLayout;
    const QString customer = customers.count(job.code) ? qs(customers.at(job.code)) : QString();
    const QString due = job.due.empty() ? QString() : "due " + qs(day_words(job.due, bench_->today()));
    head->addWidget(parts::line(customer + (customer.isEmpty() || due.isEmpty() ? "" : " · ") + due, "hint"), 1);
    auto* page = parts::button("Open the job", "job-open:" + qs(job.code));
    page->setToolTip(spoken("Customer, demands, completeness, documents."));
    connect(page, &QPushButton::clicked, this, [this, id = job.id] { emit desk_wanted("job", id, -1); });
    head->addWidget(page);
    auto* bundle = parts::button("Bundle…", "job-bundle:" + qs(job.code));
    bundle->setToolTip(spoken("Records, runs and signed evaluations of this job in one file to hand on."));
    connect(bundle, &QPushButton::clicked, this, [this, code = job.code] {
      QString path = QFileDialog::getSaveFileName(this, spoken("Bundle of a job"), qs(code) + ".fortitor-bundle",
                                                  parts::file_kinds("Bundles", "*.fortitor-bundle"), nullptr,
                                                  QFileDialog::DontConfirmOverwrite);
      if (path.isEmpty()) return;
      if (!path.endsWith(".fortitor-bundle")) path += ".fortitor-bundle";
      write_bundle_of(code, path);
    });
    head->addWidget(bundle);
    layout->addLayout(head);
    for (const auto& [s, specimens] : all_series) {
      const Method* m = methods::find(s.method);
      layout->addWidget(parts::line(qs(s.title) + (m != nullptr ? " · " + qs(m->name) : ""), "quiet"));
      auto* row = new FlowLayout(6);
      int n = 0;
      for (const SpecimenRow& sp : specimens) {
        if (size_t(n) == kShown) break;
        auto* b = parts::button(qs(sp.code), "job-specimen:" + QString::number(sp.id));
        connect(b, &QPushButton::clicked, this, [this, sp] { emit desk_wanted("specimen", sp.id, -1); });
        row->addWidget(b);
        ++n;
      }
      layout->addLayout(row);
      if (specimens.size() > kShown)
        layout->addWidget(parts::label(QString::number(specimens.size() - kShown) + " more in the docket.", "hint"));
    }
    auto* row = spectra.empty() ? nullptr : new QHBoxLayout;
    for (const SpectrumRow& s : spectra) {
      auto* b = parts::button("∿  " + qs(s.title), "job-spectrum:" + QString::number(s.id));
      b->setAccessibleName(spoken("Spectrum " + qs(s.title)));
      connect(b, &QPushButton::clicked, this, [this, id = s.id] { emit desk_wanted("spectrum", id, -1); });
      row->addWidget(b);
    }
    if (row != nullptr) {
      row->addStretch();
      layout->addWidget(parts::label("Spectra", "quiet"));
      layout->addLayout(row);
    }
    list_->addWidget(card);
  }
  if (fitting > kShown)
    list_->addWidget(
        parts::label(QString::number(fitting - kShown) + " more jobs: type part of a number or title above.", "quiet"));
  if (fitting == 0 && !outline.empty()) list_->addWidget(parts::label("No job by that name.", "quiet"));
  list_->addStretch();
}

void JobsPage::create() {
  const std::string code = code_->text().trimmed().toStdString(),
                    method = method_->currentData().toString().toStdString();
  const auto names = specimen_marks(specimens_->text().toStdString());
  error_->clear();
  auto fail = [&](const std::string& why) { error_->setText(spoken(qs(why))); };
  if (code.empty()) return fail("A job needs a number, such as TC-031.");
  if (!names) return fail(names.error().message);
  if (names->empty()) return fail("Name at least one specimen, as it is marked.");
  Book& book = *bench_->book();
  Id job = 0;
  if (const auto known = book.job_by_code(code)) {
    job = known->id;
  } else {
    std::string due;
    if (!due_->text().trimmed().isEmpty()) {
      const auto day = parse_day(due_->text().toStdString(), bench_->today());
      if (!day) return fail("Due: " + day.error().message);
      due = *day;
    }
    const auto made = book.add_job(code, title_->text().trimmed().toStdString(), due);
    if (!made) return fail(made.error().message);
    job = *made;
  }
  std::string series_title = series_->text().trimmed().toStdString();
  if (series_title.empty()) series_title = methods::find(method)->short_name;
  Id series = 0;
  for (const SeriesRow& s : book.series(job))
    if (s.title == series_title && s.method == method) series = s.id;
  if (series == 0) {
    const auto made = book.add_series(job, series_title, method);
    if (!made) return fail(made.error().message);
    series = *made;
  }
  Id first = 0;
  for (const std::string& name : *names) {
    TestRecord r;
    r.method = method;
    r.job = code;
    r.series = series_title;
    r.fields.set("specimen.id", name);
    const auto made = book.add_specimen(series, name, r);
    if (!made) {
      bench_->touch_docket();
      return fail(made.error().message);
    }
    if (first == 0) first = *made;
  }
  for (QLineEdit* e : {code_, title_, due_, series_, specimens_}) e->clear();
  bench_->touch_docket();
  refresh();
  emit desk_wanted("specimen", first, int(Stage::prepare));
}

void JobsPage::write_bundle_of(const std::string& code, const QString& path) {
  bench_->write("Writing the bundle", [book = bench_->book()->path(), code, path]() -> Outcome<QString> {
    auto reader = Book::open_read_only(book);
    if (!reader) return reader.error();
    const auto done = write_bundle(**reader, code, path.toStdString());
    if (!done) return done.error();
    QString said = "Bundle of " + qs(code) + " written: " + path;
    for (const std::string& one : *done) said += " " + qs(one);
    return said;
  });
}

void JobsPage::take_bundle(const QString& path) {
  const auto taken =
      std::make_shared<Outcome<Unpacked>>(InputError{"Taking the bundle in was stopped; nothing is changed.", {}});
  bench_->tasks().run_in_turn(
      "Taking in " + QFileInfo(path).fileName(), this,
      [taken, path, pass = bench_->book()->pass()](Task&) {
        auto book = Book::open(pass);
        *taken = book ? read_bundle(**book, path.toStdString()) : Outcome<Unpacked>(book.error());
      },
      [this, taken] { took(*taken); }, [this, taken] { took(*taken); });
}

void JobsPage::took(const Outcome<Unpacked>& taken) {
  if (!taken) {
    error_->setText(spoken(qs(taken.error().message)));
    emit bundle_taken();
    return;
  }
  error_->clear();
  QString said = "Job " + qs(taken->code) + " with " + QString::number(taken->specimens) +
                 (taken->specimens == 1 ? " specimen" : " specimens") + " is in the book.";
  for (const std::string& notice : taken->notices) said += " " + qs(notice);
  bench_->say(said);
  bench_->touch_docket();
  refresh();
  emit bundle_taken();
}

void JobsPage::add_record_file() {
  const QString path =
      QFileDialog::getOpenFileName(this, spoken("A record file"), {}, parts::file_kinds("Records", "*.json"));
  if (path.isEmpty()) return;
  const auto came =
      std::make_shared<Outcome<Id>>(InputError{"Taking the record over was stopped; nothing is changed.", {}});
  const auto tell = [this, came] {
    if (!*came) return error_->setText(spoken(qs(came->error().message)));
    error_->clear();
    bench_->touch_docket();
    refresh();
    emit desk_wanted("specimen", **came, -1);
  };
  bench_->tasks().run_in_turn(
      "Taking over " + QFileInfo(path).fileName(), this,
      [came, path, pass = bench_->book()->pass()](Task&) {
        auto book = Book::open(pass);
        *came = book ? take_record(**book, path) : Outcome<Id>(book.error());
      },
      tell, tell);
}

}  // namespace fortitor
