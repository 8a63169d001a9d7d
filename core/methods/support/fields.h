// Short ways of writing down the fields of a method, and what every method has.
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor::fields {

/// A field by its path. What it is called and how it is read stands in words.json: of the method, which may call it
/// otherwise, or of core/methods/support.
FieldSpec quantity(std::string path, Dimension d, Stage stage, std::string symbol = {}, bool required = false);
FieldSpec readings(std::string path, Dimension d, Stage stage, int wanted, std::string symbol = {},
                   bool required = false);
FieldSpec choice(std::string path, Stage stage, const std::vector<std::string>& values, bool first_is_usual = false);
FieldSpec number(std::string path, Stage stage);
FieldSpec text(std::string path, Stage stage);
FieldSpec flag(std::string path, Stage stage);
FieldSpec date(std::string path, Stage stage, DaySense sense = DaySense::coming);
/// The field with its place in a series said: of the one piece, or the same for all.
/// Asked for only where the field at `path` has one of these values ("a|b").
FieldSpec under(FieldSpec field, std::string path, std::string values);
FieldSpec of_piece(FieldSpec field);
FieldSpec of_series(FieldSpec field);
/// Says where the piece comes from; asked for apart from what the bench needs.
FieldSpec of_item(FieldSpec f);
/// Column of a table: a single quantity keyed at the machine, of either sign.
FieldSpec column(std::string name, Dimension d);
/// A choice shown under the figure at Evaluate; the first value is usual.
School school(std::string setting, const std::vector<std::string>& values);

/// Fields every method shares: identity, conditions, rounding and decision rule, stand-in.
std::vector<FieldSpec> common();

/// Speed, sampling and limits of a run with channels: settings.speed.elastic, settings.sampling,
/// settings.stop.*.
void add_drive(std::vector<FieldSpec>& fields, bool speed_required);
/// settings.zero: whether the offset before motion is taken off or kept as preload.
FieldSpec zero_choice();

/// Puts in what follows from the rest of a method: fields of its equipment, schools, checklists and readings after
/// unloading, and the words of all of it (words.json). Every method ends its description with it.
void finish(Method& method);
/// The words of a field that joins a method after that.
void say_field(const Schema& schema, FieldSpec& field);
/// The words of what is described like a method and is none: fields and tables of a schema.
void say_schema(Schema& schema);

}  // namespace fortitor::fields
