// Every stand-in of the program: which pieces it has, how it is read, how a whole test is made on it.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/record/field.h"
#include "core/record/record.h"
#include "core/standin/long_machine.h"
#include "core/standin/machine.h"
#include "core/standin/step_machine.h"

namespace fortitor::standin {

struct SimulateOptions {
  std::string method = {};  ///< of a bench that serves several; empty: its usual one
  std::string piece;        ///< id; empty: the first of the bench
  uint64_t seed = 1;
  std::optional<double> temperature = {};                                          ///< °C of a set of blows
  double sampling = 50;                                                            ///< Hz
  std::set<std::string> faults;                                                    ///< ids of faults switched on
  std::optional<double> stop_force = {}, frame_capacity = {}, cell_capacity = {};  ///< N
};

/// A stand-in as the rest of the program sees it. Functions that it does not have are empty.
struct Bench {
  std::string id, name;        ///< "bending-bench", "Stand-in bending bench"
  std::vector<Choice> pieces;  ///< specimens it can hold
  std::vector<Choice> faults;  ///< for practice
  /// What its caliper and dials show at a field, typed as displayed; empty when there is nothing to read.
  std::function<std::vector<std::string>(const TestRecord&, const std::string& path, int wanted)> readings;
  /// What looking at the piece answers: path of a choice or text field → value.
  std::function<std::map<std::string, std::string>(const TestRecord&)> looks;
  std::function<std::unique_ptr<Machine>(const TestRecord&)> machine;
  std::function<MachineProgram(const TestRecord&)> program;
  std::function<std::unique_ptr<StepMachine>(const TestRecord&)> step_machine;
  /// A machine that carries one row of the keyed table for hours or days.
  std::function<std::unique_ptr<LongMachine>(const TestRecord&, const LongOrder&)> long_machine;
  /// Fills in what is known of a piece before it is measured: material, family, nominal fields.
  std::function<void(TestRecord&)> draft;
  std::function<TestRecord(const SimulateOptions&)> simulate;
};

/// The choices the stand-in gives a person: piece and practice fault.
std::vector<FieldSpec> fields(const Bench& bench);

/// Null when there is none of that name.
const Bench* find_bench(const std::string& id);

/// Piece and seed of a record: equipment.standin.*, else the first piece and seed 1.
std::string piece_of(const TestRecord& record, const Bench& bench);
uint64_t seed_of(const TestRecord& record);
bool has_fault(const TestRecord& record, const std::string& fault);

/// Puts typed text into a field of a record as a person would; a text the field refuses is a programming
/// error (std::logic_error).
void type_into(TestRecord& record, const std::string& path, const std::string& typed);
/// The same for a list of readings.
void type_list(TestRecord& record, const std::string& path, const std::vector<std::string>& typed);

/// Readings of one cell as StepMachine::read() shows several: "118;292.5".
std::vector<std::string> parts_of(const std::string& shown);

/// A record of `method` with id, piece and seed, drafted and measured by the bench's own caliper.
TestRecord measured_piece(const Bench& bench, const std::string& method, const SimulateOptions& options);
/// Carries a stepwise test through on its bench: stops by the method's step until the last stop or the
/// break, the readings after unloading, what is read and seen afterwards.
void run_stepwise(const Bench& bench, TestRecord& record);

const Bench& universal_frame();
const Bench& bending_bench();
const Bench& strain_bench();
const Bench& torsion_bench();
const Bench& polymer_frame();
const Bench& laminate_frame();
const Bench& sandwich_frame();
const Bench& press();
const Bench& shell_press();
const Bench& scale_bench();
const Bench& microhardness_bench();
const Bench& hardness_bench();
const Bench& brinell_bench();
const Bench& pendulum_bench();
const Bench& drop_tower();
const Bench& plate_press();
const Bench& proof_bench();
const Bench& fatigue_rig();

}  // namespace fortitor::standin
