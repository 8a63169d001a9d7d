// Large books: what the docket asks for, and what Find or do asks for at every letter.
// Wanted: a book of 1,000 jobs and 10,000 specimens shown within 1 s (`fortitor BOOK --until-shown`; the outline is its
// largest part), an answer within 50 ms at 100,000 specimens.
//   book_bench --make BOOK JOBS   writes a book of so many jobs with ten specimens each, for --until-shown
#include <benchmark/benchmark.h>

#include <QCoreApplication>
#include <QFile>
#include <QTemporaryDir>
#include <cstdio>
#include <cstring>
#include <map>

#include "core/laboratory/entry.h"
#include "store/book.h"
#include "store/papers.h"

namespace fortitor {
namespace {

Outcome<Done> fill(Book& book, int jobs) {
  return book.together([&]() -> Outcome<Done> {
    for (int j = 0; j < jobs; ++j) {
      char code[32];
      std::snprintf(code, sizeof code, "TC-%05d", j);
      const auto job = book.add_job(code, "Tarnfell spare parts " + std::to_string(j), "2026-12-01");
      if (!job) return job.error();
      const auto series = book.add_series(*job, "Tension, round bar", "tension-metal");
      if (!series) return series.error();
      lab::Entry order = lab::entry_of(lab::kJob, code);
      order.fields.set("settings.customer", "Works of the valley " + std::to_string(j % 97));
      order.fields.set("settings.order", "PO-" + std::to_string(70000 + j));
      if (const auto kept = Papers(book).save(order); !kept) return kept.error();
      for (int s = 0; s < 10; ++s) {
        TestRecord r;
        r.method = "tension-metal";
        r.fields.set("specimen.id", "B-" + std::to_string(j) + "-" + std::to_string(s));
        if (const auto made = book.add_specimen(*series, r.specimen_id(), r); !made) return made.error();
      }
    }
    return Done{};
  });
}

// Made once for each size.
Book& book_of(int jobs) {
  static QTemporaryDir folder;
  static std::map<int, std::unique_ptr<Book>> made;
  auto& book = made[jobs];
  if (!book) {
    book = std::move(*Book::open(folder.filePath(QString::number(jobs) + ".fortitor").toStdString(), "bench"));
    if (const auto done = fill(*book, jobs); !done) std::fprintf(stderr, "%s\n", done.error().message.c_str());
  }
  return *book;
}

void outline(benchmark::State& state) {
  Book& book = book_of(int(state.range(0)));
  for (auto _ : state) benchmark::DoNotOptimize(book.outline());
}
BENCHMARK(outline)->Arg(1000)->Unit(benchmark::kMillisecond);

void search(benchmark::State& state, const char* typed) {
  Book& book = book_of(int(state.range(0)));
  for (auto _ : state) benchmark::DoNotOptimize(book.search(typed, 60));
}
BENCHMARK_CAPTURE(search, early, "b-1")->Arg(10000)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(search, last, "b-9999-9")->Arg(10000)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(search, nothing, "no such thing")->Arg(10000)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace fortitor

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  if (argc == 4 && std::strcmp(argv[1], "--make") == 0) {
    auto book = fortitor::Book::open(argv[2], "bench");
    if (!book) return std::fprintf(stderr, "%s\n", book.error().message.c_str()), 2;
    const auto done = fortitor::fill(**book, std::atoi(argv[3]));
    if (!done) return std::fprintf(stderr, "%s\n", done.error().message.c_str()), 2;
    return 0;
  }
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  benchmark::Shutdown();
  return 0;
}
