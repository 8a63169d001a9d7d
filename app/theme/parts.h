// Small building blocks used all over the window.
#pragma once

#include <QCheckBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <string>
#include <string_view>

#include "app/theme/spoken.h"

namespace fortitor::parts {

/// Text to be shown. What nobody reads to its end is cut: laying out 200,000 letters takes the window ten seconds.
inline QString qs(std::string_view s) {
  constexpr size_t kLongest = 5000;
  QString text = QString::fromUtf8(s.data(), qsizetype(std::min(s.size(), kLongest)));
  return s.size() > kLongest ? text + "…" : text;
}
inline QString qs(const std::string& s) {
  return qs(std::string_view(s));
}

/// Kinds of files as their dialog wants them, "Tables (*.csv *.txt)": the name is spoken, the patterns stay.
QString file_kinds(const char* name, const char* patterns);

/// All of these say their text in the language of the window.
/// Label in one of the roles of the style sheet: title, quiet, hint, caution, error, heading. Its text is plain,
/// whatever a name looks like.
QLabel* label(const QString& text, const char* role = "", QWidget* parent = nullptr);
/// One line; what does not fit is elided and said whole by its tip.
QLabel* line(const QString& text, const char* role = "", QWidget* parent = nullptr);
/// A label whose text has marks of its own (<b>): names in it stand escaped.
QLabel* rich_label(const QString& html, const char* role = "", QWidget* parent = nullptr);
/// Panel with hairline; its layout has the usual margins.
QFrame* sheet(QWidget* parent = nullptr);
QVBoxLayout* column(QWidget* owner, int margin = 12, int gap = 8);
QPushButton* button(const QString& text, const QString& name, const char* role = "", QWidget* parent = nullptr);
/// Vertical scroller around `content`.
QScrollArea* scroller(QWidget* content);
/// Frames a field whose entry cannot be read, or takes the frame off.
void mark_bad(QWidget* field, bool bad);
/// Removes and deletes everything in a layout.
void clear(QLayout* layout);

}  // namespace fortitor::parts
