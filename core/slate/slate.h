// The Slate: quick calculators. Each shows its formula with the numbers put in, and calls what the methods call.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/outcome.h"
#include "core/quantity/parse.h"

namespace fortitor::slate {

/// One thing that is typed. A number of a dimension, or one of a few words.
struct Input {
  std::string key, label;
  Dimension dimension = Dimension::none;
  std::string hint = {};  ///< shown in the empty field: "30 mm"
  bool optional = false;
  std::vector<std::string> choices = {};  ///< words instead of a number; the first is usual
  std::string path = {};                  ///< field of the calculator's method that it becomes
  bool may_be_zero = false, may_be_negative = false;
  bool free_text = false;  ///< read by the calculator itself
};

/// What was typed, read: numbers in internal units, words.
struct Inputs {
  std::map<std::string, double> numbers;
  std::map<std::string, std::string> words;
  double number(const std::string& key) const;  ///< NaN when not given
  bool has(const std::string& key) const { return numbers.count(key) != 0; }
  std::string word(const std::string& key) const;
};

/// One line that comes out.
struct Line {
  std::string name;
  Step step;  ///< formula, numbers, value, source
  int figures = 4;
  std::string text = {};  ///< instead of a value
};

struct Calculator {
  std::string id, title;
  std::vector<std::string> names;  ///< by which it is typed: "hv", "vickers"
  std::vector<Input> inputs;
  std::string example;      ///< as one would type it
  std::string method = {};  ///< that a new specimen of these inputs belongs to; empty: none
  std::function<Outcome<std::vector<Line>>(const Inputs&)> work;
  std::string caution = {};  ///< where the number could hurt somebody
};

const std::vector<Calculator>& calculators();
const Calculator* find(std::string_view id);

/// What is typed for the inputs of a calculator, by key. Errors name the input.
Outcome<Inputs> read_inputs(const Calculator& calculator, const std::map<std::string, std::string>& typed,
                            UnitSet units = UnitSet::si);
Outcome<std::vector<Line>> work(const Calculator& calculator, const std::map<std::string, std::string>& typed,
                                UnitSet units = UnitSet::si);

/// A line typed in one go.
struct Typed {
  const Calculator* calculator = nullptr;
  std::map<std::string, std::string> inputs;
};
/// "hv 0.5kgf 43.2um", "snatch 2000 kg 1.2 m/s 20 mm", "2 5/8 in to mm", "45 HRC to HV": a name and what it wants, in
/// the order of the inputs where units do not tell. Nothing when it is no such line.
std::optional<Typed> read_line(std::string_view line);

/// "HV 248.1" and the like: the first line of an answer in short.
std::string in_short(const std::vector<Line>& lines, UnitSet units);
/// Value of a line as people read it.
std::string value_words(const Line& line, UnitSet units);

}  // namespace fortitor::slate
