// Taking along what a page draws by itself: a picture of it on the clipboard or in a file, its data as a table.
#pragma once

#include <QWidget>
#include <functional>
#include <string>

#include "core/outcome.h"

namespace fortitor {

/// Gives a painted widget the menu that figures have: copy the picture, copy the data, save (SVG, PNG, PDF, CSV). The
/// whole widget is taken, not only what a scrolled page shows of it.
class TakeAlong : public QObject {
  Q_OBJECT

 public:
  /// `data`: the table behind the drawing, lines of comma-separated cells.
  TakeAlong(QWidget* drawn, QString name, std::function<std::string()> data);
  void copy_picture() const;
  void copy_data() const;
  /// By the ending of the path; another file is never written over. Errors are a sentence.
  Outcome<Done> save(const QString& path) const;

 signals:
  void said(const QString& sentence);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void offer(const QPoint& where);

  QWidget* drawn_;
  QString name_;
  std::function<std::string()> data_;
};

/// A cell of such a table: quoted where it must be.
std::string csv_cell(const std::string& text);

}  // namespace fortitor
