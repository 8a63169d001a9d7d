#include "app/figures/construction_layer.h"

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using theme::Ink;

QPointF ConstructionLayer::px(Point p) const {
  return {figure_->xAxis->coordToPixel(p.x / figure_->unit_x()), figure_->yAxis->coordToPixel(p.y / figure_->unit_y())};
}

void ConstructionLayer::draw_label(QCPPainter* p, QPointF at, const QString& text, const QColor& colour,
                                   std::vector<QRectF>& placed) {
  p->setFont(theme::words(12, QFont::DemiBold));
  const QSizeF size(p->fontMetrics().horizontalAdvance(text) + 4, p->fontMetrics().height());
  const QRectF plot = figure_->axisRect()->rect();
  QRectF best;
  // Above, right, below, left: the first place that is free and inside.
  for (const QPointF& d :
       {QPointF(-size.width() / 2, -size.height() - 8), QPointF(-size.width() + 4, -size.height() - 8),
        QPointF(10, -size.height() / 2), QPointF(10, 6), QPointF(-size.width() / 2, 10),
        QPointF(-size.width() - 10, -size.height() / 2), QPointF(10, 24), QPointF(10, 42)}) {
    const QRectF r(at + d, size);
    const bool clash = std::any_of(placed.begin(), placed.end(), [&](const QRectF& q) { return q.intersects(r); });
    if (clash || !plot.adjusted(-2, -2, 2, 2).contains(r)) continue;
    best = r;
    break;
  }
  if (best.isNull()) return;
  placed.push_back(best);
  QColor paper = theme::color(Ink::sheet);
  paper.setAlpha(205);
  p->fillRect(best.adjusted(0, 2, 0, -2), paper);
  p->setPen(colour);
  p->drawText(best, Qt::AlignCenter, text);
}

void ConstructionLayer::draw_one(QCPPainter* p, const Construction& c, bool bold, std::vector<QRectF>& placed) {
  using Kind = Construction::Kind;
  if (c.points.empty()) return;
  const bool lens = figure_->view_ == CurveFigure::View::lens;
  const bool stations = figure_->evaluation_ && figure_->evaluation_->curve->stations;
  const QRectF plot = figure_->axisRect()->rect();
  const QColor mark = theme::temper(2), strong = theme::color(Ink::action);
  switch (c.kind) {
    case Kind::window: {
      if (!lens) return;
      const double y0 = px(c.points[1]).y(), y1 = px(c.points[0]).y();
      QColor fill = theme::color(Ink::window);
      fill.setAlpha(bold ? 80 : 46);
      p->fillRect(QRectF(plot.left(), y0, plot.width(), y1 - y0), fill);
      p->setPen(QPen(theme::temper(1), bold ? 1.8 : 1.1));
      p->drawLine(QPointF(plot.left(), y0), QPointF(plot.right(), y0));
      p->drawLine(QPointF(plot.left(), y1), QPointF(plot.right(), y1));
      break;
    }
    case Kind::line:
      if (!lens && !c.always) return;
      if (!lens && !bold && !stations) return;
      p->setPen(QPen(bold ? strong : mark, bold ? 2.2 : 1.2, Qt::DashLine));
      p->save();
      p->setClipRect(plot);
      p->drawLine(px(c.points[0]), px(c.points[1]));
      p->restore();
      break;
    case Kind::band: {
      if (c.points[0].x == c.points[1].x) {  // an interval of the y axis: a bracket beside its end
        const QPointF a = px(c.points[0]), b = px(c.points[1]);
        p->setPen(QPen(bold ? strong : theme::temper(2), 2));
        p->drawLine(a + QPointF(8, 0), b + QPointF(8, 0));
        for (const QPointF& e : {a, b}) p->drawLine(e + QPointF(3, 0), e + QPointF(13, 0));
        draw_label(p, b + QPointF(8, 0), QString::fromStdString(c.label), theme::temper(2), placed);
        return;
      }
      if (!bold && lens) return;
      p->setPen(QPen(bold ? strong : theme::color(Ink::quiet), bold ? 2.4 : 1.4));
      const QPointF a = px(c.points[0]), b = px(c.points[1]);
      if (b.x() - a.x() < 8) return;
      p->drawLine(a + QPointF(0, 14), b + QPointF(0, 14));
      for (const QPointF& e : {a, b}) p->drawLine(e + QPointF(0, 10), e + QPointF(0, 18));
      if (bold) draw_label(p, (a + b) / 2 + QPointF(0, 16), QString::fromStdString(c.label), strong, placed);
      break;
    }
    case Kind::point: {
      if (!lens && !c.always && !bold) return;
      if (lens && !bold && c.minor) return;
      const QPointF at = px(c.points[0]);
      if (!plot.contains(at)) return;
      const bool main = c.always && !lens;
      if (main && !stations) {
        p->setPen(QPen(theme::temper(3), 1, Qt::DotLine));
        p->drawLine(at, QPointF(at.x(), plot.bottom()));
      }
      p->setPen(QPen(bold ? strong : main ? theme::temper(3) : mark, bold ? 3 : 2));
      p->setBrush(theme::color(Ink::sheet));
      p->drawEllipse(at, bold ? 6 : 4.5, bold ? 6 : 4.5);
      placed.push_back(QRectF(at.x() - 6, at.y() - 6, 12, 12));
      QString text = QString::fromStdString(c.label);
      if (const ResultValue* r = figure_->evaluation_->find(c.key))
        text += " " +
                QString::fromStdString(
                    printed(r->value, r->spec.dimension, r->spec.rounding, RoundingSchool::iso, figure_->set_).number);
      draw_label(p, at, text, bold ? strong : main ? theme::temper(3) : mark, placed);
      break;
    }
    case Kind::marker: {
      const QPointF at = px(c.points[0]);
      if (!plot.contains(at)) return;
      p->setPen(QPen(theme::color(Ink::quiet), 1.6));
      p->drawLine(at + QPointF(0, -6), at + QPointF(0, 6));
      draw_label(p, at + QPointF(0, 34), QString::fromStdString(c.label), theme::color(Ink::quiet), placed);
      break;
    }
  }
}

