// The first reading: level, gaps, overview.
#include <algorithm>
#include <cmath>

#include "core/fatigue/chain.h"
#include "core/parallel.h"

namespace fortitor::fatigue {
namespace {

constexpr size_t kPiece = 1 << 16;    // samples read at a time
constexpr size_t kOverview = 256;     // samples an entry of the overview stands for, at least
constexpr size_t kEntries = 1 << 20;  // entries at most

struct BlockResult {
  LevelSums sums;
  std::vector<Stretch> gaps;
  size_t missing = 0;
};

void add(LevelSums& to, const LevelSums& part, double shift) {
  // Moments about the start of the block: the part began `shift` (in lengths of the block) later.
  to.n += part.n;
  to.t += part.t + shift * part.n;
  to.tt += part.tt + 2 * shift * part.t + shift * shift * part.n;
  to.x += part.x;
  to.tx += part.tx + shift * part.x;
  to.squares += part.squares;
}

}  // namespace

Outcome<Raw> read_raw(const Signal& signal, double block_seconds, bool medians, const Progress& progress,
                      Workers workers) {
  Raw raw;
  raw.samples = signal.size();
  raw.medians = medians;
  if (raw.samples == 0) return InputError{"The signal has no samples.", {}};
  const double wanted = std::round(block_seconds * signal.rate());
  if (!(wanted >= 2)) return InputError{"A block of the level must hold two samples at least.", {}};
  raw.block = size_t(std::min(wanted, 4e9));
  Overview& o = raw.overview;
  o.per = kOverview;
  while (raw.samples / o.per > kEntries) o.per *= 2;
  const size_t entries = (raw.samples + o.per - 1) / o.per;
  o.least.resize(entries);
  o.largest.resize(entries);
  const size_t blocks = (raw.samples + raw.block - 1) / raw.block;
  std::vector<BlockResult> results(blocks);
  // Entries at the border of two blocks are made afterwards: nobody writes what another writes.
  const auto done = in_parallel(blocks, workers.threads, progress, [&](size_t b) -> Outcome<Done> {
    BlockResult& r = results[b];
    const size_t first = b * raw.block, end = std::min(raw.samples, first + raw.block);
    std::vector<double> x(medians ? end - first : std::min(kPiece, end - first));
    bool in_gap = false;
    for (size_t at = first; at < end;) {
      // Pieces end with entries of the overview.
      const size_t until = std::min(end, (at / kPiece + 1) * kPiece), n = until - at;
      double* v = x.data() + (medians ? at - first : 0);
      if (const auto got = signal.read(at, n, v); !got) return got;
      const LevelSums s = level_sums(v, n, raw.block, false);
      add(r.sums, s, double(at - first) / double(raw.block));
      const bool whole = s.n == double(n);
      if (!whole)
        for (size_t i = 0; i < n; ++i) {
          if (!std::isnan(v[i])) {
            in_gap = false;
            continue;
          }
          ++r.missing;
          if (in_gap)
            ++r.gaps.back().count;
          else
            r.gaps.push_back({at + i, 1});
          in_gap = true;
        }
      else
        in_gap = false;
      for (size_t e = (at + o.per - 1) / o.per; e * o.per < until; ++e) {
        const size_t from = e * o.per, to = std::min(raw.samples, from + o.per);
        if (to > until) break;
        float least = HUGE_VALF, largest = -HUGE_VALF;
        const double* p = v + (from - at);
        for (size_t i = 0; i < to - from; ++i) {
          const float f = float(p[i]);
          least = f < least ? f : least;
          largest = f > largest ? f : largest;
        }
        o.least[e] = least > largest ? NAN : least;
        o.largest[e] = least > largest ? NAN : largest;
      }
      at = until;
    }
    if (medians) r.sums.median = level_sums(x.data(), end - first, raw.block, true).median;
    return Done{};
  });
  if (!done) return done.error();
  std::vector<double> x(o.per);
  auto entry = [&](size_t e) -> Outcome<Done> {
    const size_t from = e * o.per, n = std::min(raw.samples, from + o.per) - from;
    if (const auto got = signal.read(from, n, x.data()); !got) return got;
    float least = HUGE_VALF, largest = -HUGE_VALF;
    for (size_t i = 0; i < n; ++i)
      if (!std::isnan(x[i])) least = std::min(least, float(x[i])), largest = std::max(largest, float(x[i]));
    o.least[e] = least > largest ? NAN : least;
    o.largest[e] = least > largest ? NAN : largest;
    return Done{};
  };
  for (size_t b = 1; b < blocks; ++b)
    if ((b * raw.block) % o.per != 0)
      if (const auto made = entry(b * raw.block / o.per); !made) return made.error();
  for (BlockResult& r : results) {
    raw.blocks.push_back(r.sums);
    raw.missing += r.missing;
    for (const Stretch& g : r.gaps) {
      if (!raw.gaps.empty() && raw.gaps.back().from + raw.gaps.back().count == g.from &&
          raw.gap_count == raw.gaps.size()) {
        raw.gaps.back().count += g.count;
        continue;
      }
      ++raw.gap_count;
      if (raw.gaps.size() < kListed) raw.gaps.push_back(g);
    }
  }
  if (raw.missing == raw.samples) return InputError{"The signal has no measured sample.", {}};
  return raw;
}

}  // namespace fortitor::fatigue
