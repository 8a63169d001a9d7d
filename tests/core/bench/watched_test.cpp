#include "core/bench/watched.h"

#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>

namespace fortitor::watched_test {
namespace {

using News = std::vector<std::string>;

TEST(WatchedFolder, WhatLayThereBeforeIsNoNews) {
  WatchedFolder w;
  EXPECT_EQ(w.look({{"a", 10, 1}}), News());
  EXPECT_EQ(w.look({{"a", 10, 1}}), News());
}

TEST(WatchedFolder, AFileIsToldOnceWhenNobodyWritesToItAnyMore) {
  WatchedFolder w;
  w.look({});
  EXPECT_EQ(w.look({{"a", 0, 1}}), News());
  EXPECT_EQ(w.look({{"a", 0, 1}}), News()) << "an empty file is none yet";
  EXPECT_EQ(w.look({{"a", 10, 2}}), News());
  EXPECT_EQ(w.look({{"a", 20, 3}}), News());
  EXPECT_EQ(w.look({{"a", 20, 3}}), News{"a"});
  EXPECT_EQ(w.look({{"a", 20, 3}}), News());
}

TEST(WatchedFolder, AFileWrittenAgainIsNewsAgain) {
  WatchedFolder w;
  w.look({{"a", 10, 1}});
  EXPECT_EQ(w.look({{"a", 12, 5}}), News());
  EXPECT_EQ(w.look({{"a", 12, 5}}), News{"a"});
  // Taken away and back: the same file is no news.
  EXPECT_EQ(w.look({}), News());
  EXPECT_EQ(w.look({{"a", 12, 5}}), News());
}

TEST(WatchedFolder, ListsWholeFilesOnly) {
  const auto folder = std::filesystem::temp_directory_path() / "fortitor-watched-test";
  std::filesystem::remove_all(folder);
  std::filesystem::create_directories(folder / "inner");
  for (const char* name : {"run.csv", ".hidden", "run.csv.part", "x.tmp", "y~"}) std::ofstream(folder / name) << "1";
  const auto files = files_in(folder.string());
  ASSERT_EQ(files.size(), 1u);
  EXPECT_EQ(files[0].path, (folder / "run.csv").string());
  EXPECT_EQ(files[0].size, 1u);
  std::filesystem::remove_all(folder);
  EXPECT_TRUE(files_in(folder.string()).empty());
}

}  // namespace
}  // namespace fortitor::watched_test
