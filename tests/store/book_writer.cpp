// Writes readings and a running test into a book and says on standard output what is confirmed,
// until somebody kills it.
#include <QCoreApplication>
#include <cstdio>

#include "store/book.h"

int main(int argc, char** argv) {
  using namespace fortitor;
  QCoreApplication app(argc, argv);
  auto book = Book::open(argv[1], "writer");
  if (!book) return 2;
  const auto job = (*book)->add_job("J-1", "crash");
  const auto series = (*book)->add_series(*job, "s", "tension-metal");
  TestRecord r;
  r.method = "tension-metal";
  const auto id = (*book)->add_specimen(*series, "S-1", r);
  std::printf("ready\n");
  std::fflush(stdout);
  const auto run = (*book)->begin_run(*id, {"time", "force"}, "crash test");
  for (int i = 1;; ++i) {
    r.fields.set("specimen.note", "reading " + std::to_string(i));
    if (!(*book)->save_record(*id, 0, r, {}, "reading")) return 3;
    std::printf("record %d\n", i);
    std::fflush(stdout);
    std::vector<std::vector<double>> part(2);
    for (int k = 0; k < 50; ++k) {
      part[0].push_back(i + 0.02 * k);
      part[1].push_back(1000.0 * i + k);
    }
    if (!(*book)->append_run(*run, part)) return 4;
    std::printf("rows %d\n", i * 50);
    std::fflush(stdout);
  }
}
