// Files that come into the window and go out of it: what is dropped, the book saved elsewhere, its backup.
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QInputDialog>
#include <QMimeData>
#include <QTimer>
#include <QUrl>

#include "app/frame/desk.h"
#include "app/frame/main_window.h"
#include "app/frame/offer_strip.h"
#include "app/frame/top_bar.h"
#include "app/photographs/photographs.h"
#include "app/theme/parts.h"
#include "app/wires/wire_board.h"
#include "store/backup.h"
#include "store/own.h"

namespace fortitor {

using parts::qs;

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  QStringList paths;
  for (const QUrl& url : event->mimeData()->urls())
    if (url.isLocalFile()) paths << url.toLocalFile();
  if (paths.isEmpty()) return say("Only files on this machine can be read.");
  event->acceptProposedAction();
  take_files(paths);
}

// Pictures are photographs of the piece in hand; everything else is looked at as a machine's file.
void MainWindow::take_files(const QStringList& given) {
  QStringList pictures, paths;
  for (const QString& path : given) (PhotographStrip::is_picture(path) ? pictures : paths) << path;
  if (!pictures.isEmpty()) desk_named("specimen")->take(pictures);
  if (paths.isEmpty()) return;
  open("arrivals");
  desk_named("arrivals")->take(paths);
}

QWidget* MainWindow::build_offers() {
  watch_ = new FolderWatch(bench_, this);
  auto* offer = new OfferStrip(bench_, watch_);
  connect(offer, &OfferStrip::look_wanted, this, [this](const QString& path) { take_files({path}); });
  connect(offer, &OfferStrip::run_wanted, this, [this](Id piece, const QString& path) {
    show_specimen(piece, int(Stage::run));
    // Refused (a run is on), another piece is still on the bench: the file is not its.
    if (Desk* desk = desk_named("specimen"); desk->holds(piece)) desk->take({path});
  });
  return offer;
}

bool MainWindow::open_book(const QString& path) {
  if (const QString why = busy(); !why.isEmpty()) {
    say(why + ": end it first.");
    return false;
  }
  if (bench_->unsaved() > 0) {
    say("Something could not be written yet; it is kept here until it can be.");
    return false;
  }
  const auto opened = bench_->open(path, qs(bench_->book()->operator_name()), bench_->clock());
  if (!opened) {
    say(qs(opened.error().message));
    return false;
  }
  if (bench_->book()->shared()) {
    QStringList used = own::of(own::shared_books);
    used.removeAll(path);
    used.prepend(path);
    constexpr qsizetype kRemembered = 8;
    own::keep(own::shared_books, used.mid(0, kRemembered));
  }
  wires_->reload();
  show_book();
  show_today();
  say(bench_->book()->notices().empty() ? QString() : qs(bench_->book()->notices().front()));
  return true;
}

void MainWindow::ask_shared() {
  const QStringList used = own::of(own::shared_books);
  bool ok = false;
  const QString address =
      QInputDialog::getItem(this, spoken("Shared book"), "Address, such as postgresql://server/book",
                            used.isEmpty() ? QStringList("postgresql://") : used, 0, true, &ok)
          .trimmed();
  if (ok && !address.isEmpty()) open_book(address);
}

// Which book it is, when it is not one's own.
void MainWindow::show_book() {
  const Book& book = *bench_->book();
  if (!book.shared()) return top_->set_book({}, true);
  const QUrl url(qs(book.path()));
  const QString name = url.path().mid(1) + (url.host().isEmpty() ? QString() : " at " + url.host()),
                away = bench_->away_words();
  top_->set_book(away.isEmpty() ? name : url.path().mid(1) + " " + away, away.isEmpty(),
                 away.isEmpty() ? QString()
                                : "The server of " + name + " is " + away +
                                      ". Readings and runs go on; they move to the server when it is back.");
}

void MainWindow::save_elsewhere() {
  QString path = QFileDialog::getSaveFileName(this, spoken("Save the book elsewhere"), {}, "Job books (*.fortitor)",
                                              nullptr, QFileDialog::DontConfirmOverwrite);
  if (path.isEmpty()) return;
  if (!path.endsWith(".fortitor")) path += ".fortitor";
  const auto moved = bench_->move_book(path);
  say(moved ? "The book goes on in " + path + "." : qs(moved.error().message));
}

void MainWindow::back_up() {
  const QString folder = QFileDialog::getExistingDirectory(this, spoken("Folder for the backup"));
  if (folder.isEmpty()) return;
  const std::string path = bench_->book()->path(), today = bench_->today();
  bench_->write("Backing the book up", [path, folder, today]() -> Outcome<QString> {
    const auto made = fortitor::back_up(path, folder.toStdString(), today);
    if (!made) return made.error();
    return "Backup written and checked: " + qs(*made);
  });
}

}  // namespace fortitor
