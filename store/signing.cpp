#include "store/signing.h"

#include <algorithm>

#include "store/keys.h"

namespace fortitor {
namespace {

const char* role_sentence(const std::string& role) {
  return role == "signs"   ? "sign"
         : role == "tests" ? "start tests"
         : role == "keeps" ? "change what the book keeps"
                           : "read";
}

Outcome<KeySignature> made(const Book& book, const Papers& papers, const Hand& hand, const std::string& subject,
                           const std::string& role) {
  const auto hashes = papers.hashes_of(subject);
  if (!hashes) return hashes.error();
  const auto person = papers.entry(lab::kPerson, hand.person);
  if (!person) return person.error();
  const std::string key = keys::current(*person);
  if (key.empty()) return InputError{hand.person + " has no key in this book; its keeper gives one.", {}};
  KeySignature s;
  s.subject = subject;
  s.role = role;
  s.person = hand.person;
  s.public_key = key;
  s.at = book.clock().utc();
  s.words = keys::statement(subject, role, hand.person, s.at, *hashes);
  auto signature = keys::sign(hand.pem, hand.passphrase, s.words, key);
  if (!signature) return signature.error();
  s.signature = *signature;
  return s;
}

}  // namespace

Outcome<Done> may(const Papers& papers, const std::string& person, const std::string& role) {
  const auto people = papers.entries(lab::kPerson);
  if (!people) return people.error();
  const auto has = [](const lab::Entry& p, const std::string& wanted) {
    for (const std::string& one : words_of(p.text("roles")))
      if (one == wanted) return true;
    return false;
  };
  if (std::none_of(people->begin(), people->end(),
                   [&](const lab::Entry& p) { return has(p, "keeps") && !p.flag("left"); }))
    return Done{};
  const auto no = [&](const std::string& why) {
    return InputError{(person.empty() ? "Somebody without a name" : person) + " may not " + role_sentence(role) +
                          " in this book: " + why + ".",
                      {}};
  };
  for (const lab::Entry& p : *people) {
    if (p.name != person && (p.text("initials").empty() || p.text("initials") != person)) continue;
    if (p.flag("left")) return no("the book says that they have left");
    if (role == "reads" || has(p, role)) return Done{};
    return no("the keeper of the book has not given that right");
  }
  return no("it names its people, and this is none of them");
}

Outcome<bool> signs_with_key(const Papers& papers, const std::string& person) {
  const auto people = papers.entries(lab::kPerson);
  if (!people) return people.error();
  bool any = false;
  for (const lab::Entry& p : *people) {
    if (keys::current(p).empty()) continue;
    any = true;
    if (p.name == person) return true;
  }
  if (any) return InputError{person + " has no key in this book, and others have; its keeper gives one.", {}};
  return false;
}

Outcome<Done> opens(const Papers& papers, const Hand& hand) {
  const auto person = papers.entry(lab::kPerson, hand.person);
  if (!person) return person.error();
  const std::string key = keys::current(*person);
  if (key.empty()) return InputError{hand.person + " has no key in this book; its keeper gives one.", {}};
  if (const auto tried = keys::sign(hand.pem, hand.passphrase, "fortitor: does it open", key); !tried)
    return tried.error();
  return Done{};
}

Outcome<Done> sign_results(Book& book, Id specimen, Id version, const std::string& evaluation_json,
                           const std::string& verdict, const std::optional<Hand>& hand) {
  Papers papers(book);
  const std::string who = hand ? hand->person : book.operator_name();
  if (const auto allowed = may(papers, who, "signs"); !allowed) return allowed;
  const auto keyed = signs_with_key(papers, who);
  if (!keyed) return keyed.error();
  if (*keyed && !hand) return InputError{"Not signed: " + who + "'s passphrase is asked for.", {}};
  if (!*keyed) return book.sign_off(specimen, version, evaluation_json, verdict);
  return book.sign_off(specimen, version, evaluation_json, verdict, [&](Id signature) -> Outcome<Done> {
    const auto s = made(book, papers, *hand, "signature/" + std::to_string(signature), "tested");
    if (!s) return s.error();
    return papers.keep_within(*s);
  });
}

Outcome<Done> release_results(Book& book, Id specimen, const Hand& hand) {
  Papers papers(book);
  const auto row = book.specimen(specimen);
  const auto signature = book.signature(specimen);
  if (!row || !signature || signature->record_version != book.record_version(specimen))
    return InputError{"Not released: the results are not signed by who tested them.", {}};
  if (const auto allowed = may(papers, hand.person, "signs"); !allowed) return allowed;
  if (const auto sound = book.check_signature(specimen); !sound) return sound;
  for (const SignedBy& s : signed_by(book, specimen)) {
    if (s.person == hand.person)
      return InputError{
          "Not released: " + hand.person + " signed as " + s.role + ", and who releases is never the same person.", {}};
    if (s.role == "released") return InputError{row->code + " is released by " + s.person + " already.", {}};
  }
  const auto s = made(book, papers, hand, "signature/" + std::to_string(signature->id), "released");
  if (!s) return s.error();
  return papers.keep(*s);
}

Outcome<Done> withdraw_document(Book& book, const std::string& number, const std::string& reason) {
  Papers papers(book);
  if (const auto allowed = may(papers, book.operator_name(), "signs"); !allowed) return allowed;
  return papers.withdraw(number, reason);
}

Outcome<Done> sign_document(Book& book, const DocumentRow& document, const Hand& hand) {
  Papers papers(book);
  if (const auto allowed = may(papers, hand.person, "signs"); !allowed) return allowed;
  const auto s = made(book, papers, hand, "document/" + std::to_string(document.id), "issued");
  if (!s) return s.error();
  return papers.keep(*s);
}

std::vector<SignedBy> signed_by(const Book& book, Id specimen) {
  std::vector<SignedBy> out;
  const auto s = book.signature(specimen);
  if (!s) return out;
  out.push_back({"tested", s->by, s->at, false});
  for (const KeySignature& k : Papers(book).key_signatures("signature/" + std::to_string(s->id))) {
    if (k.role == "tested")
      out.front() = {"tested", k.person, k.at, true};
    else
      out.push_back({k.role, k.person, k.at, true});
  }
  return out;
}

}  // namespace fortitor
