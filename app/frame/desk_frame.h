// The frame that desks share: a head with the desk's name and what belongs beside it, beneath it rows of sheets. A list
// at a side keeps its width at every size of text but the largest.
#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

class DeskFrame {
 public:
  static constexpr int kGap = 10;    ///< px between head and sheets
  static constexpr int kApart = 12;  ///< px between two sheets

  /// `desk` gets the layout; without a name there is no head.
  explicit DeskFrame(QWidget* desk, const QString& name = {}) {
    desk->setObjectName("page");
    whole_ = parts::column(desk, 0, kGap);
    if (!name.isNull()) {
      head_ = new QHBoxLayout;
      name_ = parts::label(name, "heading");
      name_->setWordWrap(false);
      head_->addWidget(name_);
      whole_->addLayout(head_);
    }
  }
  QVBoxLayout* whole() const { return whole_; }
  /// Line of the name: what belongs to all of the desk.
  QHBoxLayout* head() const { return head_; }
  QLabel* name() const { return name_; }
  /// A further row of sheets; `share` of the height beside other rows.
  QHBoxLayout* row(int share = 1) const {
    auto* row = new QHBoxLayout;
    row->setSpacing(kApart);
    whole_->addLayout(row, share);
    return row;
  }
  /// Gives what stands at a side its width, px at the usual size of text.
  template <class W>
  static W* side(W* widget, int width) {
    constexpr double kMost = 1.4;  // of the size of text: what is in the middle wants room too
    widget->setFixedWidth(int(width * std::min(kMost, theme::scale())));
    return widget;
  }

 private:
  QVBoxLayout* whole_ = nullptr;
  QHBoxLayout* head_ = nullptr;
  QLabel* name_ = nullptr;
};

}  // namespace fortitor
