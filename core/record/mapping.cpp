#include "core/record/mapping.h"

#include <array>
#include <cctype>
#include <optional>
#include <string_view>

#include "core/quantity/unit.h"
#include "core/record/json.h"

namespace fortitor {
namespace {

struct Word {
  std::string_view part;  ///< lower-case part of a column name
  std::string_view channel;
};

// More telling words come first: "strain lateral" before "strain".
constexpr std::array kWords = {
    Word{"lateral", "strain_lateral"},
    Word{"transv", "strain_lateral"},
    Word{"width", "strain_lateral"},
    Word{"quer", "strain_lateral"},
    Word{"zeit", "time"},
    Word{"time", "time"},
    Word{"temps", "time"},
    Word{"tiempo", "time"},
    Word{"tempo", "time"},
    Word{"force", "force"},
    Word{"load", "force"},
    Word{"kraft", "force"},
    Word{"carga", "force"},
    Word{"fuerza", "force"},
    Word{"forza", "force"},
    Word{"exten", "extension"},
    Word{"exto", "extension"},
    Word{"dehnung", "extension"},
    Word{"allong", "extension"},
    Word{"ext", "extension"},
    Word{"strain", "strain"},
    Word{"crosshead", "crosshead"},
    Word{"travel", "crosshead"},
    Word{"stroke", "crosshead"},
    Word{"position", "crosshead"},
    Word{"displac", "crosshead"},
    Word{"traverse", "crosshead"},
    Word{"weg", "crosshead"},
    Word{"course", "crosshead"},
    Word{"pos", "crosshead"},
};

std::string lowered(std::string_view s) {
  std::string out;
  for (char c : s) out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return out;
}

std::string_view by_name(const std::string& name) {
  for (const Word& w : kWords)
    if (name.find(w.part) != std::string::npos) return w.channel;
  if (name == "t" || name == "s") return "time";
  if (name == "f" || name == "p") return "force";
  if (name == "e" || name == "dl") return "extension";
  if (name == "x" || name == "z") return "crosshead";
  return {};
}

std::string_view by_unit(const std::string& unit) {
  const Unit* u = find_unit(unit);
  if (u == nullptr) return {};
  switch (u->dimension) {
    case Dimension::time: return "time";
    case Dimension::force: return "force";
    case Dimension::strain: return "strain";
    case Dimension::length: return "crosshead";
    default: return {};
  }
}

}  // namespace

std::map<std::string, ChannelSource> guess_mapping(const CsvDialect& dialect) {
  std::map<std::string, ChannelSource> mapping;
  auto place = [&](std::string channel, size_t i) {
    const std::string& unit = dialect.units[i];
    // A column called "Dehnung" or "Ext" may hold millimetres or percent: the unit decides.
    if (channel == "extension" && !unit.empty() && find_unit(unit, Dimension::strain) != nullptr) channel = "strain";
    if (channel == "strain" && !unit.empty() && find_unit(unit, Dimension::length) != nullptr) channel = "extension";
    if (channel.empty() || mapping.count(channel) != 0) return;
    const Dimension* d = channel_dimension(channel);
    if (!unit.empty() && find_unit(unit, *d) == nullptr) return;
    mapping[channel] = {dialect.columns[i], unit};
  };
  for (size_t i = 0; i < dialect.columns.size(); ++i) place(std::string(by_name(lowered(dialect.columns[i]))), i);
  for (size_t i = 0; i < dialect.columns.size(); ++i) {
    bool used = false;
    for (const auto& [channel, source] : mapping) used = used || source.column == dialect.columns[i];
    if (!used) place(std::string(by_unit(dialect.units[i])), i);
  }
  return mapping;
}

std::string mapping_signature(const CsvDialect& dialect) {
  std::string key;
  for (size_t i = 0; i < dialect.columns.size(); ++i) key += dialect.columns[i] + "[" + dialect.units[i] + "]|";
  return key;
}

}  // namespace fortitor
