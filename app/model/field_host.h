// Whose fields are edited: the piece on the bench, what holds for a series, an item of the Kit. Editors know no other
// difference.
#pragma once

#include <QString>
#include <functional>

#include "core/methods/method.h"

namespace fortitor {

class FieldHost {
 public:
  virtual ~FieldHost() = default;
  virtual const TestRecord& record() const = 0;
  virtual UnitSet units() const = 0;
  /// The day it is, as days are kept.
  virtual std::string today() const = 0;
  /// Changes the record and keeps it; `what` is the line for the logbook.
  virtual void edit(const QString& what, const std::function<void(TestRecord&)>& change) = 0;
  virtual void say(const QString& sentence) = 0;
  /// The method that the fields belong to; null for an item of the Kit.
  virtual const Method* host_method() const { return nullptr; }
  /// The usual values at hand; null: those shipped.
  virtual ReferenceShelf shelf() const { return {}; }
  /// What the series says of its pieces, marked where the piece is other; null where nothing is to be compared.
  virtual const TestRecord* series_common() const { return nullptr; }

  void set_field(const FieldSpec& field, const QString& typed);
  /// Parses what was typed for a field; error sentences go to the person, not to the record.
  Outcome<FieldValue> parse_field(const FieldSpec& field, const QString& typed) const;
};

}  // namespace fortitor
