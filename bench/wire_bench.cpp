// What wires must hold (docs/wires.md, "Measured"): an hour of 2 kHz with eight channels into a book, wires that are
// pulled, random lines, and how soon a reading is in its field. The device is a process of its own on a TCP port.
//   wire_bench --stream SECONDS     no sample lost, less than a tenth of a core, memory level
//   wire_bench --pulls N            a run over a wire that is pulled so often
//   wire_bench --lines N            random and damaged lines: no crash, no wrong number
//   wire_bench --field N            readings pushed by their instrument into the field in hand
#include <arpa/inet.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>
#include <QApplication>
#include <QFile>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <random>
#include <thread>

#include "app/frame/main_window.h"
#include "app/theme/theme.h"
#include "app/wires/wire_board.h"
#include "core/line/parts.h"
#include "core/quantity/plain.h"

namespace fortitor {
namespace {

constexpr double kRate = 2000;
constexpr int kChannels = 8;

double seconds() {
  return double(steady_ms()) / 1000;
}

// What the device says in line n of channel c, in the unit it says: known here as there.
double said(long n, int c) {
  const double t = double(n) / kRate;
  return c == 0 ? std::min(50.0, t < 1 ? 0.001 * double(n % 3) : 0.05 * (t - 1) + 0.001 * double(n % 3))
                : std::round(std::sin(t * (1 + c)) * 1e4) / 1e4;
}

int listening(int& port) {
  const int door = ::socket(AF_INET, SOCK_STREAM, 0);
  const int yes = 1;
  ::setsockopt(door, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
  sockaddr_in at = {};
  at.sin_family = AF_INET;
  at.sin_port = htons(uint16_t(port));
  at.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
  ::bind(door, reinterpret_cast<sockaddr*>(&at), sizeof at);
  ::listen(door, 4);
  socklen_t size = sizeof at;
  ::getsockname(door, reinterpret_cast<sockaddr*>(&at), &size);
  port = ntohs(at.sin_port);
  return door;
}

// A process that speaks on a port until it has said everything; the plug is pulled every `plugged` s (0: never), for a
// tenth of a second. The lines of that time are never sent.
pid_t device(int& port, double length, double plugged) {
  const int door = listening(port);
  const pid_t child = ::fork();
  if (child != 0) return ::close(door), child;
  ::signal(SIGPIPE, SIG_IGN);
  int to = ::accept(door, nullptr, nullptr);
  const auto begun = std::chrono::steady_clock::now();
  double next_pull = plugged;
  std::string out;
  for (long n = 0; double(n) / kRate < length; ++n) {
    const double t = double(n) / kRate;
    std::this_thread::sleep_until(begun + std::chrono::duration<double>(std::floor(t * 100) / 100));
    if (plugged > 0 && t >= next_pull && t + 1 < length) {
      ::close(to);
      n += long(0.1 * kRate);
      to = ::accept(door, nullptr, nullptr);  // the other end is back before it speaks again
      n = std::max(n, long(std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count() * kRate));
      next_pull = double(n) / kRate + plugged;
      continue;
    }
    out = plain::fixed(t, 4) + ";" + std::to_string(n);
    for (int c = 0; c < kChannels; ++c) out += ";" + plain::fixed(said(n, c), 4);
    out += "\n";
    if (::send(to, out.data(), out.size(), MSG_NOSIGNAL) < 0) ::_exit(1);
  }
  ::usleep(500000);
  ::_exit(0);
}

line::Format format() {
  line::Format f;
  f.separator = ';';
  f.cells = 2 + kChannels;
  const auto add = [&](const std::string& channel, const char* unit) {
    line::Field field;
    field.channel = channel;
    field.column = f.fields.size();
    field.unit = unit;
    f.fields.push_back(field);
  };
  add("time", "s");
  add("n", "");
  for (int c = 0; c < kChannels; ++c) add(c == 0 ? "force" : "x" + std::to_string(c), c == 0 ? "kN" : "mm");
  f.time = "time";
  f.counter = "n";
  return f;
}

Schema schema() {
  Schema s;
  s.id = "bench";
  ChannelSpec spec;
  spec.name = "time";
  spec.dimension = Dimension::time;
  s.channels.push_back(spec);
  for (int c = 0; c < kChannels; ++c) {
    spec.name = c == 0 ? "force" : "x" + std::to_string(c);
    spec.dimension = c == 0 ? Dimension::force : Dimension::length;
    s.channels.push_back(spec);
  }
  return s;
}

double processor() {
  rusage u = {};
  ::getrusage(RUSAGE_SELF, &u);
  return double(u.ru_utime.tv_sec + u.ru_stime.tv_sec) + double(u.ru_utime.tv_usec + u.ru_stime.tv_usec) * 1e-6;
}

double memory_mb() {
  QFile file("/proc/self/statm");
  if (!file.open(QIODevice::ReadOnly)) return 0;
  return file.readLine().split(' ').value(1).toDouble() * double(::sysconf(_SC_PAGESIZE)) / 1e6;
}

// The Kit's wire, the box of a run, the machine that is heard, the book: as at the bench, but for the figure.
int stream(double length, double plugged) {
  int port = 0;
  const pid_t child = device(port, length, plugged);
  QTemporaryDir folder;
  Workbench bench;
  if (!bench.open(folder.filePath("b.fortitor"), "bench")) return 2;
  Book& book = *bench.book();
  kit::Item item;
  item.kind = "frame";
  item.fields.set(item.path("id"), std::string("FR-1"));
  item.fields.set("settings.wire", "tcp:127.0.0.1:" + std::to_string(port));
  item.fields.set("settings.line", line::format_to_json(format()));
  const auto id = book.save_item(item, "entered");
  TestRecord r;
  r.method = "tension-metal";
  const Id piece = *book.add_specimen(*book.add_series(*book.add_job("J", "j"), "s", r.method), "P", r);
  WireBoard board(&bench);
  board.reload();
  std::map<std::string, std::string> channels;
  for (int c = 0; c < kChannels; ++c) {
    const std::string name = c == 0 ? "force" : "x" + std::to_string(c);
    channels[name] = name;
  }
  auto machine = heard_machine({{"FR-1", format(), channels, board.box(*id)}}, schema());
  std::vector<std::string> names;
  for (const MachineChannel& c : machine->channels()) names.push_back(c.name);
  const auto run = book.begin_run(piece, names, "wire");
  if (!run) return std::fprintf(stderr, "%s\n", run.error().message.c_str()), 2;
  MachineColumns waiting(names.size());
  const double begun = seconds(), cpu = processor();
  double level = 0, most = 0, flushed = begun;
  size_t kept = 0, gaps = 0, lost = 0, wrong = 0, seen_events = 0;
  bool armed = false;
  double expected = -1;
  while (seconds() - begun < length + 3) {
    QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    std::this_thread::sleep_for(std::chrono::milliseconds(20));
    if (!armed && !machine->status().now.empty()) armed = bool(machine->command(MachineCommand::start));
    const MachineColumns came = machine->advance(0.04);
    for (size_t c = 0; c < came.size() && !came.empty(); ++c)
      waiting[c].insert(waiting[c].end(), came[c].begin(), came[c].end());
    const auto& happened = machine->status().happened;
    for (; seen_events < happened.size(); ++seen_events)
      if (happened[seen_events].kind == "gap") {
        ++gaps;
        lost += size_t(std::atol(happened[seen_events].note.c_str()));
      }
    if (seconds() - flushed < 0.25) continue;
    flushed = seconds();
    if (!waiting[0].empty()) {
      // Every sample is the one that the device said: by the force of its line.
      for (size_t i = 0; i < waiting[0].size(); ++i) {
        if (expected >= 0 && !(waiting[0][i] > expected)) ++wrong;
        expected = waiting[0][i];
      }
      kept += waiting[0].size();
      if (const auto done = book.append_run(*run, waiting); !done) return 2;
      for (auto& column : waiting) column.clear();
    }
    const double mb = memory_mb();
    if (level == 0 && seconds() - begun > std::min(60.0, length / 4)) level = mb;
    most = std::max(most, mb);
  }
  ::waitpid(child, nullptr, 0);
  const double took = seconds() - begun, used = processor() - cpu;
  std::printf("%-40s %10.0f s\n", "streamed", length);
  std::printf("%-40s %10zu\n", "samples in the book", kept);
  std::printf("%-40s %10.0f\n", "lines that the device counted", length * kRate);
  std::printf("%-40s %10zu (%zu lines)\n", "gaps marked", gaps, lost);
  std::printf("%-40s %10.0f\n", "neither kept nor in a gap", length * kRate - double(kept) - double(lost));
  std::printf("%-40s %10zu\n", "out of order", wrong);
  std::printf("%-40s %10.1f %%\n", "of a core", 100 * used / took);
  std::printf("%-40s %10.0f MB, at most %.0f\n", "memory once it ran", level, most);
  const auto closed = book.close_run(*run, "");
  std::printf("%-40s %10zu\n", "damages found", book.verify().size());
  return closed ? 0 : 2;
}

// Lines of five devices, whole, cut, with letters changed, and garbage: whatever is read as good is what an independent
// look at the line finds.
int lines(long count) {
  std::mt19937_64 random(20261130);
  const std::vector<std::string> samples = {"12.034 mm", "ST,+  12.034 g", "1.25;2.5;-3.75;0.001",
                                            "F=12.03 kN; x=1.2 mm",
                                            "{\"F\": 12.5, \"unit\": \"kN\", \"status\": \"stable\"}"};
  std::vector<line::Format> formats;
  for (const std::string& s : samples) {
    std::vector<std::string> few;
    for (int i = 1; i < 8; ++i) {
      std::string l = s;
      for (char& c : l)
        if (c == '2') c = char('1' + i);
      few.push_back(l);
    }
    const auto f = line::propose(few);
    if (!f) return std::fprintf(stderr, "%s: %s\n", s.c_str(), f.error().message.c_str()), 2;
    formats.push_back(*f);
  }
  long good = 0, bad = 0, wrong = 0;
  const std::string letters = "0123456789.,;:+- \tEe{}\"=*mmkNgST";
  const double begun = seconds();
  for (long i = 0; i < count; ++i) {
    const size_t k = random() % samples.size();
    std::string l = samples[k];
    for (char& c : l)
      if (plain::is_digit(c)) c = char('0' + random() % 10);
    const size_t harm = random() % 4;
    if (harm == 1) l.resize(random() % (l.size() + 1));
    if (harm == 2)
      for (size_t n = 1 + random() % 3; n > 0; --n) l[random() % l.size()] = letters[random() % letters.size()];
    if (harm == 3 && random() % 8 == 0)
      for (char& c : l) c = char(random() % 256);
    const line::Reading r = line::read(formats[k], l);
    if (!r.good()) {
      ++bad;
      continue;
    }
    ++good;
    // The digits of every value stand in the line, one after the other, and come to it.
    size_t from = 0;
    std::replace(l.begin(), l.end(), 'E', 'e');
    for (const line::Value& v : r.values) {
      std::string digits = v.typed.substr(0, v.typed.find(' '));
      if (digits[0] == '-') digits.erase(0, 1);
      std::string there = digits;
      for (char& c : there)
        if (c == '.') c = formats[k].decimal;
      const size_t at = l.find(there, from);
      const double value = std::strtod(digits.c_str(), nullptr);
      const bool other = (at == std::string::npos && digits.find('e') == std::string::npos) ||
                         std::abs(std::abs(v.value) - value) > 1e-12 * std::max(1.0, value);
      if (other) std::printf("wrong: “%s” is read as %s\n", l.c_str(), v.typed.c_str());
      wrong += other;
      if (at != std::string::npos) from = at + there.size();
    }
  }
  std::printf("%-40s %10ld\n", "lines", count);
  std::printf("%-40s %10ld, %ld\n", "read; no reading", good, bad);
  std::printf("%-40s %10ld\n", "wrong", wrong);
  std::printf("%-40s %10.0f\n", "lines a second", double(count) / (seconds() - begun));
  return wrong == 0 ? 0 : 1;
}

// From the line's end to the reading in its field, with the whole window there.
int field(int count) {
  int port = 0;
  const int door = listening(port);
  QTemporaryDir folder;
  Workbench bench;
  if (!bench.open(folder.filePath("b.fortitor"), "bench")) return 2;
  Book& book = *bench.book();
  kit::Item item;
  item.kind = "caliper";
  item.fields.set(item.path("id"), std::string("CAL-1"));
  item.fields.set("settings.wire", "tcp:127.0.0.1:" + std::to_string(port));
  item.fields.set("settings.takes", std::string("button"));
  if (!book.save_item(item, "entered")) return 2;
  TestRecord r;
  r.method = "tension-metal";
  const auto series = book.add_series(*book.add_job("J", "j"), "s", r.method);
  MainWindow window(&bench);
  bench.touch_docket();
  window.show();
  const int to = ::accept(door, nullptr, nullptr);
  const auto say = [&](const std::string& text) { return ::send(to, text.data(), text.size(), MSG_NOSIGNAL) > 0; };
  for (int i = 0; i < 22; ++i) say("10.0" + std::to_string(i % 10) + " mm\n");
  QTest::qWait(500);
  std::vector<double> took;
  for (int i = 0; i < count; ++i) {
    const Id piece = *book.add_specimen(*series, "P-" + std::to_string(i), r);
    window.show_specimen(piece, int(Stage::measure));
    QTest::qWait(150);
    QLineEdit* edit = nullptr;
    for (auto* e : window.findChildren<QLineEdit*>())
      if (e->isVisible() && e->property("key") == "specimen.section.diameter#0") edit = e;
    if (edit == nullptr) return std::fprintf(stderr, "no field\n"), 2;
    QApplication::setActiveWindow(&window);
    edit->setFocus();
    QTest::qWait(20);
    const auto from = std::chrono::steady_clock::now();
    if (!say("9.9" + std::to_string(i % 10) + " mm\n")) return 2;
    const auto kept = [&] { return !bench.record().fields.readings("specimen.section.diameter").empty(); };
    while (!kept() && std::chrono::steady_clock::now() - from < std::chrono::seconds(5))
      QCoreApplication::processEvents(QEventLoop::AllEvents, 1);
    took.push_back(std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count() * 1000);
  }
  std::sort(took.begin(), took.end());
  std::printf("%-40s %10d\n", "readings by the instrument's button", count);
  std::printf("%-40s %10.1f ms\n", "in the field after, the middle one", took[took.size() / 2]);
  std::printf("%-40s %10.1f ms\n", "the slowest", took.back());
  return 0;
}

int run(const std::string& what, double n) {
  if (what == "--stream") return stream(n, 0);
  if (what == "--pulls") return stream(n * 1.5, 1.0);
  if (what == "--lines") return lines(long(n));
  if (what == "--field") return field(int(n));
  return std::fprintf(stderr, "wire_bench --stream SECONDS | --pulls N | --lines N | --field N\n"), 2;
}

}  // namespace
}  // namespace fortitor

int main(int argc, char** argv) {
  const auto n = argc == 3 ? fortitor::plain::number(argv[2]) : std::nullopt;
  if (!n) return std::fprintf(stderr, "wire_bench --stream SECONDS | --pulls N | --lines N | --field N\n"), 2;
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  fortitor::theme::install(app, 1.0);
  return fortitor::run(argv[1], *n);
}
