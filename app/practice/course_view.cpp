#include "app/practice/course_view.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/figures/colours.h"
#include "app/figures/said_figure.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using practice::Instant;
using practice::Moment;

constexpr double kDot = 5.5;  // radius, px

double margin() {
  return 64 * theme::scale();
}
double row_height() {
  return 21 * theme::scale();
}
double head_height() {
  return 20 * theme::scale();
}
QFont small() {
  return theme::words(12.5);
}

QColor colour_of(Moment::Tone tone) {
  switch (tone) {
    case Moment::Tone::bad: return theme::color(theme::Ink::fails);
    case Moment::Tone::near: return theme::color(theme::Ink::near);
    case Moment::Tone::good: return theme::color(theme::Ink::meets);
    default: return theme::color(theme::Ink::quiet);
  }
}

constexpr const char* kLanes[] = {"What happened", "What could be seen", "What you did"};

}  // namespace

CourseView::CourseView(QWidget* parent) : QWidget(parent) {
  setAccessibleName(spoken("The run and what came of it"));
}

void CourseView::show_debrief(const practice::Debrief& d, UnitSet set) {
  course_ = said_figure(d.course);
  moments_ = d.moments;
  set_ = set;
  sentence_.clear();
  // Nothing in a lane is said too.
  const auto none = [&](Moment::Lane lane, const char* words) {
    if (std::none_of(moments_.begin(), moments_.end(), [&](const Moment& m) { return m.lane == lane; }))
      moments_.push_back({lane, Moment::Tone::plain, {}, words});
  };
  none(Moment::Lane::happened, "nothing was hidden");
  none(Moment::Lane::seen, "nothing was called out");
  none(Moment::Lane::did, "nothing was done");
  lay_out();
}

void CourseView::show_nothing(const QString& sentence) {
  course_ = {};
  moments_.clear();
  sentence_ = sentence;
  lay_out();
}

QSize CourseView::minimumSizeHint() const {
  return {320, int(height_)};
}

std::vector<PaintedPart> CourseView::painted_parts() {
  std::vector<PaintedPart> out;
  for (const Spot& spot : spots_) {
    const Moment& m = moments_[spot.moment];
    out.push_back({spoken(kLanes[int(m.lane)]), spoken(qs(m.words)), spot.words.toRect()});
  }
  return out;
}

double CourseView::x_of(const Instant& when) const {
  const bool drawn = !curve_.frames.empty();
  const double from = drawn ? curve_.frames[0].left : margin(),
               to = drawn ? from + curve_.frames[0].width : width() - margin();
  if (when.place == Instant::Place::before) return 14;
  if (when.place == Instant::Place::after) return to + (width() - to) / 2;
  return drawn ? std::clamp(curve_.frames[0].px(when.at), from, to) : from;
}

// Words stand beside their dot, on the side where there is room, in the first row of the lane where they meet no other.
void CourseView::lay_out() {
  spots_.clear();
  lanes_.clear();
  curve_ = {};
  const double least = std::max(150.0, 130 * theme::scale());
  const QFontMetricsF metrics(small());
  const auto place = [&](double top) {
    spots_.clear();
    lanes_.clear();
    for (int lane = 0; lane < 3; ++lane) {
      Lane l{top, top + head_height(), 0};
      std::vector<std::vector<std::pair<double, double>>> rows;
      for (size_t i = 0; i < moments_.size(); ++i) {
        if (int(moments_[i].lane) != lane) continue;
        const double x = x_of(moments_[i].when), wanted = metrics.horizontalAdvance(spoken(qs(moments_[i].words))) + 4;
        const bool right = x < width() * 0.5;
        const double room = right ? width() - x - kDot - 10 : x - kDot - 10,
                     wide = std::min(wanted, std::max(40.0, room));
        const double from = right ? x - kDot : x - kDot - 6 - wide, to = right ? x + kDot + 6 + wide : x + kDot;
        size_t row = 0;
        while (row < rows.size() && std::any_of(rows[row].begin(), rows[row].end(), [&](const auto& r) {
                 return from < r.second + 10 && to > r.first - 10;
               }))
          ++row;
        if (row == rows.size()) rows.emplace_back();
        rows[row].push_back({from, to});
        const double y = l.top + row_height() * double(row);
        spots_.push_back({i, {x, y + row_height() / 2}, {right ? x + kDot + 6 : from, y, wide, row_height()}});
      }
      l.rows = double(std::max<size_t>(1, rows.size()));
      top = l.top + row_height() * l.rows + 4;
      lanes_.push_back(l);
    }
    return top;
  };
  if (!moments_.empty()) {
    // What the lanes take is known once the line is: first so, then with the curve above them.
    figure::Options o;
    o.width = width() - 28;
    o.set = set_;
    o.text_scale = theme::scale();
    o.language = tongue().language();
    o.height = least;
    if (!course_.empty()) curve_ = figure::lay_out(course_, o);
    const double lanes = place(0);
    o.height = std::max(least, height() - lanes - 4);
    if (!course_.empty()) curve_ = figure::lay_out(course_, o);
    place(course_.empty() ? 8 : o.height + 2);
    height_ = (course_.empty() ? 8 : least + 2) + lanes;
  } else {
    height_ = 120;
  }
  updateGeometry();
  update();
}

