#include "app/logbook/logbook_page.h"

#include <QComboBox>
#include <QDateTime>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QLocale>
#include <QStyle>

#include "app/frame/desk_frame.h"
#include "app/logbook/log_view.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "report/logbook_report.h"

namespace fortitor {
namespace {

using parts::qs;

// Another role from the style sheet, in whatever theme.
void say_role(QLabel* label, const char* role) {
  label->setObjectName(role);
  label->style()->unpolish(label);
  label->style()->polish(label);
}

constexpr int kShown = 1000;  // newest lines; older ones are in the book

}  // namespace

LogbookPage::LogbookPage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  const DeskFrame frame(this, "Logbook");
  auto* outer = frame.whole();
  auto* top = frame.head();
  filter_ = new QLineEdit;
  filter_->setPlaceholderText(spoken("Specimen, person or word"));
  filter_->setAccessibleName(spoken("Filter of the logbook"));
  filter_->setProperty("key", "logbook-filter");
  top->addWidget(filter_, 1);
  const auto box = [&](const char* key, const char* name) {
    auto* b = new QComboBox;
    b->setProperty("key", key);
    b->setAccessibleName(spoken(name));
    b->setMinimumWidth(int(104 * theme::scale()));
    b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    top->addWidget(b);
    connect(b, &QComboBox::activated, this, [this] { refresh(); });
    return b;
  };
  job_ = box("logbook-job", "Job");
  who_ = box("logbook-who", "Person");
  day_ = new QLineEdit;
  day_->setPlaceholderText(spoken("any day"));
  day_->setToolTip(spoken("Such as today, yesterday, Mon, 24.11."));
  day_->setAccessibleName(spoken("Day of the logbook"));
  day_->setProperty("key", "logbook-day");
  day_->setFixedWidth(int(96 * theme::scale()));
  top->addWidget(day_);
  auto* print = parts::button("Print…", "logbook-print");
  print->setToolTip(spoken("What stands here, as PDF or HTML."));
  top->addWidget(print);
  auto* check = parts::button("Check the whole book", "logbook-check");
  top->addWidget(check);
  auto* chain = parts::sheet();
  auto* links = new QHBoxLayout(chain);
  links->setContentsMargins(14, 8, 14, 8);
  links->setSpacing(14);
  count_ = parts::label("", "title");
  count_->setWordWrap(false);
  links->addWidget(count_);
  head_ = parts::label("", "");
  head_->setFont(theme::numbers(12.5));
  head_->setWordWrap(false);
  head_->setAccessibleName(spoken("End of the chain"));
  head_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  links->addWidget(head_, 1);
  whole_ = parts::label("", "hint");
  whole_->setWordWrap(false);
  links->addWidget(whole_);
  outer->addWidget(chain);
  auto* sheet = parts::sheet();
  view_ = new LogView;
  parts::column(sheet, 1, 0)->addWidget(parts::scroller(view_));
  outer->addWidget(sheet, 1);
  connect(filter_, &QLineEdit::textChanged, this, &LogbookPage::refresh);
  connect(day_, &QLineEdit::editingFinished, this, &LogbookPage::refresh);
  connect(print, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getSaveFileName(this, spoken("Print the logbook"), "logbook.pdf", "Logbook (*.pdf *.html)",
                                     nullptr, QFileDialog::DontConfirmOverwrite);
    if (path.isEmpty()) return;
    const auto done = print_to(path);
    bench_->say(done ? "Logbook saved: " + path : qs(done.error().message));
  });
  connect(check, &QPushButton::clicked, this, [this] {
    bench_->write("Checking the book", [path = bench_->book()->path()]() -> Outcome<QString> {
      auto book = Book::open_read_only(path);  // a reader of its own, beside the window
      if (!book) return book.error();
      const auto damage = (*book)->verify();
      if (damage.empty())
        return "The book is sound: every row is what its line in the logbook says, and the chain of " +
               QString::number((*book)->head().lines) + " lines is whole.";
      return InputError{std::to_string(damage.size()) + (damage.size() == 1 ? " thing is" : " things are") +
                            " not as written; the first: " + damage.front().what + ".",
                        {}};
    });
  });
}

