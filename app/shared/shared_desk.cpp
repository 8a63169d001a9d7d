#include "app/shared/shared_desk.h"

#include <QGridLayout>
#include <QLocale>

#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "store/shared.h"

namespace fortitor {

using parts::qs;

namespace {

QString local(const std::string& stamp) {
  const QDateTime at = QDateTime::fromString(qs(stamp), Qt::ISODateWithMs);
  return at.isValid() ? at.toLocalTime().toString("yyyy-MM-dd HH:mm") : QString("–");
}

void clear_rows(QGridLayout* grid) {
  while (QLayoutItem* item = grid->takeAt(0)) {
    if (item->widget() != nullptr) item->widget()->deleteLater();
    delete item;
  }
}

void add_row(QGridLayout* grid, const QStringList& cells) {
  const int row = grid->rowCount();
  for (int i = 0; i < cells.size(); ++i) {
    auto* cell = parts::line(cells[i], i == 0 && cells.size() == 2 ? "quiet" : "");
    cell->setTextInteractionFlags(Qt::TextSelectableByMouse);
    grid->addWidget(cell, row, i);
  }
}

}  // namespace

SharedDesk::SharedDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  auto* whole = DeskFrame(this, "Shared book").whole();
  book_ = add_sheet("The book", whole);
  people_ = add_sheet("Who is here", whole);
  roles_ = add_sheet("Roles on the server", whole);
  refused_ = add_sheet("Not taken by the server", whole);
  whole->addStretch();
  connect(bench, &Workbench::others_wrote, this, [this] {
    if (isVisible()) open(0, -1);
  });
}

QGridLayout* SharedDesk::add_sheet(const QString& heading, QLayout* into) {
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 14, 8);
  layout->addWidget(parts::label(heading, "title"));
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(24);
  grid->setVerticalSpacing(6);
  layout->addLayout(grid);
  into->addWidget(sheet);
  return grid;
}

QString SharedDesk::obstacle(Id) const {
  return bench_->book()->shared() ? QString()
                                  : QString("This book lies in a file of its own; a shared one lies on a server.");
}

void SharedDesk::open(Id, int) {
  const Book& book = *bench_->book();
  const auto state = shared_state(book);
  for (QGridLayout* grid : {book_, people_, roles_, refused_}) clear_rows(grid);
  if (!state) return bench_->say(qs(state.error().message));
  const ChainHead head = book.head();
  const auto backups = book.logbook(LogQuery{.words = "backup written"}, 1);
  add_row(book_, {"Address", qs(book.path())});
  add_row(book_, {"Server", qs(state->server) + ", " + QLocale::c().formattedDataSize(state->bytes)});
  add_row(book_, {"Logbook", QString::number(head.lines) + " lines, head " + qs(head.hash.substr(0, 16)) + "…"});
  add_row(book_, {"Last backup", backups.empty() ? QString("none yet: fortitorctl backup ADDRESS FOLDER")
                                                 : local(backups.front().at) + ", " + qs(backups.front().detail)});
  book_->setColumnStretch(1, 1);
  std::map<QString, QStringList> at;
  for (const auto& [piece, who] : book.at_work())
    if (const auto row = book.specimen(piece)) at[qs(who)] << qs(row->code);
  for (const Connected& c : state->connected)
    add_row(people_,
            {qs(c.who), "as " + qs(c.role), at[qs(c.who)].isEmpty() ? QString("–") : "runs " + at[qs(c.who)].join(", "),
             "since " + local(c.since), c.from.empty() ? QString("on the server itself") : "from " + qs(c.from)});
  people_->setColumnStretch(2, 1);
  for (const auto& [login, roles] : state->roles) add_row(roles_, {qs(login), qs(roles)});
  if (state->roles.empty())
    add_row(roles_, {"Nobody has one yet.", "The keeper of the server gives them: GRANT …_tests TO somebody;"});
  roles_->setColumnStretch(1, 1);
  const auto refused = book.refused();
  for (const RefusedChange& r : refused) add_row(refused_, {qs(r.what), qs(r.who), local(r.at), qs(r.why)});
  refused_->parentWidget()->setVisible(!refused.empty());
  refused_->setColumnStretch(3, 1);
}

std::vector<Doable> SharedDesk::doable() {
  if (!bench_->book()->shared()) return {};
  return {opens("Shared book", "who is here, roles, size, last backup")};
}

}  // namespace fortitor
