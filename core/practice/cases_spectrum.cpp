#include <stdlib.h>

#include <filesystem>
#include <fstream>

#include "core/practice/cases_parts.h"
#include "core/spectrum/spectrum.h"

namespace fortitor::cases {
namespace {

namespace fs = std::filesystem;

// The chain reads files, as loggers leave them: these live as long as they are read.
class Folder {
 public:
  Folder() {
    std::string name = (fs::temp_directory_path() / "fortitor-case-XXXXXX").string();
    if (::mkdtemp(name.data()) != nullptr) path_ = name;
  }
  ~Folder() {
    std::error_code nothing;
    if (!path_.empty()) fs::remove_all(path_, nothing);
  }
  Folder(const Folder&) = delete;
  Folder& operator=(const Folder&) = delete;
  const fs::path& path() const { return path_; }

 private:
  fs::path path_;
};

std::vector<double> history_of(const Recipe& recipe) {
  Samples s;
  s.channels.push_back({"strain", {}});
  standin::bridge_history(recipe.traffic, [&](const std::vector<float>& more) {
    s.channels[0].values.insert(s.channels[0].values.end(), more.begin(), more.end());
    return true;
  });
  return spoilt(s, recipe.spoil, recipe.seed).channels[0].values;
}

Outcome<fatigue::SignalSpec> written(const Recipe& recipe, const fs::path& file) {
  const std::vector<double> values = history_of(recipe);
  std::ofstream out(file, std::ios::binary);
  out.write(reinterpret_cast<const char*>(values.data()), std::streamsize(values.size() * sizeof(double)));
  out.close();
  if (!out) return InputError{"The history of a case cannot be written into " + file.parent_path().string() + ".", {}};
  fatigue::SignalSpec spec;
  spec.files = {file.string()};
  spec.format = "f64";
  spec.rate = recipe.traffic.rate;
  return spec;
}

spectrum::ChainStep step_of(const std::string& name) {
  constexpr const char* names[] = {"raw", "level", "smooth", "turn", "count", "cut", "chain", "drive"};
  for (int i = 0; i < spectrum::kSteps; ++i)
    if (name == names[i]) return spectrum::ChainStep(i);
  return spectrum::ChainStep::raw;
}

}  // namespace

Outcome<Evaluation> of_spectrum(const Recipe& recipe) {
  auto record = spectrum::record_from_json(recipe.record.empty() ? "{\"fortitor\": \"record/1\", \"method\": \"" +
                                                                       spectrum::kMethod + "\"}"
                                                                 : recipe.record);
  if (!record) return record.error();
  auto settings = spectrum::settings_of(*record);
  if (!settings) return settings.error();
  const Folder folder;
  const std::vector<Recipe> weeks = recipe.pieces.empty() ? std::vector{recipe} : recipe.pieces;
  for (size_t i = 0; i < weeks.size(); ++i) {
    const auto spec = written(weeks[i], folder.path() / ("week-" + std::to_string(i + 1) + ".bin"));
    if (!spec) return spec.error();
    settings->weeks.push_back(*spec);
    settings->names.push_back("Week " + std::to_string(i + 1));
  }
  spectrum::Spectrum now;
  if (const auto done = spectrum::compute(now, *settings, {.study = recipe.study}); !done) return done.error();
  Evaluation e = spectrum::evaluation_of(now, *record);
  e.figures = spectrum::figures_of(now, step_of(recipe.figure));
  return e;
}

}  // namespace fortitor::cases
