// A whole job in a book, step by step, each said on standard output as "ok STEP" or "refused STEP: sentence". What the
// full disk test starts, with and without room.
#include <dlfcn.h>
#include <QFontDatabase>
#include <QGuiApplication>
#include <cstdio>

#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/standin/tension_bench.h"
#include "report/certificate.h"
#include "report/export.h"
#include "store/backup.h"
#include "store/bundle.h"

namespace {

using namespace fortitor;

template <class T>
bool said(const char* step, const Outcome<T>& done) {
  if (done)
    std::printf("ok %s\n", step);
  else
    std::printf("refused %s: %s\n", step, done.error().message.c_str());
  std::fflush(stdout);
  return bool(done);
}

}  // namespace

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QGuiApplication app(argc, argv);
  const std::string folder = argv[1], path = folder + "/b.fortitor";
  auto opened = Book::open(path, "R. Vale");
  if (!said("open", opened)) return 0;
  Book& b = **opened;
  const TestRecord made = standin::simulate_tension({.seed = 3});
  TestRecord empty = made;
  empty.run = {};
  const auto job = b.add_job("TC-060", "Full disk");
  if (!said("job", job)) return 0;
  const auto series = b.add_series(*job, "Bars", "tension-metal");
  if (!said("series", series)) return 0;
  const auto id = b.add_specimen(*series, "FD-1", empty);
  if (!said("specimen", id)) return 0;
  Id version = 1;
  for (int n = 0; n < 4; ++n) {
    TestRecord r = empty;
    r.fields.set("specimen.note", "reading " + std::to_string(n));
    const auto saved = b.save_record(*id, version, r, {}, "reading");
    if (said("reading", saved)) version = saved->version;
  }
  std::vector<std::string> names;
  const Samples& samples = *made.run.samples();
  for (const Channel& c : samples.channels) names.push_back(c.name);
  const auto run = b.begin_run(*id, names, "stand-in frame");
  const auto append = [&](size_t from, size_t to) {
    std::vector<std::vector<double>> part;
    for (const Channel& c : samples.channels)
      part.emplace_back(c.values.begin() + long(from), c.values.begin() + long(to));
    return b.append_run(*run, part);
  };
  size_t written = 0;
  if (said("run", run)) {
    const size_t step = samples.size() / 8;
    while (written < samples.size()) {
      const size_t to = std::min(samples.size(), written + step);
      if (!said("samples", append(written, to))) break;
      written = to;
    }
    if (written == samples.size()) said("closed", b.close_run(*run, ""));
  }
  said("imported", b.store_run(*id, samples, "file b.csv"));
  const auto kept = b.save_record(*id, version, made, {}, "run kept");
  if (said("record", kept)) version = kept->version;
  if (const auto read = b.record(*id)) {
    const Evaluation e = methods::evaluate(*read);
    said("signed", b.sign_off(*id, version, evaluation_to_json(e, read->fields, -1), "meets"));
    Certificate c;
    c.record = *read;
    c.evaluation = e;
    c.head = b.head();
    said("pdf", write_certificates({c}, folder + "/c.pdf"));
    said("html", write_certificates({c}, folder + "/c.html"));
    said("figure", export_figure(e, UnitSet::si, folder + "/f.png"));
    said("exported", export_record(*read, folder));
  }
  const auto bundled = write_bundle(b, "TC-060", folder + "/j.fortitor-bundle");
  said("bundle", bundled ? Outcome<Done>(Done{}) : Outcome<Done>(bundled.error()));
  said("backup", back_up(path, folder + "/safe", "2026-11-25"));
  // Room again: the work goes on where it was.
  if (auto* make_room = reinterpret_cast<void (*)()>(dlsym(RTLD_DEFAULT, "full_disk_make_room"))) make_room();
  if (run && written < samples.size()) {
    said("again", append(written, samples.size()));
    said("closed again", b.close_run(*run, ""));
    const auto all = b.samples(*run);
    if (!all || (*all)->size() != samples.size()) std::printf("LOST %zu\n", all ? (*all)->size() : 0);
  }
  TestRecord late = empty;
  late.fields.set("specimen.note", std::string("after the disk was full"));
  said("late", b.save_record(*id, 0, late, {}, "late reading"));
  std::printf("end\n");
}
