// What the stand-ins that share the universal frame have in common: how it is set up from a record, how a
// whole run is made on it. A stand-in adds its pieces and their readings.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/standin/benches.h"
#include "core/standin/frame.h"
#include "core/standin/workpiece.h"

namespace fortitor::standin {

using Nodes = std::vector<EnvelopePiece::Node>;

/// Factor that scatters a property of a piece: log-normal with coefficient of variation `cv`, fixed by the
/// seed and the number of the property.
double scatter(uint64_t seed, int which, double cv);

/// Mean of the readings at a path, or `otherwise`.
double mean_of(const TestRecord& record, const std::string& path, double otherwise);

/// Program of a monotonic run as the settings of a record have it: a wait at settings.removal_strain, the elastic speed
/// up to `switch_strain`, then the plastic one, limits.
MachineProgram pulling_program(const TestRecord& record, double elastic, double plastic, double switch_strain,
                               double sampling);

/// How a careful operator works the panel, or a careless one.
struct Handling {
  bool zero = true;  ///< zeroes the force with one grip open
  bool clip = true;  ///< mounts an extensometer, takes it off at the planned strain
};
/// A whole run on a machine by its own panel; samples, events and the reason of the end go into the record.
void run_through(Machine& machine, const MachineProgram& program, TestRecord& record, Handling handling);

/// Everything a stand-in on the frame needs; the rest is the same for all.
struct FrameModel {
  const char *id, *name, *method;
  std::vector<Choice> pieces;
  bool platens;
  std::unique_ptr<Workpiece> (*piece)(const TestRecord&);
  double (*length)(const TestRecord&);
  std::vector<std::string> (*readings)(const TestRecord&, const std::string&, int);
  std::map<std::string, std::string> (*looks)(const TestRecord&);
  void (*draft)(TestRecord&);
  std::vector<Choice> more_faults;
};

/// The bench of a model; `self` gives it again, for whole simulated tests.
Bench bench_of(const FrameModel& model, const Bench& (*self)());

/// What practice hides in a frame: "preload" (the second grip pulls), "drift" (the zero walks), "slip" (a blade slips).
void apply_faults(FrameSettings& settings, const TestRecord& record);
/// Those, for a list of faults.
std::vector<Choice> frame_faults(bool extensometer);

/// Whether the record has a run with channels.
bool ran(const TestRecord& record);

/// Entry of a table whose id is the piece of the record, else its first.
template <class T, size_t N>
const T& find_in(const T (&list)[N], const TestRecord& r) {
  const std::string id = r.fields.text("equipment.standin.piece");
  for (const T& t : list)
    if (id == t.id) return t;
  return list[0];
}

}  // namespace fortitor::standin