QString LogbookPage::head() const {
  return head_->toolTip();
}

// What is asked for; a day that cannot be read asks for nothing and is said.
LogQuery LogbookPage::query() {
  LogQuery q;
  q.words = filter_->text().trimmed().toStdString();
  q.job = job_->currentData().toString().toStdString();
  q.who = who_->currentData().toString().toStdString();
  title_ = "all of it";
  const QString typed = day_->text().trimmed();
  if (!typed.isEmpty()) {
    const auto day = parse_day(typed.toStdString(), bench_->today(), DaySense::past);
    if (!day) {
      bench_->say(qs(day.error().message));
    } else {
      const QDate date = QDate::fromString(qs(*day), Qt::ISODate);
      const auto utc = [](const QDate& d) {
        return QDateTime(d, QTime(0, 0)).toUTC().toString("yyyy-MM-dd'T'HH:mm:ss.zzz'Z'").toStdString();
      };
      q.from = utc(date);
      q.to = utc(date.addDays(1));
      title_ = QLocale(QLocale::English).toString(date, "dddd d MMMM yyyy").toStdString();
    }
  }
  for (const std::string& part : {q.job, q.who, q.words})
    if (!part.empty()) title_ += ", " + part;
  return q;
}

Outcome<Done> LogbookPage::print_to(const QString& path) {
  LogbookReport r;
  const LogQuery q = query();
  r.lines = bench_->book()->logbook(q, 100000);
  r.title = title_;
  r.head = bench_->book()->head();
  r.book = QFileInfo(qs(bench_->book()->path())).fileName().toStdString();
  return write_logbook_report(r, path.toStdString());
}

void LogbookPage::fill_choices() {
  const auto keep = [](QComboBox* box, const QString& all, const std::vector<std::pair<QString, QString>>& list) {
    const QVariant now = box->currentData();
    box->clear();
    box->addItem(spoken(all), "");
    for (const auto& [words, value] : list) box->addItem(spoken(words), value);
    box->setCurrentIndex(std::max(0, box->findData(now)));
  };
  std::vector<std::pair<QString, QString>> jobs, people;
  for (const JobRow& j : bench_->book()->jobs()) jobs.push_back({qs(j.code + " " + j.title), qs(j.code)});
  for (const std::string& w : bench_->book()->writers()) people.push_back({qs(w), qs(w)});
  keep(job_, "all jobs", jobs);
  keep(who_, "everybody", people);
}

// The chain is walked beside the window each time the page is opened.
void LogbookPage::open(Id, int) {
  fill_choices();
  refresh();
  whole_->setText(spoken("the chain is walked …"));
  say_role(whole_, "hint");
  auto broken = std::make_shared<Outcome<Id>>(Id(0));
  bench_->tasks().run(
      "Walking the chain", this,
      [broken, path = bench_->book()->path()](Task&) {
        auto book = Book::open_read_only(path);
        if (book)
          *broken = (*book)->broken_link();
        else
          *broken = book.error();
      },
      [this, broken] {
        const bool fine = *broken && **broken == 0;
        whole_->setText(spoken(fine      ? "✓ every link holds · the head stands on every certificate"
                               : *broken ? "✕ broken at line " + QString::number(**broken)
                                         : qs(broken->error().message)));
        say_role(whole_, fine ? "meets" : "error");
        emit walked();
      });
}

void LogbookPage::refresh() {
  const ChainHead head = bench_->book()->head();
  count_->setText(spoken(QString::number(head.lines) + " lines, chained"));
  head_->setText(spoken(qs(head.hash.substr(0, 32)) + "…"));
  head_->setToolTip(spoken(qs(head.hash)));
  view_->show_lines(bench_->book()->logbook(query(), kShown));
}

}  // namespace fortitor
