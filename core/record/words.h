// What a method says: labels, hints, cautions, names of results. It stands in one file a method, words.json beside its
// code, and is built in; the code holds functions and keys. The files are in English: what is said in another language
// is found in its catalogue by the English words (core/language).
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/json/json.h"
#include "core/record/field.h"

namespace fortitor {

/// In a file a field is its label alone, or {"label", "hint", "usual", "choices"}.
struct FieldWords {
  std::string label, hint, usual;
  std::map<std::string, std::string> choices = {};  ///< label of each value
};

struct TableWords {
  std::string label, row, instruction;
  std::map<std::string, FieldWords> columns = {};
  std::map<std::string, std::string> marks = {};  ///< by their letter
};

struct StageWords {
  struct Check {
    std::string id, text;
    bool safety = false;
  };
  std::string lead;
  std::vector<std::string> guidance = {}, cautions = {};
  std::vector<Check> checklist = {};
};

struct Words {
  std::string name, short_name;
  std::map<std::string, FieldWords> fields = {}, schools = {}, series = {};
  std::map<std::string, TableWords> tables = {};
  std::map<std::string, std::string> channels = {}, segments = {}, equipment = {}, timers = {}, wording = {},
                                     results = {};
  std::map<std::string, StageWords> stages = {};  ///< "prepare" … "sign_off"

  /// Of a method by its id, "density"; "support" for what methods share, "laboratory" for customers, jobs and their
  /// like. Errors: std::logic_error for a method without a file and for a file that says something in a place where
  /// nothing is looked for.
  static const Words& of(const std::string& method);
  static const Words& shared() { return of("support"); }

  /// Null when nothing is said of it. "equipment.*.serial" speaks of the serial mark of every kind of equipment, and an
  /// item is called by the name of its kind.
  const FieldWords* field(const std::string& path) const;
  /// Name of a result, and of a channel; empty when it has none. "set_#": "what did not come back of cycle {n}" names
  /// set_1, set_2 …
  std::string result(const std::string& key) const;
  std::string channel(const std::string& channel_name) const;
};

/// Reads a description file. Errors: std::logic_error, as above; Json's own for what is no JSON.
Words read_words(const std::string& method, std::string_view file);

/// All that have a file, in the order of the alphabet.
std::vector<std::string> described();

/// Puts the words in: label, hint, what is usual, the labels of the choices of which something is said.
void say(FieldSpec& field, const FieldWords& words);

}  // namespace fortitor
