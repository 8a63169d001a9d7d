#include "core/bench/propose.h"

#include "core/record/mapping.h"
#include "core/record/says.h"

namespace fortitor {
namespace {

// Kind of test that a method's own name says; empty where titles of machines' files do not tell it.
bool is_of_kind(const Method& m, const std::string& kind) {
  const std::string& id = m.id;
  if (kind == "tension") return id.rfind("tension-", 0) == 0;
  if (kind == "compression") return id.rfind("compression-", 0) == 0;
  if (kind == "bending") return id.rfind("flexure-", 0) == 0;
  return kind == "torsion" && id.rfind("torsion-", 0) == 0;
}

}  // namespace

Proposal propose_method(const MachineFile& file) {
  Proposal out{methods::all().front(), false};
  if (file.blocks.empty()) return out;
  const std::string kind = file_says(file).kind;
  double most = 0;
  size_t as_many = 0;
  for (const Method* m : methods::all()) {
    const auto guesses = guess_channels(file.blocks.front().table.dialect, *m);
    double n = double(guesses.size());
    for (const ChannelSpec& c : m->channels)
      if (c.required && guesses.count(c.name) == 0) n -= 0.5;  // it could not be evaluated
    if (n > 0 && is_of_kind(*m, kind)) n += 0.75;
    if (n > most) {
      most = n;
      as_many = 1;
      out.method = m;
    } else if (n == most && n > 0) {
      ++as_many;
    }
  }
  out.sure = most >= 2 && as_many == 1;
  return out;
}

}  // namespace fortitor
