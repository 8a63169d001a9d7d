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
#include "report/export.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

int s(double v) {
  return int(v * theme::scale());
}

Verdict verdict_from(const std::string& word) {
  for (Verdict v : {Verdict::meets, Verdict::near, Verdict::open, Verdict::fails, Verdict::void_test})
    if (word == verdict_word(v)) return v;
  return Verdict::none;
}

}  // namespace

Docket::Docket(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName("Docket");
  connect(bench, &Workbench::docket_changed, this, &Docket::reload);
  connect(bench, &Workbench::specimen_changed, this, [this] { update(); });
}

void Docket::set_place(Place place, Id series) {
  place_ = place;
  series_ = series;
  update();
}

void Docket::reload() {
  rows_.clear();
  int y = s(10), open = 0;
  auto add = [&](Kind kind, const QString& text, int height, const QString& detail = {},
                 const SpecimenRow& specimen = {}) {
    rows_.push_back({kind, text, detail, specimen, y, height, 0});
    y += height;
  };
  add(Kind::today, "Today", s(28));
  add(Kind::jobs, "All jobs", s(28));
  add(Kind::kit, "Kit", s(28));
  y += s(4);
  for (const JobRow& job : bench_->book()->jobs()) {
    y += s(4);
    add(Kind::job, qs(job.code + " " + job.title), s(24));
    for (const SeriesRow& series : bench_->book()->series(job.id)) {
      add(Kind::series, qs(series.title), s(24));
      rows_.back().series = series.id;
      for (const SpecimenRow& sp : bench_->book()->specimens(series.id)) {
        add(Kind::specimen, qs(sp.code), s(28), {}, sp);
        open += sp.signed_off ? 0 : 1;
      }
    }
  }
  rows_[0].detail = open > 0 ? QString::number(open) : QString();
  setMinimumHeight(y + s(10));
  update();
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
    if (place_ == Place::kit && r.kind == Kind::kit) return int(i);
    if (place_ == Place::series && r.kind == Kind::series && r.series == series_) return int(i);
    if (place_ == Place::specimen && r.kind == Kind::specimen && r.specimen.id == bench_->specimen()) return int(i);
  }
  return -1;
}

