#include "app/docket/docket.h"

#include <QDir>
#include <QDrag>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QTemporaryDir>
#include <QUrl>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"
#include "report/export.h"
#include "store/papers.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::px;

}  // namespace

Docket::Docket(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("Docket"));
  connect(bench, &Workbench::docket_changed, this, &Docket::reload);
  connect(bench, &Workbench::specimen_changed, this, [this] { update(); });
}

void Docket::set_place(Place place, Id what) {
  place_ = place;
  series_ = place == Place::series ? what : 0;
  spectrum_ = place == Place::spectrum ? what : 0;
  job_ = place == Place::job ? what : 0;
  rebuild();  // a signed job is shown while one of its pieces is in hand
  show_current();
}

void Docket::reload() {
  if (bench_->away()) return;  // what was read last stays
  jobs_ = bench_->book()->outline();
  customers_ = customers_of(*bench_->book());
  rebuild();
}

void Docket::add(Kind kind, const QString& text, double height) {
  const int top = rows_.empty() ? px(10) : rows_.back().top + rows_.back().height;
  Row row;
  row.kind = kind;
  row.text = text;
  row.top = top;
  row.height = px(height);
  rows_.push_back(row);
}

// Open is what still wants a signature, and what holds the piece or the series in hand.
bool Docket::open_job(const JobOutline& job) const {
  bool any = false;
  if (place_ == Place::job && job.job.id == job_) return true;
  for (const SpectrumRow& s : job.spectra)
    if (place_ == Place::spectrum && s.id == spectrum_) return true;
  for (const SeriesOutline& series : job.series) {
    if (place_ == Place::series && series.series.id == series_) return true;
    for (const SpecimenRow& sp : series.specimens) {
      any = true;
      if (!sp.signed_off || (place_ == Place::specimen && sp.id == bench_->specimen())) return true;
    }
  }
  return !any;
}

void Docket::rebuild() {
  rows_.clear();
  add(Kind::today, spoken("Today"), 28);
  add(Kind::jobs, spoken("All jobs"), 28);
  for (const auto& [place, name, words] : {std::tuple{Place::plan, "plan", "Plan"},
                                           {Place::kit, "kit", "Kit"},
                                           {Place::laboratory, "laboratory", "Laboratory"},
                                           {Place::slate, "slate", "Slate"},
                                           {Place::practice, "practice", "Practice"}}) {
    add(Kind::desk, spoken(words), 28);
    rows_.back().desk = place;
    rows_.back().name = name;
  }
  if (!filter_.isEmpty()) add(Kind::filter, filter_, 30);
  rows_.back().height += px(4);
  int open = 0;
  for (const JobOutline& job : jobs_) {
    for (const SeriesOutline& series : job.series)
      if (job.job.code != practice::kJob)
        open += int(std::count_if(series.specimens.begin(), series.specimens.end(),
                                  [](const SpecimenRow& sp) { return !sp.signed_off; }));
    add_job(job);
  }
  rows_[0].detail = open > 0 ? QString::number(open) : QString();
  setMinimumHeight(rows_.back().top + rows_.back().height + px(10));
  update();
}

void Docket::add_job(const JobOutline& job) {
  const QString name = qs(job.job.code + " " + job.job.title), customer = qs(customers_[job.job.code]);
  auto fits = [&](const QString& text) { return text.contains(filter_, Qt::CaseInsensitive); };
  const bool whole = filter_.isEmpty() || fits(name) || fits(customer),
             folded = filter_.isEmpty() && folded_.count(job.job.id) != 0;
  if (filter_.isEmpty() && !open_job(job)) return;
  const size_t head = rows_.size();
  add(Kind::job, name, customer.isEmpty() ? 28 : 40);
  rows_.back().job = job.job.id;
  rows_.back().detail = customer;
  for (const SeriesOutline& series : job.series) {
    const bool all = whole || fits(qs(series.series.title));
    const size_t at = rows_.size();
    if (folded) continue;
    add(Kind::series, qs(series.series.title), 24);
    rows_.back().series = series.series.id;
    for (const SpecimenRow& sp : series.specimens) {
      if (!all && !fits(qs(sp.code))) continue;
      add(Kind::specimen, qs(sp.code), 28);
      rows_.back().specimen = sp;
    }
    if (!all && rows_.size() == at + 1) rows_.pop_back();  // nothing of it is looked for
  }
  for (const SpectrumRow& s : job.spectra) {
    if (folded || !(whole || fits(qs(s.title)))) continue;
    add(Kind::spectrum, qs(s.title), 28);
    rows_.back().spectrum = s.id;
  }
  if (!whole && rows_.size() == head + 1) rows_.pop_back();
}

void Docket::fold(Id job, bool on) {
  if (on)
    folded_.insert(job);
  else
    folded_.erase(job);
  rebuild();
}

void Docket::show_current() {
  if (const int here = current(); here >= 0)
    emit row_wanted({0, rows_[size_t(here)].top, width(), rows_[size_t(here)].height});
}

QRect Docket::row_of(Id specimen) const {
  for (const Row& r : rows_)
    if (r.kind == Kind::specimen && r.specimen.id == specimen) return {0, r.top, width(), r.height};
  return {};
}

