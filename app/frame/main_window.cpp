#include "app/frame/main_window.h"

#include <QCloseEvent>
#include <QFileDialog>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QRegularExpression>
#include <QShortcut>
#include <QStackedWidget>
#include <QTimer>
#include <set>

#include "app/diary/diary.h"
#include "app/docket/docket.h"
#include "app/figures/figure_view.h"
#include "app/figures/take_along.h"
#include "app/frame/desk.h"
#include "app/frame/desks.h"
#include "app/frame/find_box.h"
#include "app/frame/task_strip.h"
#include "app/frame/top_bar.h"
#include "app/guide/guide_parts.h"
#include "app/guide/tour.h"
#include "app/model/timer_board.h"
#include "app/plan/day_board.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/memory.h"

namespace fortitor {

using parts::qs;

MainWindow::MainWindow(Workbench* bench, QWidget* parent) : QMainWindow(parent), bench_(bench) {
  setWindowTitle(spoken("Fortitor"));
  setMinimumSize(1024, 700);
  resize(1280, 800);
  auto* central = new QWidget;
  central->setObjectName("bench");
  setCentralWidget(central);
  auto* outer = parts::column(central, 0, 0);
  top_ = new TopBar;
  outer->addWidget(top_);
  auto* body = new QHBoxLayout;
  body->setContentsMargins(0, 0, 0, 0);
  body->setSpacing(0);
  outer->addLayout(body, 1);

  docket_ = new Docket(bench);
  docket_area_ = parts::scroller(docket_);
  docket_area_->setObjectName("docket");
  docket_area_->setFixedWidth(int(216 * std::min(1.4, theme::scale())));
  body->addWidget(docket_area_);

  auto* desk = new QWidget;
  desk->setObjectName("bench");
  auto* desk_layout = parts::column(desk, 20, 10);
  desk_layout->setContentsMargins(20, 14, 20, 18);
  body->addWidget(desk, 1);
  places_ = new QStackedWidget;
  message_ = parts::label("", "error");
  message_->setAccessibleName(spoken("Message"));
  message_->hide();
  build_lost_strip(desk_layout);
  desk_layout->addWidget(message_);
  desk_layout->addWidget(places_, 1);

  QWidget* offer = build_offers();
  desk_layout->addWidget(offer);
  auto* tasks = new TaskStrip(&bench->tasks());
  desk_layout->addWidget(tasks);
  tour_ = new Tour(bench);
  desk_layout->addWidget(tour_);
  connect(tour_, &Tour::desk_wanted, this, &MainWindow::open);

  timers_ = new TimerBoard(bench, this);
  day_ = new DayBoard(bench, this);
  for (Desk* d : make_desks(bench, timers_, day_)) add_desk(d);
  for (const FigureView* figure : findChildren<FigureView*>())
    connect(figure, &FigureView::said, this, &MainWindow::say);
  for (const TakeAlong* drawing : findChildren<TakeAlong*>())
    connect(drawing, &TakeAlong::said, this, &MainWindow::say);
  find_ = new FindBox(central);
  for (QWidget* part : std::initializer_list<QWidget*>{top_, docket_area_, message_, lost_, offer, tasks, tour_, find_})
    theme::dress(part);
  build_shortcuts();
  build_wires();
  setAcceptDrops(true);
  qApp->installEventFilter(this);
  auto* minute = new QTimer(this);
  connect(minute, &QTimer::timeout, this, give_back_memory);
  minute->start(60'000);

  connect(timers_, &TimerBoard::changed, this, [this] { top_->set_running(timers_->timers(), timers_->rigs().all()); });
  connect(bench_, &Workbench::piece_wanted, this, [this](Id of) { show_specimen(of, int(bench_->stage())); });
  connect(top_, &TopBar::rig_wanted, this, [this](Id of) { show_specimen(of, int(Stage::run)); });
  connect(timers_, &TimerBoard::ended, this, &MainWindow::say);
  connect(top_, &TopBar::timer_wanted, this, [this](Id of, Id timer) {
    show_specimen(of, int(Stage::prepare));
    for (const RunningTimer& t : timers_->timers())
      if (t.row.id == timer && t.left <= 0) return timers_->acknowledge(timer);
  });
  connect(top_, &TopBar::find_wanted, this, &MainWindow::open_find);
  connect(top_, &TopBar::units_wanted, this, &MainWindow::next_units);
  connect(top_, &TopBar::operator_wanted, this, &MainWindow::ask_operator);
  connect(docket_, &Docket::today_wanted, this, &MainWindow::show_today);
  connect(docket_, &Docket::jobs_wanted, this, &MainWindow::show_jobs);
  connect(docket_, &Docket::row_wanted, this, [this](const QRect& row) {
    docket_area_->ensureVisible(row.center().x(), row.center().y(), 0, row.height() * 2);
  });
  connect(docket_, &Docket::desk_wanted, this, [this](const QString& name) { open(name); });
  connect(docket_, &Docket::specimen_wanted, this, [this](Id id) { show_specimen(id); });
  connect(docket_, &Docket::series_wanted, this, &MainWindow::show_series);
  connect(docket_, &Docket::job_wanted, this, [this](Id id) { open("job", id); });
  connect(docket_, &Docket::spectrum_wanted, this, [this](Id id) { open("spectrum", id, -1); });
  connect(bench, &Workbench::message, this, &MainWindow::say);
  connect(top_, &TopBar::book_wanted, this, [this] { open("shared"); });
  connect(bench, &Workbench::others_wrote, this, [this] {
    // A page over the whole book is shown anew, but not under somebody's hands.
    const bool typing = qobject_cast<QLineEdit*>(QApplication::focusWidget()) != nullptr;
    if (!typing && now()->over_the_book()) now()->open(waiting_.what, waiting_.detail);
  });
  connect(bench, &Workbench::server_looked, this, &MainWindow::show_book);
  show_book();
  connect(bench, &Workbench::can_be_opened, this, [this](Id piece) {
    const Waiting w = waiting_;
    if (w.name != "specimen" || w.what != piece) return;
    say("");
    open(w.name, w.what, w.detail);
  });
  connect(bench, &Workbench::units_changed, this, [this] {
    show_units();
    for (Desk* d : desks_) d->units_changed();
  });
}

void MainWindow::add_desk(Desk* desk) {
  desks_.push_back(desk);
  places_->addWidget(desk);
  desk->dress();
  connect(desk, &Desk::desk_wanted, this, &MainWindow::open);
}

Desk* MainWindow::now() const {
  return static_cast<Desk*>(places_->currentWidget());
}

Desk* MainWindow::desk_named(const QString& name) const {
  const auto it = std::find_if(desks_.begin(), desks_.end(), [&](const Desk* d) { return d->name() == name; });
  return it == desks_.end() ? nullptr : *it;
}

QString MainWindow::busy() const {
  for (const Desk* desk : desks_)
    if (const QString why = desk->busy(); !why.isEmpty()) return why;
  return {};
}

void MainWindow::open(const QString& name, Id what, int detail) {
  if (name == "tour") return tour_->begin();  // it walks over the desks
  Desk* desk = desk_named(name);
  if (desk == nullptr) return say("There is no desk “" + name + "”.");
  waiting_ = {name, what, detail};
  if (bench_->away() && desk != now() && desk->of_the_book() && !desk->holds(what))
    return say("The server of this book does not answer: nothing else can be opened until it is back.");
  if (const QString why = desk->obstacle(what); !why.isEmpty()) return say(why);
  if (now() != desk) now()->leave();
  places_->setCurrentWidget(desk);
  make_room();
  top_->set_operator(qs(bench_->book()->operator_name()));
  show_units();
  desk->open(what, detail);
  docket_->set_place(desk->place(), what);
  top_->set_place(spoken(desk->title()));
  if (desk->place() == Docket::Place::today) docket_->setFocus();
  tour_->arrived(desk_in_hand());
}

void MainWindow::build_shortcuts() {
  auto key = [&](const QKeySequence& k, const std::function<void()>& act) {
    auto* s = new QShortcut(k, this);
    connect(s, &QShortcut::activated, this, act);
  };
  key(QKeySequence("Ctrl+K"), [this] { open_find(); });
  key(QKeySequence("Ctrl+Z"), [this] { bench_->undo().undo(); });
  key(QKeySequence("Ctrl+Shift+Z"), [this] { bench_->undo().redo(); });
  key(QKeySequence("Ctrl+U"), [this] { next_units(); });
  key(QKeySequence("Ctrl+B"), [this] {
    docket_wanted_ = !docket_area_->isVisible();
    make_room();
  });
  key(QKeySequence("Ctrl+N"), [this] { open("jobs", 0, 1); });
  key(QKeySequence("Ctrl+D"), [] { theme::set_dark(!theme::dark()); });
  key(QKeySequence("Ctrl+Shift+V"), [this] {
    if (bench_->has_specimen()) desk_named("specimen")->paste();
  });
  key(QKeySequence("Ctrl+Home"), [this] { show_today(); });
  key(QKeySequence("F1"), [this] {
    for (const QWidget* w = focusWidget(); w != nullptr; w = w->parentWidget())
      if (const QString k = w->property("key").toString(); k.startsWith("finding:"))
        if (const auto part = guide_for_finding(k.section(':', 1))) return open("guide", 0, int(*part));
    open("guide", 0, int(guide_for(desk_in_hand(), bench_->has_specimen() ? &bench_->method() : nullptr)));
  });
  for (int i = 0; i < kStageCount; ++i)
    key(QKeySequence("Alt+" + QString::number(i + 1)), [this, i] {
      if (bench_->has_specimen()) bench_->set_stage(Stage(i));
    });
}

TimerBoard& MainWindow::timers() {
  return *timers_;
}

void MainWindow::show_units() {
  const UnitSet set = bench_->units();
  top_->set_units(set == UnitSet::si ? "SI · MPa" : set == UnitSet::us ? "US · ksi" : "kgf/mm²");
}

void MainWindow::next_units() {
  const UnitSet now = bench_->units();
  bench_->set_units(now == UnitSet::si ? UnitSet::us : now == UnitSet::us ? UnitSet::kgf : UnitSet::si);
}

void MainWindow::ask_operator() {
  bool ok = false;
  const QString name = QInputDialog::getText(this, spoken("Operator"), spoken("Who stands at the bench?"),
                                             QLineEdit::Normal, qs(bench_->book()->operator_name()), &ok)
                           .trimmed();
  if (!ok || name.isEmpty()) return;
  bench_->book()->set_operator(name.toStdString());
  if (const auto kept = bench_->book()->set_setting("operator", name.toStdString()); !kept)
    say(qs(kept.error().message));
  top_->set_operator(name);
}

void MainWindow::build_lost_strip(QVBoxLayout* into) {
  lost_ = parts::sheet();
  lost_->setAccessibleName(spoken("The book's file is gone"));
  auto* row = new QHBoxLayout(lost_);
  row->setContentsMargins(12, 8, 8, 8);
  lost_words_ = parts::label("", "error");
  row->addWidget(lost_words_, 1);
  auto* elsewhere = parts::button("Save the book elsewhere…", "book-elsewhere", "primary");
  row->addWidget(elsewhere);
  lost_->hide();
  into->addWidget(lost_);
  connect(elsewhere, &QPushButton::clicked, this, &MainWindow::save_elsewhere);
  connect(bench_, &Workbench::book_lost, this, [this](const QString& sentence) {
    lost_words_->setText(spoken(sentence + " Nothing can be written there; everything measured is still here."));
    lost_->setVisible(!sentence.isEmpty());
  });
}

void MainWindow::say(const QString& sentence) {
  if (!sentence.isEmpty()) diary::note(sentence);
  message_->setText(spoken(sentence));
  message_->setVisible(!sentence.isEmpty());
}

QString MainWindow::desk_in_hand() const {
  return now()->name();
}

QString MainWindow::message() const {
  return message_->text();
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  make_room();
}

// A field takes Ctrl Z for itself only while something typed in it is not kept yet: what is kept is undone by the
// bench.
bool MainWindow::eventFilter(QObject* object, QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride) {
    const auto* line = qobject_cast<QLineEdit*>(object);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (line != nullptr && !line->isModified() &&
        (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo))) {
      event->ignore();
      return true;
    }
  }
  return QMainWindow::eventFilter(object, event);
}

// With large text or a narrow window the specimen takes the docket's place; Ctrl B brings it back.
void MainWindow::make_room() {
  const bool narrow = width() < 1100 * theme::scale();
  docket_area_->setVisible(docket_wanted_ || !narrow || !now()->wants_room());
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (const size_t waiting = bench_->unsaved(); waiting > 0 && !std::exchange(let_go_, true)) {
    say((waiting == 1 ? QString("The changes of a piece are") : QString("The changes of %1 pieces are").arg(waiting)) +
        " not written yet. Save the book elsewhere first, or close again to let them go.");
    return event->ignore();
  }
  const QString busy = this->busy();
  if (busy.isEmpty()) return event->accept();
  say(busy + ": hold or stop it first. What was measured so far is in the book.");
  event->ignore();
}

}  // namespace fortitor
