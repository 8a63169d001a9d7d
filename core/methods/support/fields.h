// Short ways of writing down the fields of a method.
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

/// Fields of the schools and of the checklists of all stages, so that a method names them only once.
void add_derived(Method& method);

/// Pieces and faults of the method's stand-in as choices of equipment.standin.*; add_derived() does it too.
void add_standin(Method& method);

/// Speed, sampling and limits of a run with channels: settings.speed.elastic, settings.sampling,
/// settings.stop.*.
void add_drive(std::vector<FieldSpec>& fields, bool speed_required);

}  // namespace fortitor::fields
