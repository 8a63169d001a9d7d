// A layout that sets widgets one beside the other and goes to the next line where there is no more room, as words do.
#pragma once

#include <QLayout>
#include <vector>

namespace fortitor {

class FlowLayout : public QLayout {
 public:
  explicit FlowLayout(int gap = 6, QWidget* parent = nullptr);
  ~FlowLayout() override;
  void addItem(QLayoutItem* item) override;
  /// What comes next belongs together: it begins a line of its own where it does not fit on this one whole, and stands
  /// `gap` px from what is before it where it does.
  void begin_group(int gap);
  int count() const override { return int(items_.size()); }
  QLayoutItem* itemAt(int index) const override;
  QLayoutItem* takeAt(int index) override;
  Qt::Orientations expandingDirections() const override { return {}; }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override { return lay({0, 0, width, 0}, false); }
  void setGeometry(const QRect& rect) override;
  QSize sizeHint() const override { return minimumSize(); }
  QSize minimumSize() const override;

 private:
  /// Places the items when `move`, else only measures. Height that is needed.
  int lay(const QRect& rect, bool move) const;

  struct Item {
    QLayoutItem* item;
    int gap;  ///< before it
    bool begins_group;
  };
  /// px of the group's items that are shown, beside one another.
  int width_of_group(size_t first) const;

  std::vector<Item> items_;
  int gap_, next_gap_;
  bool group_begins_ = false;
};

}  // namespace fortitor
