#include <gtest/gtest.h>

#include <clocale>

int main(int argc, char** argv) {
  // As a Qt application does: the user's locale, whatever it makes of decimal marks.
  std::setlocale(LC_ALL, "");
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
