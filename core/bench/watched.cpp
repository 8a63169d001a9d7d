#include "core/bench/watched.h"

#include <filesystem>

namespace fortitor {

std::vector<FileSeen> files_in(const std::string& folder) {
  namespace fs = std::filesystem;
  std::vector<FileSeen> out;
  std::error_code fault;
  for (fs::directory_iterator it(folder, fault), end; !fault && it != end; it.increment(fault)) {
    std::error_code none;
    if (!it->is_regular_file(none)) continue;
    const std::string name = it->path().filename().string();
    if (name.starts_with('.') || name.ends_with('~') || name.ends_with(".part") || name.ends_with(".tmp")) continue;
    const auto size = it->file_size(none);
    const auto changed = it->last_write_time(none);
    if (!none) out.push_back({it->path().string(), size, changed.time_since_epoch().count()});
  }
  return out;
}

std::vector<std::string> WatchedFolder::look(const std::vector<FileSeen>& now) {
  std::vector<std::string> news;
  std::map<std::string, FileSeen> growing;
  for (const FileSeen& f : now) {
    const auto known = known_.find(f.path);
    if (!began_ || (known != known_.end() && known->second == f)) {
      known_[f.path] = f;
      continue;
    }
    const auto before = growing_.find(f.path);
    if (f.size > 0 && before != growing_.end() && before->second == f) {
      known_[f.path] = f;
      news.push_back(f.path);
    } else {
      growing[f.path] = f;
    }
  }
  growing_ = std::move(growing);
  began_ = true;
  return news;
}

}  // namespace fortitor
