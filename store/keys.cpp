#include "store/keys.h"

#include <openssl/bio.h>
#include <openssl/err.h>
#include <openssl/evp.h>
#include <openssl/pem.h>
#include <openssl/pkcs12.h>
#include <openssl/x509.h>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <memory>

#include "store/sql.h"

namespace fortitor::keys {
namespace {

template <auto F>
struct Frees {
  template <class T>
  void operator()(T* p) const {
    F(p);
  }
};
using Key = std::unique_ptr<EVP_PKEY, Frees<EVP_PKEY_free>>;
using Bio = std::unique_ptr<BIO, Frees<BIO_free_all>>;
using Digest = std::unique_ptr<EVP_MD_CTX, Frees<EVP_MD_CTX_free>>;
using Wrapped = std::unique_ptr<X509_SIG, Frees<X509_SIG_free>>;
using Plain = std::unique_ptr<PKCS8_PRIV_KEY_INFO, Frees<PKCS8_PRIV_KEY_INFO_free>>;

// Cost of scrypt: 16 MB and some 50 ms, the figures of RFC 7914 for an interactive login.
constexpr uint64_t kCost = 1 << 14, kBlock = 8, kParallel = 1;

std::string hex(const unsigned char* bytes, size_t n) {
  return QByteArray(reinterpret_cast<const char*>(bytes), int(n)).toHex().toStdString();
}

InputError failed(const char* what) {
  ERR_clear_error();
  return {what, {}};
}

Outcome<std::string> wrap(EVP_PKEY* key, const std::string& passphrase) {
  const Plain plain(EVP_PKEY2PKCS8(key));
  if (!plain) return failed("The key could not be written.");
  X509_ALGOR* way = PKCS5_pbe2_set_scrypt(EVP_aes_256_cbc(), nullptr, 0, nullptr, kCost, kBlock, kParallel);
  if (way == nullptr) return failed("The key could not be encrypted.");
  const Wrapped wrapped(PKCS8_set0_pbe(passphrase.data(), int(passphrase.size()), plain.get(), way));
  if (!wrapped) {
    X509_ALGOR_free(way);
    return failed("The key could not be encrypted.");
  }
  const Bio out(BIO_new(BIO_s_mem()));
  if (!out || PEM_write_bio_PKCS8(out.get(), wrapped.get()) != 1) return failed("The key could not be written.");
  char* data = nullptr;
  const long n = BIO_get_mem_data(out.get(), &data);
  return std::string(data, size_t(n));
}

Outcome<Key> unwrap(const std::string& pem, const std::string& passphrase) {
  const Bio in(BIO_new_mem_buf(pem.data(), int(pem.size())));
  const Wrapped wrapped(in ? PEM_read_bio_PKCS8(in.get(), nullptr, nullptr, nullptr) : nullptr);
  if (!wrapped) return failed("The file holds no key of this program, or is damaged.");
  const Plain plain(PKCS8_decrypt(wrapped.get(), passphrase.data(), int(passphrase.size())));
  if (!plain) return failed("The passphrase is wrong; nothing was signed.");
  Key key(EVP_PKCS82PKEY(plain.get()));
  if (!key || EVP_PKEY_base_id(key.get()) != EVP_PKEY_ED25519) return failed("The file holds a key of another kind.");
  return key;
}

Outcome<std::string> public_of(EVP_PKEY* key) {
  unsigned char raw[32];
  size_t n = sizeof raw;
  if (EVP_PKEY_get_raw_public_key(key, raw, &n) != 1 || n != sizeof raw) return failed("The key could not be read.");
  return hex(raw, n);
}

Outcome<Done> write_private(const std::string& path, const std::string& pem) {
  QDir().mkpath(QFileInfo(qs(path)).absolutePath());
  if (QFile::exists(qs(path)))
    QFile::rename(qs(path),
                  qs(path) + ".before-" + QString::number(QFileInfo(qs(path)).lastModified().toSecsSinceEpoch()));
  QSaveFile file(qs(path));
  const bool written =
      file.open(QIODevice::WriteOnly) && file.write(pem.data(), qint64(pem.size())) == qint64(pem.size());
  if (written) file.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
  if (!written || !file.commit())
    return InputError{path + ": the key could not be written: " + str(file.errorString()) + ".", {}};
  return Done{};
}

}  // namespace

Outcome<Pair> make(const std::string& passphrase) {
  if (qs(passphrase).size() < qsizetype(kShortest))
    return InputError{"A passphrase has at least " + std::to_string(kShortest) + " letters.", {}};
  const Key key(EVP_PKEY_Q_keygen(nullptr, nullptr, "ED25519"));
  if (!key) return failed("No key could be made.");
  auto pem = wrap(key.get(), passphrase);
  if (!pem) return pem.error();
  auto open = public_of(key.get());
  if (!open) return open.error();
  return Pair{*pem, *open};
}

Outcome<std::string> sign(const std::string& pem, const std::string& passphrase, const std::string& words,
                          const std::string& expected) {
  const auto key = unwrap(pem, passphrase);
  if (!key) return key.error();
  const auto open = public_of(key->get());
  if (!open) return open.error();
  if (!expected.empty() && *open != expected)
    return InputError{"This key is not the one that the book has of this person; nothing was signed.", {}};
  const Digest digest(EVP_MD_CTX_new());
  unsigned char out[64];
  size_t n = sizeof out;
  if (!digest || EVP_DigestSignInit(digest.get(), nullptr, nullptr, nullptr, key->get()) != 1 ||
      EVP_DigestSign(digest.get(), out, &n, reinterpret_cast<const unsigned char*>(words.data()), words.size()) != 1)
    return failed("The signature could not be made.");
  return hex(out, n);
}

bool verify(const std::string& public_key, const std::string& signature, const std::string& words) {
  const QByteArray open = QByteArray::fromHex(QByteArray::fromStdString(public_key)),
                   made = QByteArray::fromHex(QByteArray::fromStdString(signature));
  if (open.size() != 32 || made.size() != 64) return false;
  const Key key(EVP_PKEY_new_raw_public_key(EVP_PKEY_ED25519, nullptr,
                                            reinterpret_cast<const unsigned char*>(open.data()), size_t(open.size())));
  const Digest digest(EVP_MD_CTX_new());
  const bool holds =
      key && digest && EVP_DigestVerifyInit(digest.get(), nullptr, nullptr, nullptr, key.get()) == 1 &&
      EVP_DigestVerify(digest.get(), reinterpret_cast<const unsigned char*>(made.data()), size_t(made.size()),
                       reinterpret_cast<const unsigned char*>(words.data()), words.size()) == 1;
  ERR_clear_error();
  return holds;
}

Outcome<std::string> change_passphrase(const std::string& pem, const std::string& was, const std::string& wanted) {
  if (qs(wanted).size() < qsizetype(kShortest))
    return InputError{"A passphrase has at least " + std::to_string(kShortest) + " letters.", {}};
  const auto key = unwrap(pem, was);
  if (!key) return key.error();
  return wrap(key->get(), wanted);
}

std::string path_of(const std::string& folder, const std::string& person) {
  QString name = qs(person).simplified().toLower();
  for (QChar& c : name)
    if (!c.isLetterOrNumber()) c = '-';
  return folder + "/" + str(name) + ".key";
}

Outcome<std::string> read(const std::string& path) {
  QFile file(qs(path));
  if (!file.open(QIODevice::ReadOnly))
    return InputError{path +
                          ": the key is not there. Put it back from where you keep a copy, or have the keeper of the "
                          "book give you another.",
                      {}};
  constexpr qint64 kLargest = 16384;
  return file.read(kLargest).toStdString();
}

std::vector<Published> published(const lab::Entry& person) {
  std::vector<Published> out;
  for (const std::string& one : words_of(person.text("keys"))) {
    const QStringList parts = qs(one).split(' ', Qt::SkipEmptyParts);
    if (parts.size() >= 2) out.push_back({str(parts[0]), str(parts[1]), parts.size() > 2 ? str(parts[2]) : ""});
  }
  return out;
}

std::string current(const lab::Entry& person) {
  for (const Published& p : published(person))
    if (p.until.empty()) return p.public_key;
  return {};
}

namespace {

void keep_published(lab::Entry& person, const std::vector<Published>& all) {
  std::vector<std::string> words;
  for (const Published& p : all) words.push_back(p.public_key + " " + p.since + (p.until.empty() ? "" : " " + p.until));
  person.fields.set("settings.keys", kept_words(words));
}

}  // namespace

Outcome<Done> give(Papers& papers, lab::Entry person, const std::string& folder, const std::string& passphrase,
                   const Clock& clock) {
  const auto pair = make(passphrase);
  if (!pair) return pair.error();
  // The file first: a key that the book knows and nobody has would sign nothing.
  if (const auto written = write_private(path_of(folder, person.name), pair->pem); !written) return written;
  return publish(papers, std::move(person), pair->public_key, clock);
}

Outcome<Done> publish(Papers& papers, lab::Entry person, const std::string& public_key, const Clock& clock) {
  std::vector<Published> all = published(person);
  for (Published& p : all)
    if (p.until.empty()) p.until = clock.utc();
  all.push_back({public_key, clock.utc(), ""});
  keep_published(person, all);
  const auto saved = papers.save(person);
  if (!saved) return saved.error();
  return Done{};
}

Outcome<Done> take_away(Papers& papers, lab::Entry person, const Clock& clock) {
  std::vector<Published> all = published(person);
  bool any = false;
  for (Published& p : all)
    if (p.until.empty()) {
      p.until = clock.utc();
      any = true;
    }
  if (!any) return InputError{person.name + " has no key.", {}};
  keep_published(person, all);
  const auto saved = papers.save(person);
  if (!saved) return saved.error();
  return Done{};
}

std::string statement(const std::string& subject, const std::string& role, const std::string& person,
                      const std::string& at, const std::vector<std::string>& hashes) {
  std::string out = "fortitor signature/1\nof " + subject + "\nrole " + role + "\nby " + person + "\nat " + at + "\n";
  for (const std::string& hash : hashes) out += "sha256 " + hash + "\n";
  return out;
}

Outcome<Done> check(const Papers& papers, const KeySignature& s, const std::vector<std::string>& hashes) {
  const std::string who = s.person + "'s signature (" + s.role + ")";
  if (s.words != statement(s.subject, s.role, s.person, s.at, hashes))
    return InputError{who + " is under other results than those stored.", {}};
  if (!verify(s.public_key, s.signature, s.words))
    return InputError{who + " does not hold: it was not made with the key it names.", {}};
  const auto person = papers.entry(lab::kPerson, s.person);
  if (!person) return person.error();
  for (const Published& p : published(*person)) {
    if (p.public_key != s.public_key) continue;
    if (s.at < p.since) return InputError{who + " is older than its key.", {}};
    if (!p.until.empty() && s.at > p.until) return InputError{who + " was made after the key was taken away.", {}};
    return Done{};
  }
  return InputError{who + " was made with a key that the book does not know as theirs.", {}};
}

std::vector<std::string> check_all(const Book& book) {
  std::vector<std::string> out;
  const Papers papers(book);
  for (const KeySignature& s : papers.key_signatures()) {
    const auto hashes = papers.hashes_of(s.subject);
    const auto holds = hashes ? check(papers, s, *hashes) : Outcome<Done>(hashes.error());
    if (!holds) out.push_back(s.subject + ": " + holds.error().message);
  }
  return out;
}

}  // namespace fortitor::keys
