// What photographs cost a book: adding them, listing them small, opening the book, checking it.
//   photograph_bench [PHOTOGRAPHS] [MEGABYTES]
#include <QElapsedTimer>
#include <QFile>
#include <QTemporaryDir>
#include <cstdio>

#include "store/papers.h"

int main(int argc, char** argv) {
  using namespace fortitor;
  const int photographs = argc > 1 ? QByteArray(argv[1]).toInt() : 200,
            megabytes = argc > 2 ? QByteArray(argv[2]).toInt() : 4;
  const QTemporaryDir folder;
  const std::string path = folder.filePath("b.fortitor").toStdString();
  auto book = Book::open(path, "bench");
  if (!book) return 1;
  const auto job = (*book)->add_job("TC-1", "photographs");
  const auto series = (*book)->add_series(*job, "s", "tension-metal");
  TestRecord empty;
  empty.method = "tension-metal";
  std::vector<Id> pieces;
  for (int i = 0; i < 10; ++i) pieces.push_back(*(*book)->add_specimen(*series, "P-" + std::to_string(i), empty));
  QElapsedTimer clock;
  clock.start();
  for (int i = 0; i < photographs; ++i) {
    PhotographRow p;
    p.specimen = pieces[size_t(i) % pieces.size()];
    p.name = "p.jpg";
    p.small = QByteArray(6000, char(i));
    QByteArray bytes(megabytes << 20, char(i));
    if (!Papers(**book).add(p, bytes)) return 1;
  }
  std::printf("added %d of %d MB: %.0f ms each\n", photographs, megabytes, double(clock.elapsed()) / photographs);
  book->reset();
  std::printf("book of %.2f GB\n", double(QFile(QString::fromStdString(path)).size()) / 1e9);
  clock.restart();
  book = Book::open(path, "bench");
  std::printf("opened in %lld ms\n", static_cast<long long>(clock.elapsed()));
  clock.restart();
  size_t n = 0;
  for (Id piece : pieces) n += Papers(**book).photographs(piece).size();
  std::printf("%zu listed small in %lld ms\n", n, static_cast<long long>(clock.elapsed()));
  clock.restart();
  if (!Papers(**book).picture(1)) return 1;
  std::printf("one whole in %lld ms\n", static_cast<long long>(clock.elapsed()));
  clock.restart();
  const auto damage = (*book)->verify();
  std::printf("checked in %lld ms, %zu damaged\n", static_cast<long long>(clock.elapsed()), damage.size());
  return 0;
}