void CourseView::resizeEvent(QResizeEvent*) {
  lay_out();
}

void CourseView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (moments_.empty()) {
    p.setPen(theme::color(theme::Ink::quiet));
    p.setFont(theme::words(14));
    return p.drawText(rect().adjusted(24, 0, -24, 0), Qt::AlignCenter | Qt::TextWordWrap, spoken(sentence_));
  }
  if (!course_.empty()) paint_figure(p, curve_, screen_colours());
  const bool drawn = !curve_.frames.empty();
  const double from = drawn ? curve_.frames[0].left : margin(),
               to = drawn ? from + curve_.frames[0].width : width() - margin();
  for (size_t i = 0; i < lanes_.size(); ++i) {
    const Lane& l = lanes_[i];
    p.setFont(small());
    p.setPen(theme::color(theme::Ink::quiet));
    p.drawText(QRectF(0, l.head, width(), head_height()), Qt::AlignLeft | Qt::AlignVCenter, spoken(kLanes[i]));
    if (i == 0 && !drawn)
      p.drawText(QRectF(from, l.head, to - from, head_height()), Qt::AlignHCenter | Qt::AlignVCenter,
                 spoken("the run"));
    p.setPen(QPen(theme::color(theme::Ink::hairline), 1.4));
    for (int row = 0; row < int(l.rows); ++row) {
      const double y = l.top + row_height() * (row + 0.5);
      p.drawLine(QPointF(4, y), QPointF(width() - 4, y));
    }
    for (double x : {from, to}) p.drawLine(QPointF(x, l.top), QPointF(x, l.top + row_height() * l.rows));
  }
  const QFontMetricsF metrics(small());
  p.setFont(small());
  for (const Spot& s : spots_) {
    const Moment& m = moments_[s.moment];
    const QString words = metrics.elidedText(spoken(qs(m.words)), Qt::ElideRight, s.words.width() + 1);
    const double wide = std::min(s.words.width(), metrics.horizontalAdvance(spoken(words)) + 4);
    const bool right = s.words.left() > s.dot.x();
    const QRectF back(right ? s.words.left() - 2 : s.words.right() - wide, s.words.top() + 2, wide + 2,
                      s.words.height() - 4);
    p.fillRect(back, theme::color(theme::Ink::sheet));
    p.setPen(theme::color(theme::Ink::ink));
    p.drawText(s.words, int(right ? Qt::AlignLeft : Qt::AlignRight) | int(Qt::AlignVCenter), spoken(words));
    p.setPen(QPen(theme::color(theme::Ink::sheet), 2));
    p.setBrush(colour_of(m.tone));
    p.drawEllipse(s.dot, kDot, kDot);
  }
}

bool CourseView::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    for (const Spot& s : spots_)
      if (s.words.united(QRectF(s.dot.x() - kDot, s.dot.y() - kDot, 2 * kDot, 2 * kDot)).contains(help->pos())) {
        QToolTip::showText(help->globalPos(), "<qt>" + qs(moments_[s.moment].words).toHtmlEscaped() + "</qt>", this);
        return true;
      }
    QToolTip::hideText();
    return true;
  }
  return QWidget::event(event);
}

}  // namespace fortitor
