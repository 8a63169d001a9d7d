// What instruments send: bytes come apart into lines, a format is proposed from them and reads them, and formats that
// are there already read anything.
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>
#include <vector>

#include "core/line/line.h"
#include "core/line/teach.h"

namespace {

using namespace fortitor;

void check(const line::Reading& r) {
  if (!r.good()) {
    if (r.state == line::State::bad && r.why.empty()) std::abort();
    return;
  }
  for (const line::Value& v : r.values)
    if (!std::isfinite(v.value)) std::abort();
}

std::vector<line::Format> usual() {
  std::vector<line::Format> all;
  for (const std::vector<std::string>& lines : std::vector<std::vector<std::string>>{
           {"12.034 mm", "12.040 mm", "12.051 mm", "12.060 mm"},
           {"ST,GS,+0012.5,kg", "US,GS,+0012.7,kg", "ST,GS,+0012.9,kg", "ST,GS,+0013.1,kg"},
           {"F=12.03 kN; x=1.20 mm", "F=12.13 kN; x=1.25 mm", "F=12.23 kN; x=1.31 mm"},
           {R"({"force": 1.25, "unit": "kN"})", R"({"force": 1.35, "unit": "kN"})", R"({"force": 1.55, "unit": "kN"})"},
           {"0,00;0,01;0,10", "0,50;0,02;0,21", "1,00;0,04;0,30", "1,50;0,05;0,42"}})
    if (const auto f = line::propose(lines))
      all.push_back(*f);
    else
      std::abort();
  return all;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  static const std::vector<line::Format> formats = usual();
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  line::Splitter splitter;
  splitter.put(text.substr(0, size / 2));  // a wire cuts where it likes
  splitter.put(text.substr(size / 2));
  std::vector<std::string> lines;
  while (auto one = splitter.next())
    if (lines.size() < 40) lines.push_back(std::move(*one));
  for (const line::Format& f : formats)
    for (const std::string& one : lines) check(line::read(f, one));
  if (const auto proposed = line::propose(lines)) {
    for (const std::string& one : lines) check(line::read(*proposed, one));
    // A format is kept as text, and means the same there.
    const auto again = line::format_from_json(line::format_to_json(*proposed));
    if (!again || !(*again == *proposed)) std::abort();
    if (!lines.empty())
      for (size_t i = 0, n = line::pieces_of(*proposed, lines.front()).size(); i < n; ++i)
        (void)line::teach(*proposed, lines.front(), i, {line::Use::value, "fuzz", ""});
  }
  return 0;
}
