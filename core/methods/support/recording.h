// Whether what was recorded can hold a result at all: rows that say something, channels that are alive.
#pragma once

#include "core/curve/spikes.h"
#include "core/evaluation/evaluation.h"
#include "core/record/field.h"

namespace fortitor {

/// - samples-unusable (check): of a recording fewer than three rows hold a number in every channel that a method cannot
/// do
///   without (the load, and time where there is such a column), or the load is one number throughout: nothing, or
///   nothing true, is computed of it. Not of a run that is still open.
/// - channel-dead (check): a channel, or a column of stops under a control, holds five numbers or more and all are
/// equal,
///   while the load went on.
void recording_findings(Evaluation& e, const TestRecord& record, const Schema& schema);

/// The record with the readings that stand alone in its runs on the line between their neighbours: no extreme, slope or
/// energy rests on one. Not where "settings.spikes" says that they are kept. `found` gets them either way.
TestRecord without_spikes(const TestRecord& record, std::vector<Spike>& found);
/// channel-jump: what was kept out, or kept in by choice.
void spike_findings(Evaluation& e, const TestRecord& record, const Schema& schema, const std::vector<Spike>& found);
/// The choice that goes with it.
FieldSpec spike_choice();

}  // namespace fortitor
