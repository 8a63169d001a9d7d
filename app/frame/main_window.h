// The window: top bar, docket and a desk. Joins parts; computes nothing.
#pragma once

#include <QMainWindow>

#include "app/model/folder_watch.h"
#include "app/model/workbench.h"
#include "app/theme/spoken.h"
#include "app/theme/widgets.h"

class QShortcut;

namespace fortitor {

class DayBoard;
class Docket;
class FindBox;
struct Doable;
class Desk;
class TimerBoard;
class TopBar;
class Tour;
class WireBoard;

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  explicit MainWindow(Workbench* bench, QWidget* parent = nullptr);

  /// Puts a desk into the middle: "today", "jobs", "specimen", "series", "reference".
  void open(const QString& desk, Id what = 0, int detail = -1);
  /// Files of machines, dropped or named at the start: shown as pieces that came in.
  void take_files(const QStringList& paths);
  /// Leaves the book in hand and opens another: a file or an address. Says why it cannot.
  bool open_book(const QString& path);
  void show_today() { open("today"); }
  void show_jobs() { open("jobs"); }
  void show_series(Id series) { open("series", series); }
  void show_reference() { open("reference"); }
  void show_specimen(Id specimen, int stage = -1) { open("specimen", specimen, stage); }
  Workbench& bench() { return *bench_; }
  TimerBoard& timers();
  Docket* docket() const { return docket_; }
  /// A desk, or a part of one: for tests and pictures. The window itself knows desks by their names alone.
  template <class Part>
  Part* part() const {
    return findChild<Part*>();
  }
  DayBoard& day_board() const { return *day_; }
  FindBox* find_box() const { return find_; }
  FolderWatch& folder_watch() { return *watch_; }
  WireBoard& wires() { return *wires_; }
  QString message() const;
  QString desk_in_hand() const;

 signals:
  /// A person wants the window in another language: what shows the window makes it anew.
  void language_chosen(Language language);

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void closeEvent(QCloseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void add_desk(Desk* desk);
  Desk* now() const;
  Desk* desk_named(const QString& name) const;
  /// Why the window must not be left now; empty when nothing goes on.
  QString busy() const;
  void make_room();
  void build_shortcuts();
  void build_wires();
  void open_find();
  /// The watch over the folders of the benches, and what offers their files.
  QWidget* build_offers();
  std::vector<Doable> found(const QString& typed, int most);
  void next_units();
  void show_units();
  void ask_operator();
  void say(const QString& sentence);
  /// Where the whole book may be asked for: a backup, a copy elsewhere, a bundle.
  void back_up();
  void save_elsewhere();
  /// Asks for the address of a shared book, or one of those used, and goes on with it.
  void ask_shared();
  void set_take_key(const QString& key);
  void ask_take_key();
  void show_book();
  void build_lost_strip(QVBoxLayout* into);

  Workbench* bench_;
  TimerBoard* timers_ = nullptr;
  DayBoard* day_ = nullptr;
  TopBar* top_;
  Docket* docket_;
  FindBox* find_;
  FolderWatch* watch_;
  Tour* tour_;
  WireBoard* wires_ = nullptr;
  QShortcut* take_ = nullptr;  ///< F8, and a foot switch
  QStackedWidget* places_;
  QLabel* message_;
  QFrame* lost_ = nullptr;  ///< stands while the book's file is not in its place
  QLabel* lost_words_ = nullptr;
  QScrollArea* docket_area_ = nullptr;
  bool docket_wanted_ = false;
  struct Waiting {
    QString name;
    Id what = 0;
    int detail = -1;
  } waiting_;            ///< what was asked for last: a piece with a long run is opened when it is read
  bool let_go_ = false;  ///< the person has been told that something is not written
  std::vector<Desk*> desks_;
};

}  // namespace fortitor
