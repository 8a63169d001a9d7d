// Which method a machine's file belongs to.
#pragma once

#include "core/methods/method.h"
#include "core/record/machine_file.h"

namespace fortitor {

struct Proposal {
  const Method* method = nullptr;
  bool sure = false;  ///< its title names the kind of test, or no other method places as many of its columns
};

/// The method that places most of the columns and is what the title of the file says; the first of them where several
/// are. A file with no column of any method is proposed as the first, unsure.
Proposal propose_method(const MachineFile& file);

}  // namespace fortitor