// Stops keyed by hand: dots, a second channel as squares, doubtful ones hollow, those off the line ringed
// and told how far.
void ConstructionLayer::draw_points(QCPPainter* p, std::vector<QRectF>& placed) {
  const CurveData& c = *figure_->evaluation_->curve;
  if (!c.stations) return;
  const QRectF plot = figure_->axisRect()->rect();
  auto flag = [&](QPointF at, const std::string& text) {
    p->setPen(QPen(theme::color(Ink::fails), 2));
    p->setBrush(theme::color(Ink::sheet));
    p->drawEllipse(at, 7, 7);
    draw_label(p, at, QString::fromStdString(text), theme::color(Ink::fails), placed);
  };
  for (size_t i = 0; i < c.second.x.size(); ++i) {
    const QPointF at = px({c.second.x[i], c.second.y[i]});
    if (!plot.contains(at)) continue;
    p->setPen(QPen(theme::temper(2), 1.6));
    p->setBrush(theme::temper(2));
    p->drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8));
  }
  for (size_t i = 0; i < c.x.size(); ++i) {
    const QPointF at = px({c.x[i], c.y[i]});
    if (!plot.adjusted(-1, -1, 1, 1).contains(at)) continue;
    const bool out = i < c.left_out.size() && c.left_out[i];
    p->setPen(QPen(out ? theme::color(Ink::quiet) : theme::temper(5), 1.8));
    p->setBrush(out ? theme::color(Ink::sheet) : theme::temper(5));
    p->drawEllipse(at, 5, 5);
    placed.push_back(QRectF(at.x() - 5, at.y() - 5, 10, 10));
  }
  for (const auto& [i, text] : c.second.flags) flag(px({c.second.x[i], c.second.y[i]}), text);
  for (const auto& [i, text] : c.flags) flag(px({c.x[i], c.y[i]}), text);
  // Direct labels instead of a legend, at the last point of each.
  auto name = [&](const std::string& label, const std::vector<double>& x, const std::vector<double>& y,
                  const QColor& ink) {
    if (label.empty() || x.empty()) return;
    size_t last = x.size() - 1;
    while (last > 0 && !plot.contains(px({x[last], y[last]}))) --last;
    draw_label(p, px({x[last], y[last]}), QString::fromStdString(label), ink, placed);
  };
  if (!c.second.x.empty() && figure_->view_ == CurveFigure::View::whole) {
    name(c.x_label, c.x, c.y, theme::temper(5));
    name(c.second.label, c.second.x, c.second.y, theme::temper(2));
  }
}

void ConstructionLayer::draw(QCPPainter* p) {
  if (!figure_->evaluation_ || !figure_->evaluation_->curve) {
    p->setPen(theme::color(Ink::quiet));
    p->setFont(theme::words(13));
    p->drawText(QRectF(figure_->axisRect()->rect()).adjusted(20, 0, -20, 0), Qt::AlignCenter | Qt::TextWordWrap,
                figure_->empty_sentence_);
    return;
  }
  p->setRenderHint(QPainter::Antialiasing);
  p->setClipRect(figure_->axisRect()->rect().adjusted(0, -18, 18, 0));
  std::vector<QRectF> placed;
  draw_points(p, placed);
  const auto& all = figure_->evaluation_->constructions;
  for (const Construction& c : all)
    if (c.key == figure_->highlighted_ && !c.key.empty()) draw_one(p, c, true, placed);
  for (const Construction& c : all)
    if (c.key != figure_->highlighted_ || c.key.empty()) draw_one(p, c, false, placed);
  const auto handles = figure_->handles();
  for (size_t i = 0; i < handles.size(); ++i) {
    const QPointF at = figure_->handle_position(handles[i]);
    const bool held = int(i) == figure_->grabbed_ || (figure_->hasFocus() && int(i) == figure_->chosen_);
    p->setPen(QPen(held ? theme::color(Ink::action) : theme::temper(1).darker(115), held ? 3 : 1));
    p->setBrush(theme::temper(1));
    p->drawRoundedRect(QRectF(at.x() - 7, at.y() - 7, 14, 14), 3, 3);
  }
}

}  // namespace fortitor
