// Paper and ink: the tokens of the look, light and dark, and what is drawn everywhere the same.
#pragma once

#include <QApplication>
#include <QColor>
#include <QFont>
#include <QPainter>
#include <QRectF>
#include <array>

#include "core/evaluation/evaluation.h"

namespace fortitor::theme {

enum class Ink {
  background,
  docket,
  sheet,
  hairline,
  ink,
  quiet,
  on_colour,  ///< words on a button that is filled with a colour
  action,
  bar,
  bar_text,
  bar_field,
  callout,
  meets,
  near,
  fails,
  void_test,
  window,
  grid,
  selected,
};

bool dark();
/// Switches the whole application; every window repaints.
void set_dark(bool on);
/// Higher contrast, in either theme.
bool strong();
void set_strong(bool on);
/// Nothing moves by itself for show: a hand of a dial stands where it ends.
bool calm();
void set_calm(bool on);
/// Fonts, style sheet and palette; once at start. `scale` is the text scale, 1.0 to 2.0.
/// Hangs the style sheet on a part of a window: none of them lies in another. Windows of their own get it by
/// themselves.
void dress(QWidget* part);
/// A change of theme or size reaches the parts one after the other, what is seen first; this waits for all of them.
void settle();
/// A tip as it is written, whatever marks stand in it.
QString plain_tip(const QString& text);
void install(QApplication& app, double scale = 1.0);
double scale();
/// A length of the design at the text size that was chosen, in pixels; px() whole.
inline double scaled(double length) {
  return length * scale();
}
inline int px(double length) {
  return int(scaled(length));
}
void set_scale(double scale);

QColor color(Ink ink);
/// Temper colours from straw to pale blue, stage 0…6; also data series in order.
QColor temper(int index);
QColor verdict_color(Verdict v);

/// Inter in px at the present text scale.
QFont words(double px, int weight = QFont::Normal);
/// JetBrains Mono for numbers.
QFont numbers(double px, int weight = QFont::Normal);

/// Verdict glyph: tick, half disc, cross, barred ring. Shape tells, colour helps.
void draw_glyph(QPainter& p, const QRectF& box, Verdict v, bool near = false);
/// "R_p0.2" with its subscript set low; returns the width used.
double draw_symbol(QPainter& p, QPointF baseline, const QString& symbol, const QFont& font, const QColor& colour);
/// A sheet: rounded panel with hairline.
void draw_sheet(QPainter& p, const QRectF& r);

}  // namespace fortitor::theme
