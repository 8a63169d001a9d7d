// A spectrum as the book keeps it: what was chosen as a record (typed texts, answers), what comes out as an evaluation.
#pragma once

#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/record/field.h"
#include "core/spectrum/chain.h"

namespace fortitor::spectrum {

inline const std::string kMethod = "fatigue-spectrum";

/// Everything the record of a spectrum may hold: its settings, and a table "sources" of files with their hash.
const Schema& schema();

/// Reads and writes the record of a spectrum as the book keeps it.
/// `stored`: out of a book (read_stored_record()).
Outcome<TestRecord> record_from_json(std::string_view json, bool stored = false);
std::string record_to_json(const TestRecord& record);

/// What the record chooses; what it does not say is as usual. Errors: a setting out of its range, in a sentence.
Outcome<Settings> settings_of(const TestRecord& record);

/// Results (cycles, turning_points, range_max, range_p, omission_level, cycles_omitted, damage, damage_no_cutoff,
/// damage_omitted, range_equivalent, irregularity, peak_loss, blocks_to_failure, days_to_failure), how they came, what
/// a person must see. `answers` come from the record.
Evaluation evaluation_of(const Spectrum& spectrum, const TestRecord& record);
/// The same numbers of one week, without findings.
Evaluation evaluation_of_week(const Spectrum& spectrum, const Week& week);

/// A number as it is shown everywhere: counts whole, a bound with its mark ("≥ 63.4 µε", "≤ 1 070 000").
std::string shown(const ResultValue& result, UnitSet units);
/// "± 1.9": its U in the unit in which it is shown; empty where there is none.
std::string shown_uncertainty(const ResultValue& result, UnitSet units);

/// One JSON document as `fortitorctl evaluate` writes it, microstrain in µε, with "weeks" beside.
std::string to_json(const Spectrum& spectrum, const TestRecord& record);

/// The picture of a step: what is chosen on it is a handle on it. `week`: the one in hand.
std::vector<Figure> figures_of(const Spectrum& spectrum, ChainStep step, size_t week = 0);
/// Life (Gassner) figure: largest range against total cycles by Miner, block tests of the record's table "blocks", the
/// constant-amplitude line beside it, the spectrum's own shape on the stress axis.
Figure life_figure(const Spectrum& spectrum, const TestRecord& record);
/// Short words under the name of a step: "low-pass 2 Hz".
std::string words_of(const Spectrum& spectrum, ChainStep step);
std::string name_of(ChainStep step);

}  // namespace fortitor::spectrum
