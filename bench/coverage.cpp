// How often value ± U holds the truth: repeated on simulated pieces whose inputs carry exactly the stated errors.
//   coverage [PIECES] [part of a study's name | basis]
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <string>

#include "tests/coverage/lab.h"

int main(int argc, char** argv) {
  using namespace fortitor::coverage;
  const int pieces = argc > 1 ? std::atoi(argv[1]) : 400;
  const std::string wanted = argc > 2 ? argv[2] : "";
  if (wanted.empty() || wanted == "basis")
    for (const BasisHeld& h : basis_held(10 * pieces))
      std::printf("%-14s n = %2zu  A %5.1f%%  B %5.1f%%\n", h.population, h.n, 100 * h.a, 100 * h.b);
  for (const Study& study : studies()) {
    if (std::string(study.name).find(wanted) == std::string::npos) continue;
    const Outcomes out = run(study, pieces);
    std::printf("\n%s, %d pieces\n%-20s %8s %10s %8s %8s\n", study.name, pieces, "key", "held", "error/U", "absent",
                "no U");
    for (const auto& [key, h] : out.keys)
      std::printf("%-20s %7.1f%% %10.2f %8d %8d%s\n", key.c_str(), 100 * h.share(),
                  h.of > 0 ? std::sqrt(h.error2 / h.of) : 0.0, h.absent, h.bare,
                  h.share() < 0.93   ? "  LOW"
                  : h.share() > 0.99 ? "  wide"
                                     : "");
    for (const auto& [key, n] : out.unknown) std::printf("  no truth: %s (%d)\n", key.c_str(), n);
    for (const auto& [code, n] : out.findings) std::printf("  check: %s %d\n", code.c_str(), n);
  }
}
