// Small building blocks used all over the window.
#pragma once

#include <QCheckBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace fortitor::parts {

inline QString qs(const std::string& s) {
  return QString::fromStdString(s);
}
inline QString qs(std::string_view s) {
  return QString::fromUtf8(s.data(), qsizetype(s.size()));
}

/// Label in one of the roles of the style sheet: title, quiet, hint, caution, error, heading.
QLabel* label(const QString& text, const char* role = "", QWidget* parent = nullptr);
/// Panel with hairline; its layout has the usual margins.
QFrame* sheet(QWidget* parent = nullptr);
QVBoxLayout* column(QWidget* owner, int margin = 12, int gap = 8);
QPushButton* button(const QString& text, const QString& name, const char* role = "", QWidget* parent = nullptr);
/// Vertical scroller around `content`.
QScrollArea* scroller(QWidget* content);
/// Removes and deletes everything in a layout.
void clear(QLayout* layout);

}  // namespace fortitor::parts
