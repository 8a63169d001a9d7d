#include "report/figure.h"

#include <QBuffer>
#include <QFontMetricsF>
#include <QPaintEngine>
#include <QSvgGenerator>

namespace fortitor {
namespace {

using figure::Anchor;
using figure::Ink;
using figure::Shape;

QColor tint(const FigureColours& c, Ink ink, int tone) {
  switch (ink) {
    case Ink::ink: return c.ink;
    case Ink::quiet: return c.quiet;
    case Ink::grid: return c.grid;
    case Ink::paper: return c.paper;
    case Ink::temper: return c.temper[size_t(tone % 7)];
    case Ink::mark: return c.mark;
    case Ink::main: return c.main;
    case Ink::window: return c.window;
    case Ink::limit: return c.limit;
    case Ink::alarm: return c.alarm;
    case Ink::action: return c.action;
  }
  return c.ink;
}

QColor thinned(QColor c, double alpha) {
  c.setAlphaF(float(alpha));
  return c;
}

// How it looks on that paper, without anything shining through.
QColor mixed(const QColor& c, const QColor& paper, double alpha) {
  const auto part = [alpha](float of, float on) { return float(alpha * of + (1 - alpha) * on); };
  return QColor::fromRgbF(part(c.redF(), paper.redF()), part(c.greenF(), paper.greenF()),
                          part(c.blueF(), paper.blueF()));
}

Qt::PenStyle pen_style(Dash dash) {
  switch (dash) {
    case Dash::dashed: return Qt::DashLine;
    case Dash::dotted: return Qt::DotLine;
    case Dash::dash_dot: return Qt::DashDotLine;
    case Dash::solid: break;
  }
  return Qt::SolidLine;
}

QPolygonF polygon(const Shape& s) {
  QPolygonF out;
  out.reserve(qsizetype(s.points.size()));
  for (const Point& p : s.points) out << QPointF(p.x, p.y);
  return out;
}

// A line that lies on itself many times: noise along both axes. It fills a field; dashes and joins are not seen.
bool is_cloud(const QPolygonF& line) {
  constexpr qsizetype kPoints = 200;
  constexpr double kFolds = 20;  // lengths of the line in the diagonal of what it fills
  if (line.size() < kPoints) return false;
  const QRectF field = line.boundingRect();
  double length = 0;
  for (qsizetype i = 1; i < line.size(); ++i) length += QLineF(line[i - 1], line[i]).length();
  return length > kFolds * std::hypot(field.width(), field.height());
}

// The rasterizer takes seconds for the outline of one wide line of thousands of long strokes (Qt 6.4), and a hundredth
// of that for as many lines of two points.
void paint_cloud(QPainter& p, const QPolygonF& line, const QColor& paper) {
  QPen pen = p.pen();
  pen.setColor(mixed(pen.color(), paper, pen.color().alphaF()));  // strokes on strokes do not darken
  pen.setStyle(Qt::SolidLine);
  pen.setCapStyle(Qt::SquareCap);
  p.setPen(pen);
  QList<QLineF> strokes;
  strokes.reserve(line.size());
  for (qsizetype i = 1; i < line.size(); ++i) strokes << QLineF(line[i - 1], line[i]);
  p.drawLines(strokes);
}

void paint_line(QPainter& p, const Shape& s, const QColor& paper) {
  const QPolygonF line = polygon(s);
  const bool on_screen = p.paintEngine() != nullptr && p.paintEngine()->type() == QPaintEngine::Raster;
  if (on_screen && is_cloud(line))
    paint_cloud(p, line, paper);
  else
    p.drawPolyline(line);
}

void paint_text(QPainter& p, const Shape& s, const QColor& colour) {
  QFont font(s.numbers ? "JetBrains Mono" : "Inter");
  font.setPixelSize(std::max(1, int(std::lround(s.size))));
  font.setWeight(s.bold ? QFont::DemiBold : QFont::Normal);
  // Contextual alternates have no Unicode of their own: the text of a PDF would lose its hyphens and signs.
  font.setStyleStrategy(QFont::PreferNoShaping);
  p.setFont(font);
  p.setPen(colour);
  const QString text = QString::fromStdString(s.text);
  const double width = QFontMetricsF(font, p.device()).horizontalAdvance(text);
  const double shift = s.anchor == Anchor::start ? 0 : s.anchor == Anchor::middle ? width / 2 : width;
  p.drawText(QPointF(s.points.front().x - shift, s.points.front().y), text);
}

void paint_marker(QPainter& p, const Shape& s) {
  const QPointF at(s.points.front().x, s.points.front().y);
  const double r = s.size;
  switch (s.kind) {
    case Shape::Kind::circle: return p.drawEllipse(at, r, r);
    case Shape::Kind::square: return p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r));
    case Shape::Kind::diamond: {
      const QPolygonF four({{at.x(), at.y() - r}, {at.x() + r, at.y()}, {at.x(), at.y() + r}, {at.x() - r, at.y()}});
      return p.drawPolygon(four);
    }
    default: p.drawLine(at + QPointF(-r, -r), at + QPointF(r, r)); p.drawLine(at + QPointF(-r, r), at + QPointF(r, -r));
  }
}

}  // namespace