int Docket::current() const {
  for (size_t i = 0; i < rows_.size(); ++i) {
    const Row& r = rows_[i];
    if (place_ == Place::today && r.kind == Kind::today) return int(i);
    if (place_ == Place::jobs && r.kind == Kind::jobs) return int(i);
    if (r.kind == Kind::desk && place_ == r.desk) return int(i);
    if (place_ == Place::job && r.kind == Kind::job && r.job == job_) return int(i);
    if (place_ == Place::series && r.kind == Kind::series && r.series == series_) return int(i);
    if (place_ == Place::spectrum && r.kind == Kind::spectrum && r.spectrum == spectrum_) return int(i);
    if (place_ == Place::specimen && r.kind == Kind::specimen && r.specimen.id == bench_->specimen()) return int(i);
  }
  return -1;
}

void Docket::paintEvent(QPaintEvent* event) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme::color(theme::Ink::docket));
  const int here = current();
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i].top <= event->rect().bottom() && rows_[i].top + rows_[i].height >= event->rect().top())
      paint_row(p, rows_[i], int(i) == here);
}

void Docket::activate(const Row& row) {
  if (row.kind == Kind::today) emit today_wanted();
  if (row.kind == Kind::jobs) emit jobs_wanted();
  if (row.kind == Kind::job) emit job_wanted(row.job);
  if (row.kind == Kind::desk) emit desk_wanted(row.name);
  if (row.kind == Kind::series) emit series_wanted(row.series);
  if (row.kind == Kind::spectrum) emit spectrum_wanted(row.spectrum);
  if (row.kind == Kind::specimen) emit specimen_wanted(row.specimen.id);
}

std::vector<PaintedPart> Docket::painted_parts() {
  std::vector<PaintedPart> out;
  const int here = current();
  for (const Row& row : rows_) {
    QString value = row.detail;
    if (row.kind == Kind::specimen && !row.specimen.verdict.empty() && row.specimen.verdict != "none")
      value = spoken(qs(row.specimen.verdict));
    out.push_back({row.text, value, QRect(0, row.top, width(), row.height), QAccessible::ListItem,
                   int(out.size()) == here, [this, row] { activate(row); }});
  }
  return out;
}

void Docket::mousePressEvent(QMouseEvent* event) {
  press_ = event->pos();
  setFocus();
  for (size_t i = 0; i < rows_.size(); ++i) {
    if (event->pos().y() < rows_[i].top || event->pos().y() >= rows_[i].top + rows_[i].height) continue;
    const Row row = rows_[i];  // activating may reload the list
    const bool angle = row.kind == Kind::job && press_.x() >= width() - px(36);
    return angle ? fold(row.job, folded_.count(row.job) == 0) : activate(row);
  }
}

void Docket::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton) || (event->pos() - press_).manhattanLength() < 16) return;
  for (size_t i = 0; i < rows_.size(); ++i) {
    if (rows_[i].kind != Kind::specimen || press_.y() < rows_[i].top || press_.y() >= rows_[i].top + rows_[i].height)
      continue;
    const Row row = rows_[i];
    return drag_out(row);
  }
}

// A specimen's row dragged out is its record file with the data beside it.
void Docket::drag_out(const Row& row) {
  const auto record = bench_->book()->record(row.specimen.id);
  if (!record) return;
  QTemporaryDir folder;
  folder.setAutoRemove(false);  // the receiver copies it after the drop
  const auto path = export_record(*record, folder.path().toStdString());
  if (!path) return bench_->say(qs(path.error().message));
  QList<QUrl> urls;
  for (const QFileInfo& f : QDir(folder.path()).entryInfoList(QDir::Files)) urls << QUrl::fromLocalFile(f.filePath());
  auto* mime = new QMimeData;
  mime->setUrls(urls);
  auto* drag = new QDrag(this);
  drag->setMimeData(mime);
  drag->exec(Qt::CopyAction);
}

void Docket::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape || event->key() == Qt::Key_Backspace) {
    if (filter_.isEmpty()) return QWidget::keyPressEvent(event);
    filter_ = event->key() == Qt::Key_Escape ? QString() : filter_.chopped(1);
    rebuild();
    return show_current();
  }
  if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right) {
    // The job of the row in hand folds and unfolds.
    for (int i = current(); i >= 0; --i)
      if (rows_[size_t(i)].kind == Kind::job) return fold(rows_[size_t(i)].job, event->key() == Qt::Key_Left);
    return;
  }
  if (const QString typed = event->text(); !typed.isEmpty() && typed[0].isPrint() &&
                                           (event->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0 &&
                                           !(filter_.isEmpty() && typed == " ")) {
    filter_ += typed;
    return rebuild();
  }
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
    for (const Row& r : rows_)
      if (!filter_.isEmpty() && r.kind == Kind::specimen) return activate(Row(r));
    return;
  }
  const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
  if (step == 0) return QWidget::keyPressEvent(event);
  for (int i = current() + step; i >= 0 && i < int(rows_.size()); i += step) {
    const Row row = rows_[size_t(i)];
    if (row.kind == Kind::filter) continue;
    if (!filter_.isEmpty() && row.kind < Kind::filter) continue;  // among what is looked for
    return activate(row);
  }
}

}  // namespace fortitor
