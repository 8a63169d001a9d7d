// What Find or do offers: a line, and what happens when it is taken.
#pragma once

#include <QString>
#include <functional>

namespace fortitor {

struct Doable {
  QString title, detail;
  std::function<void()> act;
  /// The answer itself stands before everything else, what explains something behind it.
  enum class Rank { answer, usual, explains } rank = Rank::usual;
};

}  // namespace fortitor
