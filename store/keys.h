// Keys of people: Ed25519 (RFC 8032) by OpenSSL, the private one in a file of the person, encrypted with a passphrase
// (PKCS #8 with scrypt, RFC 7914, and AES-256-CBC), the public one in the book. No cryptography of our own.
#pragma once

#include <optional>
#include <string>

#include "core/outcome.h"
#include "store/papers.h"

namespace fortitor::keys {

/// Shortest passphrase that is taken, letters.
inline constexpr size_t kShortest = 8;

struct Pair {
  std::string pem;         ///< encrypted private key
  std::string public_key;  ///< 64 hexadecimal digits
};
/// Errors: a passphrase that is too short.
Outcome<Pair> make(const std::string& passphrase);
/// Signs words; 128 hexadecimal digits. Errors: the passphrase is wrong; the text is no key; it is the key of another
/// (`expected`: the public key that the book has).
Outcome<std::string> sign(const std::string& pem, const std::string& passphrase, const std::string& words,
                          const std::string& expected = {});
/// Whether the words were signed with the key.
bool verify(const std::string& public_key, const std::string& signature, const std::string& words);
/// The same key under another passphrase.
Outcome<std::string> change_passphrase(const std::string& pem, const std::string& was, const std::string& wanted);

/// Where a person's key lies: in their own settings, never in the book.
std::string path_of(const std::string& folder, const std::string& person);
Outcome<std::string> read(const std::string& path);

/// What stands in the book of a person's keys, as "public since until": one a line, the newest last.
struct Published {
  std::string public_key, since, until;  ///< until: empty while it holds
};
std::vector<Published> published(const lab::Entry& person);
/// The key that holds now; empty when the person has none.
std::string current(const lab::Entry& person);

/// Gives a person a key: makes the pair, writes the private one into `folder`, the public one into the book. A key that
/// held till now ends. Errors: the passphrase; a file of that name that cannot be written.
Outcome<Done> give(Papers& papers, lab::Entry person, const std::string& folder, const std::string& passphrase,
                   const Clock& clock);
/// The public half alone: of a pair that was made elsewhere.
Outcome<Done> publish(Papers& papers, lab::Entry person, const std::string& public_key, const Clock& clock);
/// Ends the key of a person: what was signed with it before stays signed.
Outcome<Done> take_away(Papers& papers, lab::Entry person, const Clock& clock);

/// The words that are signed for results of a piece: its hashes, the person, the role, the time.
std::string statement(const std::string& subject, const std::string& role, const std::string& person,
                      const std::string& at, const std::vector<std::string>& hashes);
/// Whether a signature holds: made with a key that the person had then, over these hashes. Errors say what does not.
Outcome<Done> check(const Papers& papers, const KeySignature& signature, const std::vector<std::string>& hashes);
/// Sentences on every signature with a key that does not hold.
std::vector<std::string> check_all(const Book& book);

}  // namespace fortitor::keys
