// The fuzz targets without libFuzzer: seeds changed by chance for so many seconds. It sees no coverage, but it runs in
// the sanitized build of CI, where nothing else has to be compiled twice.
//   by_chance_<target> SECONDS [SEED] [FILE OR FOLDER OF SEEDS …]
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <random>
#include <string>
#include <vector>

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size);

namespace {

namespace fs = std::filesystem;
using Seed = std::vector<uint8_t>;

constexpr size_t kLargest = 64 << 10;  // a larger seed only makes fewer tries

void take(const fs::path& path, std::vector<Seed>& seeds) {
  if (fs::is_directory(path)) {
    for (const auto& file : fs::recursive_directory_iterator(path))
      if (file.is_regular_file() && file.file_size() <= kLargest) take(file.path(), seeds);
    return;
  }
  std::ifstream in(path, std::ios::binary);
  seeds.emplace_back(std::istreambuf_iterator<char>(in), std::istreambuf_iterator<char>());
}

void change(Seed& b, const Seed& other, std::mt19937_64& random) {
  static const char* const kWords[] = {
      "1e999",  "-0", "nan", "null", "\"\"", "[]",           "{}", "9223372036854775808",
      "1e-320", ",",  ";",   "\t",   "\n",   "\xEF\xBB\xBF", "µ",  "0x"};
  const auto below = [&](size_t n) { return n == 0 ? size_t(0) : size_t(random() % n); };
  const size_t at = below(b.size() + 1), length = std::min(below(32), b.size() - std::min(at, b.size()));
  switch (below(7)) {
    case 0:
      if (at < b.size()) b[at] ^= uint8_t(1u << below(8));
      break;
    case 1:
      if (at < b.size()) b[at] = uint8_t(random());
      break;
    case 2: b.erase(b.begin() + long(at), b.begin() + long(at + length)); break;
    case 3: {
      const Seed piece(b.begin() + long(at), b.begin() + long(at + length));
      b.insert(b.begin() + long(below(b.size() + 1)), piece.begin(), piece.end());
      break;
    }
    case 4: {
      const std::string word = kWords[below(std::size(kWords))];
      b.insert(b.begin() + long(at), word.begin(), word.end());
      break;
    }
    case 5:
      if (!other.empty()) {
        const size_t from = below(other.size()), n = std::min(below(256), other.size() - from);
        b.insert(b.begin() + long(at), other.begin() + long(from), other.begin() + long(from + n));
      }
      break;
    default: b.resize(at);
  }
}

}  // namespace

int main(int argc, char** argv) {
  const double seconds = argc > 1 ? std::atof(argv[1]) : 10;
  std::mt19937_64 random(argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1);
  std::vector<Seed> seeds = {{}};
  for (int i = 3; i < argc; ++i) take(argv[i], seeds);
  for (int i = 0; i < 16; ++i) {
    Seed some(16 + random() % 512);
    for (uint8_t& c : some) c = uint8_t(random());
    seeds.push_back(some);
  }
  const auto until = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
  size_t tries = 0;
  while (std::chrono::steady_clock::now() < until) {
    Seed b = seeds[random() % seeds.size()];
    const Seed& other = seeds[random() % seeds.size()];
    for (size_t n = 1 + random() % 6; n > 0; --n) change(b, other, random);
    LLVMFuzzerTestOneInput(b.data(), b.size());
    ++tries;
  }
  std::printf("%zu tries\n", tries);
  return 0;
}
