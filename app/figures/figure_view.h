// A figure on screen: paints its layout, lets a hand drag its handles and pick its marks.
#pragma once

#include <QPushButton>
#include <QWidget>
#include <map>
#include <optional>
#include <vector>

#include "app/theme/painted_parts.h"
#include "core/figure/layout.h"
#include "core/outcome.h"

namespace fortitor {

class FigureView : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  std::vector<PaintedPart> painted_parts() override;
  explicit FigureView(QWidget* parent = nullptr);

  /// Shows a figure in the units of `set`; `original` is drawn paler beneath when its data differ.
  void show_figure(const Figure& figure, UnitSet set, const Figure* original = nullptr);
  void show_nothing(const QString& sentence);
  /// Draws the marks of one result bold and the others thin.
  void highlight(const std::string& key);
  /// Only the first panel: a run that is going on has no use for a lens.
  void set_first_panel_only(bool on) { first_only_ = on; }

  /// Where there is no room for two panels they take turns, each behind a button with its name.
  bool takes_turns() const;
  void show_panel(size_t panel);

  /// What part of a panel is shown: the wheel magnifies about the pointer, a drag moves, Shift with a drag draws a box
  /// that is magnified, a double click shows all again; + − and 0 do it from the keys.
  bool zoomed() const { return !zoom_.empty(); }
  void show_all();
  /// The beginning of the curve with its first landmark (the yield region); `Y` does it from the keys, and takes it
  /// back.
  void show_beginning();
  /// The figure as it is shown: to the clipboard as a picture, its data as a table, or into a file.
  void copy_picture() const;
  void copy_data() const;
  Outcome<Done> save(const QString& path) const;

  /// Low enough for a small window, high enough to be read at this text size.
  QSize minimumSizeHint() const override;

  bool empty() const { return figure_.empty(); }
  const figure::Layout& layout_shown() const { return laid(); }
  std::optional<size_t> cursor() const { return cursor_; }
  /// Handles that can be dragged, in drawing order.
  std::vector<Handle> handles() const;
  /// Where the n-th handle sits, px.
  QPointF handle_position(size_t n) const;

 signals:
  /// While dragging: internal units.
  void dragged(const fortitor::Handle& handle, double value);
  void released(const fortitor::Handle& handle, double value);
  void picked(const QString& key);
  /// What came of copying or saving.
  void said(const QString& sentence);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void lay_out();
  void lay_out_now();
  const figure::Layout& laid() const;
  void lay_turns(bool wanted);
  /// What is laid out: the figure, or the panel whose turn it is.
  Figure shown() const;
  int handle_at(const QPointF& px) const;
  /// Puts the cursor of a linked figure at the sample nearest to a place; keeps it where no panel lies.
  void move_cursor(const QPointF& px);
  double value_at(const QPointF& px) const;
  /// Panel whose plot holds the place and can be magnified; −1: none.
  int panel_at(const QPointF& px) const;
  /// Shows what lies between two places of a panel, px; all of it where that is more than there is.
  void magnify(size_t panel, const QRectF& px);
  void magnify_about(const QPointF& px, double factor);
  /// Values under the pointer, with their units.
  void paint_reading(QPainter& p) const;
  void begin_sweep(QMouseEvent* event);
  void go_on_sweeping(const QPointF& to);

  Figure figure_;
  figure::Layout layout_;  ///< read through laid()
  bool stale_ = false;     ///< what is shown changed since
  UnitSet set_ = UnitSet::si;
  std::string highlighted_;
  QString empty_sentence_;
  bool first_only_ = false;
  int grabbed_ = -1, chosen_ = -1;
  std::optional<size_t> cursor_;     ///< sample of a linked figure
  std::vector<QPushButton*> turns_;  ///< one a panel; empty while all stand side by side
  size_t turn_ = 0;
  figure::HandleSpot grabbed_spot_;
  std::map<size_t, figure::Frame> zoom_;  ///< axes of panels that show a part; by their place in the layout
  std::vector<figure::Frame> whole_;      ///< axes of all panels that show everything
  std::optional<QPointF> pointer_;        ///< over the figure
  std::optional<QPointF> sweep_;          ///< where a drag over empty paper began
  bool boxing_ = false;                   ///< the drag draws a box
};

}  // namespace fortitor