void Docket::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme::color(Ink::docket));
  const int here = current();
  for (size_t i = 0; i < rows_.size(); ++i) {
    const Row& r = rows_[i];
    const QRect box(0, r.top, width(), r.height);
    if (int(i) == here) {
      p.fillRect(box, theme::color(Ink::sheet));
      p.fillRect(QRect(0, r.top, 3, r.height), theme::color(Ink::action));
      if (hasFocus()) {
        p.setPen(QPen(theme::color(Ink::action), 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(box.adjusted(0, 0, -1, -1));
      }
    }
    const QRect text = box.adjusted(14, 0, -14, 0);
    switch (r.kind) {
      case Kind::today:
      case Kind::kit:
      case Kind::jobs: {
        // A small mark: clock hands, stacked sheets, or a caliper's jaws.
        p.setPen(QPen(theme::color(Ink::ink), 1.4));
        p.setBrush(Qt::NoBrush);
        const QRectF mark(14, box.center().y() - 5, 11, 11);
        if (r.kind == Kind::today) {
          p.drawEllipse(mark);
          p.drawLine(mark.center(), mark.center() - QPointF(0, 3.6));
          p.drawLine(mark.center(), mark.center() + QPointF(2.8, 0));
        } else if (r.kind == Kind::kit) {
          p.drawLine(mark.topLeft() + QPointF(0, 1.5), mark.topRight() + QPointF(0, 1.5));
          p.drawLine(mark.topLeft() + QPointF(2, 1.5), mark.bottomLeft() + QPointF(2, 0));
          p.drawLine(mark.topLeft() + QPointF(7.5, 1.5), mark.bottomLeft() + QPointF(7.5, 0));
        } else {
          for (int k = 0; k < 3; ++k)
            p.drawLine(mark.topLeft() + QPointF(0, 1.5 + 4 * k), mark.topRight() + QPointF(0, 1.5 + 4 * k));
        }
        p.setFont(theme::words(13, int(i) == here ? QFont::DemiBold : QFont::Medium));
        p.drawText(text.adjusted(18, 0, 0, 0), Qt::AlignVCenter, r.text);
        p.setFont(theme::numbers(12, QFont::Bold));
        p.setPen(theme::color(Ink::quiet));
        p.drawText(text, Qt::AlignVCenter | Qt::AlignRight, r.detail);
        break;
      }
      case Kind::job:
        p.setFont(theme::words(11, QFont::Bold));
        p.setPen(theme::color(Ink::ink));
        p.drawText(text, Qt::AlignVCenter, p.fontMetrics().elidedText(r.text, Qt::ElideRight, text.width()));
        break;
      case Kind::series:
        p.setFont(theme::words(12, int(i) == here ? QFont::DemiBold : QFont::Normal));
        p.setPen(theme::color(int(i) == here ? Ink::ink : Ink::quiet));
        p.drawText(text, Qt::AlignVCenter, p.fontMetrics().elidedText(r.text, Qt::ElideRight, text.width()));
        break;
      case Kind::specimen: {
        p.setFont(theme::words(13, int(i) == here ? QFont::DemiBold : QFont::Normal));
        p.setPen(theme::color(Ink::ink));
        const int glyph = s(13), bar_w = s(5), bars = 7 * (bar_w + 2);
        p.drawText(text.adjusted(0, 0, -bars - glyph - 14, 0), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(r.text, Qt::ElideRight, text.width() - bars - glyph - 16));
        const double x0 = text.right() - glyph - 8 - bars;
        for (int k = 0; k < 7; ++k) {
          const char state = k < int(r.specimen.stages.size()) ? r.specimen.stages[size_t(k)] : '0';
          const QRectF bar(x0 + k * (bar_w + 2), box.center().y() - s(5), bar_w, s(10));
          p.setPen(Qt::NoPen);
          p.setBrush(theme::dark() ? QColor("#3A4650") : QColor("#CFC8B8"));
          p.drawRect(bar);
          p.setBrush(theme::temper(k));
          if (state == '2') p.drawRect(bar);
          if (state == '1') p.drawRect(bar.adjusted(0, bar.height() / 2, 0, 0));
        }
        const bool run = r.specimen.stages.size() > 3 && r.specimen.stages[3] == '2';
        if (run)
          theme::draw_glyph(p, QRectF(text.right() - glyph + 2, box.center().y() - glyph / 2.0, glyph, glyph),
                            r.specimen.open_judgements > 0 && r.specimen.verdict != "fails"
                                ? Verdict::open
                                : verdict_from(r.specimen.verdict));
        break;
      }
    }
  }
}

void Docket::activate(const Row& row) {
  if (row.kind == Kind::today) emit today_wanted();
  if (row.kind == Kind::jobs || row.kind == Kind::job) emit jobs_wanted();
  if (row.kind == Kind::kit) emit kit_wanted();
  if (row.kind == Kind::series) emit series_wanted(row.series);
  if (row.kind == Kind::specimen) emit specimen_wanted(row.specimen.id);
}

void Docket::mousePressEvent(QMouseEvent* event) {
  press_ = event->pos();
  setFocus();
  for (size_t i = 0; i < rows_.size(); ++i) {
    if (event->pos().y() < rows_[i].top || event->pos().y() >= rows_[i].top + rows_[i].height) continue;
    const Row row = rows_[i];  // activating may reload the list
    return activate(row);
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
  const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
  if (step == 0) return QWidget::keyPressEvent(event);
  for (int i = current() + step; i >= 0 && i < int(rows_.size()); i += step) {
    const Row row = rows_[size_t(i)];
    if (row.kind == Kind::job) continue;
    return activate(row);
  }
}

}  // namespace fortitor
