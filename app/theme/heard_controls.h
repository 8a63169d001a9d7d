// Controls of the toolkit as assistive technology should find them.
#pragma once

#include <QAccessible>

namespace fortitor {

/// A choice with its label as name and what is chosen as description (the toolkit gives the choice as its name and no
/// way to change it); a line whose text, set from outside, counts as typed and is confirmed by its press, which is
/// Enter; a box to tick whose toggle is a click. Null for other objects.
QAccessibleInterface* heard_control(QObject* object);

}  // namespace fortitor
