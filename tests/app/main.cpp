#include <gtest/gtest.h>

#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>

#include "app/theme/painted_parts.h"
#include "app/theme/theme.h"

int main(int argc, char** argv) {
  // Without a display, and for listing the tests at build time, the window is drawn offscreen.
  if (!qEnvironmentVariableIsSet("DISPLAY") && !qEnvironmentVariableIsSet("WAYLAND_DISPLAY"))
    qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  fortitor::hear_window();
  QTemporaryDir own;  // what belongs to the person who runs them stays theirs
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, own.path());
  fortitor::theme::install(app);
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
