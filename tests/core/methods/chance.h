// Chance for tests that keep what comes of it.
#pragma once

#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

namespace fortitor {

// Numbers that are the same on every machine: the distributions of the library are not.
class Chance {
 public:
  explicit Chance(uint64_t seed) : state_(seed * 0x9e3779b97f4a7c15u + 1) {}
  uint64_t next() {  // splitmix64 (Steele, Lea and Flood 2014)
    uint64_t z = (state_ += 0x9e3779b97f4a7c15u);
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
    return z ^ (z >> 31);
  }
  size_t below(size_t n) { return n == 0 ? 0 : size_t(next() % n); }
  double share() { return double(next() >> 11) / 9007199254740992.0; }
  double normal() {  // sum of twelve: near enough
    double sum = -6;
    for (int i = 0; i < 12; ++i) sum += share();
    return sum;
  }
  template <class T>
  const T& of(const std::vector<T>& all) {
    return all[below(all.size())];
  }

 private:
  uint64_t state_;
};

}  // namespace fortitor
