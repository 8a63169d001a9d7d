#include <gtest/gtest.h>

#include <QFontDatabase>
#include <QGuiApplication>

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QGuiApplication app(argc, argv);
  for (const char* f : {"Inter-Regular.otf", "Inter-Bold.otf", "JetBrainsMono-Regular.ttf"})
    QFontDatabase::addApplicationFont(QString(":/fonts/") + f);
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
