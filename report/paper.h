// A4 pages painted by several hands at once and bound together. What a toolkit thread lays out it also paints: its
// faces of type are its own.
#pragma once

#include <QByteArray>
#include <QMarginsF>
#include <QPagedPaintDevice>
#include <QString>
#include <functional>

#include "report/page.h"

class QPainter;
class QPdfWriter;

namespace fortitor::page {

/// What a file is like before anything stands in it.
struct Setup {
  QString title;
  QMarginsF margins;  ///< mm
  QPagedPaintDevice::PdfVersion version = QPagedPaintDevice::PdfVersion_1_4;
  QByteArray metadata = {};  ///< XMP, empty for the usual
};

/// A4 at 96 dots an inch, as `setup` says; `setup` must outlive it.
class Paper {
 public:
  explicit Paper(const Setup& setup);
  ~Paper();
  QPdfWriter& writer();
  /// What was painted.
  QByteArray taken();

 private:
  struct Held;
  std::unique_ptr<Held> held_;
};

/// Paints items `from` … `to` − 1 onto pages of their own, beginning on the page that is open.
using Paint = std::function<void(QPdfWriter&, QPainter&, size_t from, size_t to)>;

/// All items in their order; at most `each` of them go into one hand. `paint` runs on several threads at once.
Outcome<QByteArray> painted(const Setup& setup, size_t items, size_t each, const Paint& paint,
                            const Progress& progress = {});

}  // namespace fortitor::page
