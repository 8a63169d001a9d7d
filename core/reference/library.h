// Usual values of named materials and wood species, with spread and source: for plausibility and for
// comparison, never for a result. Shipped as data (data/reference/materials.json); a person's own file
// goes on top of it.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"
#include "core/quantity/unit.h"
#include "core/record/record.h"

namespace fortitor {

/// A usual value: a range within which members lie, and its middle. Internal units.
struct ReferenceValue {
  double mean = 0, low = 0, high = 0;
  bool from_spread = false;  ///< given as mean and coefficient of variation, low…high = mean·(1 ± spread)
  std::string typed_first, typed_second;  ///< as the data have it: low and high, or mean and spread
};

struct ReferenceMaterial {
  std::string name, group, family, source;  ///< group: metal, polymer, laminate, wood
  std::vector<std::string> aliases;
  std::string use;                               ///< what it is used for, in a line
  std::map<std::string, ReferenceValue> values;  ///< by property
  bool own = false;                              ///< entered or changed by the user
};

/// A property a material may have: key, words, dimension.
struct ReferenceProperty {
  std::string_view key, label;
  Dimension dimension;
  int drawn = 0;  ///< first of its group to be drawn beside others: 1, 2 …; 0: not drawn
};
const std::vector<ReferenceProperty>& reference_properties();

/// The shipped materials.
const ReferenceShelf& shipped_reference();
/// The shipped ones with a person's own in place of those of the same name.
ReferenceShelf with_own_reference(std::vector<ReferenceMaterial> own);

/// By name or alias, case ignored; within a group when one is given. The result shares the shelf.
std::shared_ptr<const ReferenceMaterial> find_reference(const ReferenceShelf& shelf, const std::string& name,
                                                        const std::string& group = {});
/// What the shelf of a record says of the material or species that it names in this field.
std::shared_ptr<const ReferenceMaterial> usual_of(const TestRecord& record, const std::string& path,
                                                  const std::string& group = {});
/// All that a record names, in its order: what its evaluation may rest on, and nothing else.
ReferenceShelf used_of(const TestRecord& record);

/// Reads a document of materials. Errors name the material and the property.
Outcome<std::vector<ReferenceMaterial>> read_reference(std::string_view json);
std::string write_reference(const std::vector<ReferenceMaterial>& materials);

/// The shelf with a person's own file on top; a file that is not there is no error.
Outcome<ReferenceShelf> load_own_reference(const std::string& path);
/// Where the user's own file lies: $FORTITOR_REFERENCE, else $XDG_CONFIG_HOME or ~/.config, then
/// fortitor/materials.json. Empty when there is no home.
std::string own_reference_path();

}  // namespace fortitor
