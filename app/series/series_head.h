// What a series is looked at by: result, groups, another result against it, widths asked for. Every choice is a setting
// of the series.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QWidget>

#include "app/series/series_view.h"

namespace fortitor {

class SeriesHead : public QWidget {
  Q_OBJECT

 public:
  explicit SeriesHead(QWidget* parent = nullptr);
  void show_view(const SeriesView& view);

 signals:
  /// A setting was chosen; empty: not given any more.
  void chosen(const QString& path, const QString& value);

 private:
  QComboBox* box(const char* key, const char* name, const char* path, int width);
  QLineEdit* edit(const char* key, const char* name, const char* path);
  QComboBox *keys_, *groups_, *against_, *over_;
  QLineEdit *margin_, *interval_;
};

/// Buttons for the pictures of a series, a panel each; hidden where there is one only.
class FigureTabs : public QWidget {
  Q_OBJECT

 public:
  explicit FigureTabs(QWidget* parent = nullptr);
  /// Keeps the picture in hand when it is there again.
  void show_figures(const std::vector<Figure>& figures);
  /// The picture in hand: a figure with that panel alone.
  const Figure& chosen() const { return shown_[at_]; }
  bool empty() const { return shown_.empty(); }

 signals:
  void picked();

 private:
  std::vector<Figure> shown_;
  size_t at_ = 0;
  std::string name_;
};

}  // namespace fortitor
