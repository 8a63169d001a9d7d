// The key of whoever stands at the bench: where its file lies, and a hand made of it.
#pragma once

#include <QString>
#include <optional>

#include "store/signing.h"

namespace fortitor {

/// Folder of the keys, beside the settings of the user.
std::string keys_folder();
/// The hand of a person who signs with a key; nothing where the book asks for none. Errors: no key in the book while
/// others have; the file is not there; no passphrase was typed.
Outcome<std::optional<Hand>> hand_of(const Papers& papers, const std::string& person, const QString& passphrase);

}  // namespace fortitor
