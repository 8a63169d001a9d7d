// The hashes that stand in a certificate, and which versions of which pieces it was made of.
#include "report/certificate.h"

namespace fortitor {
namespace {

// "piece 12 3 signed;": specimen, version, how it was printed. What belongs to it follows as "part …".
std::string piece_of(const Certificate& c, const char* word) {
  if (c.specimen == 0) return {};
  std::string out = std::string(" ") + word + " " + std::to_string(c.specimen) + " " + std::to_string(c.version) +
                    (c.signature ? " signed;" : " draft;");
  for (const Certificate& part : c.parts) out += piece_of(part, "part");
  return out;
}

const char* unit_word(UnitSet units) {
  return units == UnitSet::si ? "si" : units == UnitSet::us ? "us" : "kgf";
}

}  // namespace

std::string seals_of(const std::vector<Certificate>& certificates) {
  if (certificates.empty() || certificates.front().head.hash.empty()) return {};
  const ChainHead& head = certificates.front().head;
  std::string out = "chain " + std::to_string(head.lines) + " " + head.hash + ";";
  for (const Certificate& c : certificates)
    if (c.signature && !c.signature->record_sha256.empty())
      out += " signed " + std::to_string(c.signature->record_version) + " " + c.signature->record_sha256 + " " +
             c.signature->run_sha256 + " " + c.signature->evaluation_sha256 + ";";
  out += std::string(" units ") + unit_word(certificates.front().units) + ";";
  for (const Certificate& c : certificates) out += piece_of(c, "piece");
  return out;
}

}  // namespace fortitor
