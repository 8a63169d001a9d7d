#include "app/job/job_desk.h"

#include <QComboBox>
#include <QCompleter>
#include <QDesktopServices>
#include <QDir>
#include <QFileDialog>
#include <QGridLayout>
#include <QLineEdit>
#include <QSaveFile>
#include <QUrl>

#include "app/frame/desk_frame.h"
#include "app/job/completeness_view.h"
#include "app/model/my_key.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "report/document.h"
#include "report/label.h"
#include "store/clock.h"
#include "store/papers.h"
#include "store/signing.h"

namespace fortitor {

using parts::qs;

JobDesk::JobDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  host_ = new EntryHost(bench, this);
  const DeskFrame frame(this);
  auto* outer = frame.whole();
  auto* top = new QHBoxLayout;
  auto* names = new QVBoxLayout;
  names->setSpacing(2);
  head_ = parts::line("", "heading");
  customer_ = parts::line("", "quiet");
  names->addWidget(head_);
  names->addWidget(customer_);
  state_ = parts::line("", "quiet");
  names->addWidget(state_);
  top->addLayout(names, 1);
  auto* labels_button = parts::button("Labels…", "job-labels");
  connect(labels_button, &QPushButton::clicked, this, &JobDesk::labels);
  top->addWidget(labels_button);
  outer->addLayout(top);

  auto* body = frame.row();
  auto* paper = parts::sheet();
  auto* column = parts::column(paper, 14, 8);
  column->addWidget(parts::label("Who asked, what came", "title"));
  form_ = new FieldForm(host_);
  column->addWidget(form_);
  column->addStretch();
  auto* left = parts::scroller(paper);
  DeskFrame::side(left, 330);
  body->addWidget(left);

  auto* right = new QWidget;
  auto* right_column = parts::column(right, 0, 12);
  auto* demand_sheet = parts::sheet();
  demands_ = parts::column(demand_sheet, 14, 8);
  right_column->addWidget(demand_sheet);
  auto* document_sheet = parts::sheet();
  auto* documents = parts::column(document_sheet, 14, 8);
  documents->addWidget(parts::label("Documents", "title"));
  documents_ = new QVBoxLayout;
  documents_->setSpacing(4);
  documents->addLayout(documents_);
  auto* what = new QHBoxLayout;
  covers_ = new QComboBox;
  covers_->setProperty("key", "document-covers");
  covers_->setAccessibleName(spoken("What the document covers"));
  language_ = new QComboBox;
  language_->setProperty("key", "document-language");
  language_->setAccessibleName(spoken("Language of the document"));
  layout_ = new QComboBox;
  layout_->setProperty("key", "document-template");
  layout_->setAccessibleName(spoken("Template of the document"));
  for (QComboBox* box : {covers_, language_, layout_}) what->addWidget(box);
  what->addStretch();
  documents->addLayout(what);
  missing_ = parts::label("", "hint");
  documents->addWidget(missing_);
  auto* why = new QHBoxLayout;
  replaces_words_ = parts::label("", "caution");
  reason_ = new QLineEdit;
  reason_->setProperty("key", "document-reason");
  reason_->setPlaceholderText(spoken("why a document is replaced or withdrawn"));
  reason_->setAccessibleName(spoken("Why the document is replaced or withdrawn"));
  why->addWidget(replaces_words_);
  why->addWidget(reason_, 1);
  documents->addLayout(why);
  auto* act = new QHBoxLayout;
  passphrase_ = new QLineEdit;
  passphrase_->setProperty("key", "document-passphrase");
  passphrase_->setEchoMode(QLineEdit::Password);
  passphrase_->setPlaceholderText(spoken("passphrase"));
  passphrase_->setAccessibleName(spoken("Passphrase of your key"));
  auto* draft = parts::button("Draft…", "document-draft");
  auto* go = parts::button("Issue", "document-issue", "primary");
  act->addWidget(passphrase_);
  act->addStretch();
  act->addWidget(draft);
  act->addWidget(go);
  documents->addLayout(act);
  right_column->addWidget(document_sheet);
  right_column->addStretch();
  body->addWidget(parts::scroller(right), 1);
  connect(go, &QPushButton::clicked, this, &JobDesk::issue);
  connect(passphrase_, &QLineEdit::returnPressed, this, &JobDesk::issue);
  connect(draft, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getSaveFileName(this, spoken("Draft of the document"), qs(row_.code) + ".pdf",
                                                      parts::file_kinds("Documents", "*.pdf *.html *.csv *.json"),
                                                      nullptr, QFileDialog::DontConfirmOverwrite);
    if (!path.isEmpty()) write_draft(path);
  });
  connect(host_, &EntryHost::changed, this, [this] {
    show_paper();
    show_documents();
    bench_->touch_docket();
  });
}

