#include "app/model/my_key.h"

#include <QStandardPaths>

#include "store/keys.h"

namespace fortitor {

std::string keys_folder() {
  return (QStandardPaths::writableLocation(QStandardPaths::GenericConfigLocation) + "/fortitor/keys").toStdString();
}

Outcome<std::optional<Hand>> hand_of(const Papers& papers, const std::string& person, const QString& passphrase) {
  const auto keyed = signs_with_key(papers, person);
  if (!keyed) return keyed.error();
  if (!*keyed) return std::optional<Hand>();
  if (passphrase.isEmpty()) return InputError{"Type the passphrase of your key: nothing is signed without it.", {}};
  const auto pem = keys::read(keys::path_of(keys_folder(), person));
  if (!pem) return pem.error();
  return std::optional(Hand{person, *pem, passphrase.toStdString()});
}

}  // namespace fortitor
