// The overview of a week, kept beside the book: the week is drawn and zoomed without reading it again.
#pragma once

#include <QString>

#include "core/fatigue/chain.h"

namespace fortitor::overview {

struct Kept {
  fatigue::Overview overview;
  double rate = 0;
  uint64_t samples = 0;
};

/// Folder beside the book.
QString folder_of(const QString& book);
/// Name by the files as they are now: path, size, time. Empty when one of them is gone.
QString name_of(const fatigue::SignalSpec& spec);
/// Writes it anew, whole or not at all; the overview of files that have changed since has another name.
bool keep(const QString& book, const fatigue::SignalSpec& spec, const Kept& kept);
std::optional<Kept> find(const QString& book, const fatigue::SignalSpec& spec);

}  // namespace fortitor::overview