QString JobDesk::title() const {
  return qs(row_.code + " " + row_.title);
}

QString JobDesk::obstacle(Id job) const {
  for (const JobRow& j : bench_->book()->jobs())
    if (j.id == job) return {};
  return "That job is not in the book.";
}

void JobDesk::open(Id job, int) {
  job_ = job;
  for (const JobRow& j : bench_->book()->jobs())
    if (j.id == job) row_ = j;
  replaces_.clear();
  reload();
}

void JobDesk::reload() {
  const Papers papers(static_cast<const Book&>(*bench_->book()));
  const auto paper = papers.job(row_.code);
  if (!paper) return bench_->say(qs(paper.error().message));
  host_->take(*paper);
  asked_.clear();
  head_->setText(title());
  show_paper();
  show_demands();
  show_documents();
}

// A choice asks for more, or for less; else the form only shows what is there.
void JobDesk::show_paper() {
  const QString customer = qs(host_->entry().text("customer")), order = qs(host_->entry().text("order"));
  int waiting = 0, tested = 0, done = 0, open = 0;
  for (const SeriesRow& s : bench_->book()->series(job_))
    for (const SpecimenRow& p : bench_->book()->specimens(s.id)) {
      const bool run = p.stages.size() > 3 && p.stages[3] == '2';
      ++(p.signed_off ? done : run ? tested : waiting);
      open += p.open_judgements;
    }
  QString state = QString("%1 signed, %2 tested, %3 wait").arg(done).arg(tested).arg(waiting);
  if (open > 0) state += QString(", %1 %2 a word").arg(open).arg(open == 1 ? "judgement wants" : "judgements want");
  if (!row_.due.empty()) state += " · due " + qs(day_words(row_.due, bench_->today()));
  state_->setText(spoken(state));
  customer_->setText(spoken(customer.isEmpty() ? QString("No customer is named yet")
                                               : customer + (order.isEmpty() ? QString() : " · order " + order)));
  if (const auto wanted = host_->shown(); wanted != asked_) {
    asked_ = wanted;
    form_->show_fields(asked_, 1);
    const Papers papers(static_cast<const Book&>(*bench_->book()));
    for (const auto& [path, kind] :
         {std::pair("settings.customer", lab::kCustomer), {"settings.template", lab::kTemplate}}) {
      QStringList names;
      if (const auto all = papers.entries(kind))
        for (const lab::Entry& e : *all) names << qs(e.name);
      for (QLineEdit* line : form_->findChildren<QLineEdit*>())
        if (line->property("key").toString() == path) {
          auto* known = new QCompleter(names, line);
          known->setCaseSensitivity(Qt::CaseInsensitive);
          known->setFilterMode(Qt::MatchContains);
          line->setCompleter(known);
        }
    }
  }
  form_->refresh();
}