const FigureColours& paper_colours() {
  static const FigureColours colours = {"#22303C",
                                        "#6F7780",
                                        "#DAD4C6",
                                        "#FBFAF6",
                                        "#B0623F",
                                        "#3D5598",
                                        "#E0B84C",
                                        "#B5452F",
                                        "#B5452F",
                                        "#3D5598",
                                        {QColor("#E0B84C"), QColor("#CE9440"), QColor("#B0623F"), QColor("#8A4D6B"),
                                         QColor("#5F4A86"), QColor("#3D5598"), QColor("#6F9BC4")}};
  return colours;
}

void paint_figure(QPainter& p, const figure::Layout& layout, const FigureColours& colours) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  // A pen that is seen through makes the toolkit write the outline of every line, dot by dot: a thousand pale curves
  // come to 200 MB of page.
  const bool opaque = p.paintEngine() != nullptr && p.paintEngine()->type() == QPaintEngine::Pdf;
  int clips = 0;
  for (const Shape& s : layout.shapes) {
    if (s.kind == Shape::Kind::clip) {
      p.save();
      ++clips;
      p.setClipRect(QRectF(QPointF(s.points[0].x, s.points[0].y), QPointF(s.points[1].x, s.points[1].y)).normalized());
      continue;
    }
    if (s.kind == Shape::Kind::unclip) {
      if (clips-- > 0) p.restore();
      continue;
    }
    if (s.points.empty()) continue;
    QColor stroke = tint(colours, s.stroke, s.tone), fill = tint(colours, s.fill, s.tone);
    if (s.kind == Shape::Kind::text) {
      stroke.setAlphaF(float(s.alpha));
      paint_text(p, s, stroke);
      continue;
    }
    if (s.filled) {
      if (s.kind == Shape::Kind::polygon) fill.setAlphaF(float(s.alpha));
      p.setBrush(fill);
    } else {
      p.setBrush(Qt::NoBrush);
    }
    if (s.kind != Shape::Kind::polygon)
      stroke = opaque ? mixed(stroke, colours.paper, s.alpha) : thinned(stroke, s.alpha);
    p.setPen(s.width > 0 ? QPen(stroke, s.width, pen_style(s.dash), Qt::FlatCap, Qt::RoundJoin) : QPen(Qt::NoPen));
    switch (s.kind) {
      case Shape::Kind::line:
        p.drawLine(QPointF(s.points[0].x, s.points[0].y), QPointF(s.points[1].x, s.points[1].y));
        break;
      case Shape::Kind::polyline: paint_line(p, s, colours.paper); break;
      case Shape::Kind::polygon: p.drawPolygon(polygon(s)); break;
      default: paint_marker(p, s);
    }
  }
  for (; clips > 0; --clips) p.restore();
  p.restore();
}

std::string figure_svg(const Figure& figure, const figure::Options& options) {
  const figure::Layout layout = figure::lay_out(figure, options);
  if (layout.shapes.empty()) return {};
  QByteArray bytes;
  QBuffer buffer(&bytes);
  QSvgGenerator svg;
  svg.setOutputDevice(&buffer);
  svg.setSize(QSize(int(options.width), int(options.height)));
  svg.setViewBox(QRectF(0, 0, options.width, options.height));
  svg.setResolution(96);
  svg.setTitle(QString::fromStdString(figure.title));
  QPainter painter(&svg);
  paint_figure(painter, layout, paper_colours());
  painter.end();
  const qsizetype root = bytes.indexOf("<svg");  // the page it goes into has its own prologue
  return bytes.mid(std::max<qsizetype>(0, root)).toStdString();
}

}  // namespace fortitor
