// A signal of an hour or less as a file of its own, and what a spectrum of it tells.
#pragma once

#include <gtest/gtest.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <functional>
#include <string>
#include <vector>

#include "core/spectrum/spectrum.h"

namespace fortitor::spectrum {

class AnHour : public testing::Test {
 protected:
  static constexpr double kRate = 50;  // Hz

  void TearDown() override { std::filesystem::remove_all(folder_); }
  Evaluation told(const std::vector<double>& x, const std::function<void(Settings&)>& set = {}) {
    std::filesystem::create_directories(folder_);
    const std::string path = (folder_ / "x.f64").string();
    std::ofstream(path, std::ios::binary).write(reinterpret_cast<const char*>(x.data()), std::streamsize(x.size() * 8));
    Settings s;
    fatigue::SignalSpec spec;
    spec.files = {path};
    spec.rate = kRate;
    s.weeks = {spec};
    s.block = 600;
    if (set) set(s);
    Spectrum now;
    const auto done = compute(now, s, {.until = ChainStep::cut});
    EXPECT_TRUE(done) << (done ? "" : done.error().message);
    return evaluation_of(now, {});
  }

  std::filesystem::path folder_ =
      std::filesystem::temp_directory_path() / ("fortitor-hour-" + std::to_string(::getpid()));
};

}  // namespace fortitor::spectrum
