#include "core/record/mapping.h"

#include <algorithm>
#include <optional>
#include <span>
#include <string_view>

#include "core/quantity/plain.h"
#include "core/quantity/unit.h"

namespace fortitor {
namespace {

std::string lowered(std::string_view s) {
  std::string out;
  for (char c : s) out += plain::lower(c);
  return out;
}

std::vector<const ChannelSpec*> channels_of(const Schema& schema) {
  std::vector<const ChannelSpec*> out;
  for (const ChannelSpec& c : schema.channels) out.push_back(&c);
  for (const SegmentSpec& s : schema.segments)
    for (const ChannelSpec& c : s.channels) out.push_back(&c);
  return out;
}

bool fits(const ChannelSpec& channel, const std::string& unit) {
  return unit.empty() || channel.dimension == Dimension::none || find_unit(unit, channel.dimension) != nullptr;
}

bool any_in(std::span<const std::string_view> words, const std::string& name) {
  return std::ranges::any_of(words, [&](std::string_view word) { return name.find(word) != std::string::npos; });
}

// What the machine was told to do is no reading of what it did, though it has the name of the channel in it.
bool is_set_point(const std::string& name) {
  static constexpr std::string_view kTold[] = {"setpoint", "set point", "set-point", "target",  "command",
                                               "demand",   "consign",   "soll",      "riferim", "objetiv"};
  return any_in(kTold, name) && name.find("sollecit") == std::string::npos;  // which is Italian for stress
}

// How telling a name is for a channel: the length of the longest of its words found in it; 0: none. Where a unit is
// given that does not fit, nothing is: a column called "Ext" may hold millimetres or percent.
size_t telling(const ChannelSpec& channel, const std::string& name, const std::string& unit) {
  if (!fits(channel, unit) || is_set_point(name)) return 0;
  size_t best = 0;
  for (const std::string& word : channel.words) {
    if (word.front() == '=') {
      if (name == word.substr(1)) best = std::max<size_t>(best, 2);
    } else if (name.find(word) != std::string::npos) {
      best = std::max(best, 2 * word.size());
    }
  }
  return best;
}

// What stands beside a test in a unit of one of its channels: it is none of them, whatever its unit.
bool names_something_else(const std::string& name) {
  static constexpr std::string_view kBeside[] = {
      "humid", "feucht", "umidit", "humed", "moisture", "temper", "batter",   "akku", "bater", "breite", "largeur",
      "largh", "anchur", "width",  "thick", "dicke",    "spess",  "paisseur", "diam", "diám",  "durchm", "espesor"};
  return is_set_point(name) || any_in(kBeside, name) || name == "hr" || name == "ur" || name == "rh";
}

}  // namespace

std::map<std::string, ChannelSource> guess_mapping(const CsvDialect& dialect, const Schema& schema) {
  std::map<std::string, ChannelSource> mapping;
  for (auto& [channel, guess] : guess_channels(dialect, schema)) mapping[channel] = guess.source;
  return mapping;
}

std::map<std::string, ChannelGuess> guess_channels(const CsvDialect& dialect, const Schema& schema) {
  const auto channels = channels_of(schema);
  std::map<std::string, ChannelGuess> mapping;
  std::vector<bool> used(dialect.columns.size(), false);
  auto place = [&](const ChannelSpec& channel, size_t i, bool by_name) {
    const std::string& unit = dialect.units[i];
    const bool known = !unit.empty() && find_unit(unit, channel.dimension) != nullptr;
    // Machines that say no unit of their clock count seconds; somebody should look at it all the same.
    const bool clock = unit.empty() && channel.dimension == Dimension::time;
    mapping[channel.name] = {{dialect.columns[i], clock ? "s" : unit}, by_name && known};
    used[i] = true;
  };
  // The most telling pair of name and channel first, so that "strain lateral" is not taken for strain.
  for (;;) {
    size_t best = 0, column = 0;
    const ChannelSpec* channel = nullptr;
    for (size_t i = 0; i < dialect.columns.size(); ++i) {
      if (used[i]) continue;
      for (const ChannelSpec* c : channels) {
        if (mapping.count(c->name) != 0) continue;
        const size_t t = telling(*c, lowered(dialect.columns[i]), dialect.units[i]);
        if (t > best) {
          best = t;
          column = i;
          channel = c;
        }
      }
    }
    if (channel == nullptr) break;
    place(*channel, column, true);
  }
  // Then by unit alone. Strain and extension are one reading written twice: where one has its name, percent without a
  // name is something else.
  const auto told_already = [&](const ChannelSpec& c) {
    return base_dimension(c.dimension) == Dimension::strain && mapping.count("extension") != 0;
  };
  for (size_t i = 0; i < dialect.columns.size(); ++i) {
    if (used[i] || dialect.units[i].empty() || names_something_else(lowered(dialect.columns[i]))) continue;
    for (const ChannelSpec* c : channels)
      if (c->by_unit && mapping.count(c->name) == 0 && !told_already(*c) &&
          find_unit(dialect.units[i], c->dimension) != nullptr) {
        place(*c, i, false);
        break;
      }
  }
  return mapping;
}

std::string mapping_signature(const CsvDialect& dialect) {
  std::string key;
  for (size_t i = 0; i < dialect.columns.size(); ++i) key += dialect.columns[i] + "[" + dialect.units[i] + "]|";
  return key;
}

}  // namespace fortitor