void JobDesk::show_demands() {
  parts::clear(demands_);
  demands_->addWidget(parts::label("What is demanded, and how far it is", "title"));
  const Papers papers(static_cast<const Book&>(*bench_->book()));
  const auto sheets = papers.sheets();
  if (!sheets) return bench_->say(qs(sheets.error().message));
  for (const SeriesRow& s : bench_->book()->series(job_)) {
    auto* head = new QHBoxLayout;
    const Method* m = methods::find(s.method);
    head->addWidget(parts::label(qs(s.title) + (m != nullptr ? " · " + qs(m->name) : QString()), ""), 1);
    auto* box = new QComboBox;
    box->setProperty("key", "demand-of:" + QString::number(s.id));
    box->setAccessibleName(spoken("Demand sheet of " + qs(s.title)));
    box->addItem(spoken("no demand sheet"), "");
    const auto chosen = papers.demand_of(s.id);
    for (const lab::DemandSheet& sheet : *sheets) {
      if (std::none_of(sheet.rows.begin(), sheet.rows.end(), [&](const auto& r) { return r.method == s.method; }))
        continue;
      box->addItem(qs(sheet.title()), qs(sheet.name));
      if (chosen && *chosen && (*chosen)->name == sheet.name) box->setCurrentIndex(box->count() - 1);
    }
    connect(box, &QComboBox::activated, this,
            [this, box, id = s.id] { choose_sheet(id, box->currentData().toString()); });
    box->setFixedWidth(theme::px(286));
    head->addWidget(box);
    demands_->addLayout(head);
    if (chosen && *chosen)
      for (const lab::DemandSheet& sheet : *sheets)
        if (sheet.name == (*chosen)->name)
          if (const auto other = lab::differences(**chosen, sheet); !other.empty())
            demands_->addWidget(
                parts::label("The sheet has changed since: " + qs(other.front()) +
                                 (other.size() > 1 ? QString(", and %1 more").arg(other.size() - 1) : QString()) +
                                 ". Pieces keep what they were given; choose it again to take it over.",
                             "caution"));
    auto* place = new QVBoxLayout;
    place->setObjectName("completeness-" + QString::number(s.id));
    demands_->addLayout(place);
  }
  // Every piece is evaluated for it: beside the window.
  const int asked = ++asked_for_;
  const auto all = std::make_shared<Outcome<std::vector<SeriesCompleteness>>>(InputError{"", {}});
  bench_->tasks().run(
      "Working out how far " + qs(row_.code) + " is", this,
      [all, path = bench_->book()->path(), job = job_, shelf = bench_->book()->shelf()](Task&) {
        auto reader = Book::open_read_only(path, shelf);
        *all = reader ? completeness_of(**reader, job) : Outcome<std::vector<SeriesCompleteness>>(reader.error());
      },
      [this, all, asked] {
        if (asked != asked_for_) return;
        if (*all)
          show_completeness(**all);
        else
          bench_->say(qs(all->error().message));
        emit shown();
      });
}

void JobDesk::show_completeness(const std::vector<SeriesCompleteness>& all) {
  for (const SeriesCompleteness& s : all)
    for (auto* place : findChildren<QVBoxLayout*>("completeness-" + QString::number(s.series.id))) {
      parts::clear(place);
      auto* view = new CompletenessView;
      view->setProperty("key", "completeness:" + QString::number(s.series.id));
      view->show_series(s);
      connect(view, &CompletenessView::piece_wanted, this,
              [this](Id piece) { emit desk_wanted("specimen", piece, -1); });
      place->addWidget(view);
    }
}

void JobDesk::choose_sheet(Id series, const QString& name) {
  Papers papers(*bench_->book());
  const auto sheets = papers.sheets();
  if (!sheets) return bench_->say(qs(sheets.error().message));
  for (const lab::DemandSheet& sheet : *sheets) {
    if (qs(sheet.name) != name) continue;
    const auto left = papers.choose(series, sheet);
    if (!left) return bench_->say(qs(left.error().message));
    QString words;
    for (const std::string& one : *left) words += (words.isEmpty() ? "" : " ") + qs(one);
    bench_->say(words);
    if (bench_->has_specimen()) bench_->select(bench_->specimen());
    bench_->touch_docket();
  }
  QMetaObject::invokeMethod(
      this, [this] { show_demands(); }, Qt::QueuedConnection);
}

std::vector<Doable> JobDesk::doable() {
  if (!bench_->has_specimen()) return {};
  return {opens("Job " + parts::qs(bench_->record().job), "customer, demands, documents",
                bench_->book()->job_of(bench_->specimen()).id)};
}

std::vector<Doable> JobDesk::found(const QString& typed) {
  constexpr size_t kMost = 60;
  std::vector<Doable> out;
  const QStringList words = typed.split(' ', Qt::SkipEmptyParts);
  const Papers papers(static_cast<const Book&>(*bench_->book()));
  for (const OrderRow& row : words.isEmpty() ? std::vector<OrderRow>() : papers.orders()) {
    const QString text = parts::qs(row.customer + " " + row.order + " " + row.project);
    if (!std::all_of(words.begin(), words.end(),
                     [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); }))
      continue;
    if (const auto job = bench_->book()->job_by_code(row.job))
      out.push_back(
          opens(parts::qs(row.customer + ": " + job->code + " " + job->title), parts::qs(row.order), job->id));
    if (out.size() > kMost) break;
  }
  if (const auto d = papers.document(typed.trimmed().toStdString()))
    out.push_back(opens("Document " + parts::qs(d->number), parts::qs(d->covers + ", " + d->state), d->job));
  return out;
}

}  // namespace fortitor
