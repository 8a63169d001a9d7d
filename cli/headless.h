// What the commands that need the toolkit have in common.
#pragma once

#include <unistd.h>
#include <QFontDatabase>
#include <QGuiApplication>
#include <cstdio>
#include <functional>
#include <memory>
#include <utility>

namespace fortitor::cli {

// The store and the PDF writer want an application object, never a display.
struct Headless {
  Headless() {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    // Standard error carries one line of ours and nothing of the toolkit's.
    qputenv("QT_LOGGING_RULES", "default.warning=false");
    app = std::make_unique<QGuiApplication>(count, names);
    for (const char* f : {"Inter-Regular.otf", "Inter-SemiBold.otf", "Inter-Bold.otf", "JetBrainsMono-Regular.ttf"})
      QFontDatabase::addApplicationFont(QString(":/fonts/") + f);
  }
  int count = 1;
  char name[12] = "fortitorctl";
  char* names[2] = {name, nullptr};
  std::unique_ptr<QGuiApplication> app;
};

// Says how far it is on a terminal, in one line; nowhere else.
inline std::function<void(double)> told(const char* what, double part, double before = 0) {
  if (::isatty(STDERR_FILENO) == 0) return {};
  return [=, last = -1](double share) mutable {
    const int percent = int(100 * (before + part * share));
    if (percent == std::exchange(last, percent)) return;
    std::fprintf(stderr, "\r%s, %d %%   ", what, percent);
    if (percent >= 99) std::fprintf(stderr, "\r");
  };
}

}  // namespace fortitor::cli
