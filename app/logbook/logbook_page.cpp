#include "app/logbook/logbook_page.h"

#include <QLineEdit>

#include "app/logbook/log_view.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr int kShown = 1000;  // newest lines; older ones are in the book

}  // namespace

LogbookPage::LogbookPage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  setObjectName("page");
  auto* outer = parts::column(this, 0, 10);
  auto* top = new QHBoxLayout;
  top->addWidget(parts::label("Logbook", "heading"));
  filter_ = new QLineEdit;
  filter_->setPlaceholderText("Specimen, person or word");
  filter_->setAccessibleName("Filter of the logbook");
  filter_->setProperty("key", "logbook-filter");
  top->addWidget(filter_, 1);
  auto* check = parts::button("Check the whole book", "logbook-check");
  top->addWidget(check);
  outer->addLayout(top);
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
  head_->setAccessibleName("End of the chain");
  head_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  links->addWidget(head_, 1);
  links->addWidget(parts::label("stands on every certificate", "hint"));
  outer->addWidget(chain);
  auto* sheet = parts::sheet();
  view_ = new LogView;
  parts::column(sheet, 1, 0)->addWidget(parts::scroller(view_));
  outer->addWidget(sheet, 1);
  connect(filter_, &QLineEdit::textChanged, this, &LogbookPage::refresh);
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
  return head_->text();
}

void LogbookPage::refresh() {
  const ChainHead head = bench_->book()->head();
  count_->setText(QString::number(head.lines) + " lines, chained");
  head_->setText(qs(head.hash));
  const QString wanted = filter_->text().trimmed();
  std::vector<LogEntry> lines = bench_->book()->logbook(kShown);
  std::erase_if(lines, [&](const LogEntry& line) {
    const QString all = qs(line.who + " " + line.specimen + " " + line.what + " " + line.detail);
    return !wanted.isEmpty() && !all.contains(wanted, Qt::CaseInsensitive);
  });
  view_->show_lines(std::move(lines));
}

}  // namespace fortitor
