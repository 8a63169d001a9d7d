// Short ways of writing down the fields of a method, and what every method has.
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor::fields {

FieldSpec quantity(std::string path, std::string label, Dimension d, Stage stage, std::string symbol = {},
                   std::string hint = {}, bool required = false);
FieldSpec readings(std::string path, std::string label, Dimension d, Stage stage, int wanted, std::string symbol = {},
                   std::string hint = {}, bool required = false);
FieldSpec choice(std::string path, std::string label, Stage stage, std::vector<Choice> choices,
                 bool first_is_usual = false);
FieldSpec number(std::string path, std::string label, Stage stage, std::string hint = {});
FieldSpec text(std::string path, std::string label, Stage stage, std::string hint = {});
FieldSpec flag(std::string path, std::string label, Stage stage);
FieldSpec date(std::string path, std::string label, Stage stage, DaySense sense = DaySense::coming);
/// The field with its place in a series said: of the one piece, or the same for all.
/// Says what holds without an entry.
FieldSpec usually(FieldSpec field, std::string words);
/// Asked for only where the field at `path` has one of these values ("a|b").
FieldSpec under(FieldSpec field, std::string path, std::string values);
FieldSpec of_piece(FieldSpec field);
FieldSpec of_series(FieldSpec field);
/// Says where the piece comes from; asked for apart from what the bench needs.
FieldSpec of_item(FieldSpec f);
/// Column of a table: a single quantity keyed at the machine, of either sign.
FieldSpec column(std::string name, std::string label, Dimension d);

/// Fields every method shares: identity, conditions, rounding and decision rule, stand-in.
std::vector<FieldSpec> common();

/// Speed, sampling and limits of a run with channels: settings.speed.elastic, settings.sampling,
/// settings.stop.*.
void add_drive(std::vector<FieldSpec>& fields, bool speed_required);
/// settings.zero: whether the offset before motion is taken off or kept as preload.
FieldSpec zero_choice();

/// Puts in what follows from the rest of a method: fields of its equipment, schools, checklists and readings after
/// unloading; the words it does not say itself. Every method ends its description with it.
void finish(Method& method);

}  // namespace fortitor::fields
