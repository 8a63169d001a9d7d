// Who may do what in a book, and signatures with a key: of results, of their release, of a document.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "store/papers.h"

namespace fortitor {

/// A person with their key at hand.
struct Hand {
  std::string person, pem, passphrase;
};

/// What a person of the book may do: "reads", "tests", "signs", "keeps". While nobody in it keeps the book everybody
/// may do everything, so that nobody is ever locked out; from then on a sentence says who may not, and why.
Outcome<Done> may(const Papers& papers, const std::string& person, const std::string& role);
/// Whether this person signs with a key. In a book in which anybody has one, who has none does not sign: the error.
Outcome<bool> signs_with_key(const Papers& papers, const std::string& person);

/// Whether the key opens and is the one that the book has of the person: asked before anything is written.
Outcome<Done> opens(const Papers& papers, const Hand& hand);
/// Signs results as Book::sign_off() does, with the key where the person has one (`hand` may be empty where not).
/// Errors: the right to sign is missing; the passphrase; what sign_off() refuses.
Outcome<Done> sign_results(Book& book, Id specimen, Id version, const std::string& evaluation_json,
                           const std::string& verdict, const std::optional<Hand>& hand);
/// The second signature: released by another than who tested. Errors: not signed, released already, the same person.
Outcome<Done> release_results(Book& book, Id specimen, const Hand& hand);
/// Withdraws a document for a reason, by somebody who may sign.
Outcome<Done> withdraw_document(Book& book, const std::string& number, const std::string& reason);
/// Signs a document that was issued.
Outcome<Done> sign_document(Book& book, const DocumentRow& document, const Hand& hand);

/// "Tested by R. Vale, 26 Nov 2026", "released by …": the signatures on the newest results of a piece, in words.
struct SignedBy {
  std::string role, person, at;
  bool with_key = false;
};
std::vector<SignedBy> signed_by(const Book& book, Id specimen);

}  // namespace fortitor
