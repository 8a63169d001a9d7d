#include "app/logbook/logbook_page.h"

#include <QDateTime>
#include <QHeaderView>
#include <QLineEdit>
#include <QTableWidget>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr int kShown = 1000;  // newest lines; older ones are in the book
enum Column { kWhen, kWho, kPiece, kWhat, kDetail, kColumns };

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
  head_ = parts::label("", "quiet");
  head_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  outer->addWidget(head_);
  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 1, 0);
  table_ = new QTableWidget;
  table_->setProperty("key", "logbook-table");
  table_->setAccessibleName("Lines of the logbook, the newest first");
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  column->addWidget(table_);
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
  head_->setText("The chain has " + QString::number(head.lines) + " lines and ends with " + qs(head.hash) +
                 ". Every certificate carries this end; fortitorctl check --head holds a book against it.");
  const QString wanted = filter_->text().trimmed();
  table_->clear();
  table_->setColumnCount(kColumns);
  table_->setHorizontalHeaderLabels({"When", "Who", "Specimen", "What", "Detail"});
  table_->setRowCount(0);
  for (const LogEntry& line : bench_->book()->logbook(kShown)) {
    const QDateTime at = QDateTime::fromString(qs(line.at), Qt::ISODateWithMs).toLocalTime();
    const std::array<QString, kColumns> cells = {at.toString("yyyy-MM-dd HH:mm:ss"), qs(line.who), qs(line.specimen),
                                                 qs(line.what), qs(line.detail)};
    const bool found = wanted.isEmpty() || std::any_of(cells.begin(), cells.end(), [&](const QString& c) {
                         return c.contains(wanted, Qt::CaseInsensitive);
                       });
    if (!found) continue;
    const int row = table_->rowCount();
    table_->insertRow(row);
    for (int c = 0; c < kColumns; ++c) {
      auto* item = new QTableWidgetItem(cells[size_t(c)]);
      if (c == kWhen) item->setFont(theme::numbers(13));
      if (c == kWho || c == kDetail) item->setForeground(theme::color(theme::Ink::quiet));
      table_->setItem(row, c, item);
    }
  }
  table_->resizeColumnsToContents();
  table_->setColumnWidth(kWhat, std::min(table_->columnWidth(kWhat), 340));
  table_->horizontalHeader()->setSectionResizeMode(kDetail, QHeaderView::Stretch);
}

}  // namespace fortitor
