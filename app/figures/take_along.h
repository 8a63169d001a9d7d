// Taking along what a page draws by itself: a picture of it on the clipboard or in a file, its data as a table.
#pragma once

#include <QWidget>
#include <functional>
#include <string>
#include <utility>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// What can be taken along of a drawing, and what else its menu offers.
struct Takeable {
  QString name;  ///< of a file, without its ending
  std::function<void()> copy_picture, copy_data;
  std::function<Outcome<Done>(const QString& path)> save;
  std::vector<std::pair<QString, std::function<void()>>> others;
};
/// The menu of a drawing. Returns what came of the choice, as a sentence; empty: nothing to say.
QString offer_to_take(QWidget* over, const QPoint& where, const Takeable& what);

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
  QWidget* drawn_;
  QString name_;
  std::function<std::string()> data_;
};

}  // namespace fortitor
