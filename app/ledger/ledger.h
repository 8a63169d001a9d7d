// Every result: symbol, name, value, ± U, scale with limit range, verdict; a click opens "How".
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/model/workbench.h"
#include "app/theme/painted_parts.h"
#include "app/theme/widgets.h"

namespace fortitor {

/// The list itself, painted; lives in a scroller.
class LedgerList : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  std::vector<PaintedPart> painted_parts() override;
  explicit LedgerList(Workbench* bench, QWidget* parent = nullptr);
  void refresh();
  QString open_key() const { return open_; }
  void open_how(const QString& key);
  /// Area of a result's row, for tests and for scrolling to it.
  QRectF row_of(const QString& key) const;

 signals:
  void opened(const QString& key);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  struct Row {
    QString key;
    double top, height;
  };
  void lay_out();
  QString how_html(const ResultValue& r) const;
  void paint_row(QPainter& p, const ResultValue& r, const QRectF& box);
  double row_height(const ResultValue& r) const;  ///< without its How
  /// Room for a name beside its value, px; height that it takes under it where that is too little.
  double name_room(const ResultValue& r) const;
  double name_under(const ResultValue& r) const;
  QStringList waits_for() const;
  double paint_missing(QPainter* p) const;  ///< without a painter: how high it is
  void paint_scale(QPainter& p, const ResultValue& r, const QRectF& rail);

  Workbench* bench_;
  std::vector<Row> rows_;
  QString open_;
  bool all_ = false;
  double more_top_ = 0;
};

class Ledger : public QWidget {
  Q_OBJECT

 public:
  explicit Ledger(Workbench* bench, QWidget* parent = nullptr);
  LedgerList* list() const { return list_; }

 signals:
  void sign_off_wanted();

 private:
  QPushButton* sign_;
  void refresh();
  Workbench* bench_;
  LedgerList* list_;
  QLabel* count_;
};

}  // namespace fortitor
