// The way back from a certificate to the book: its pages are made again out of what is stored, and must read the same.
#include <poppler-document.h>
#include <poppler-global.h>
#include <poppler-page.h>

#include <QCryptographicHash>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <memory>

#include "core/record/csv.h"
#include "report/certificate.h"
#include "store/keys.h"

namespace fortitor {
namespace {

constexpr size_t kMostBytes = size_t(64) << 20;

// What a page shows, as words parted by single blanks.
QString shown_in_html(const QString& html) {
  QString text = html.mid(html.indexOf("<body>"));
  text.replace(QRegularExpression("<[^>]*>"), " ");
  return text.simplified();
}

std::optional<QString> shown_in_pdf(const std::string& path) {
  // It speaks to standard error of every oddity of a file.
  poppler::set_debug_error_function([](const std::string&, void*) {}, nullptr);
  const std::unique_ptr<poppler::document> document(poppler::document::load_from_file(path));
  if (!document || document->is_locked()) return std::nullopt;
  QString text;
  for (int i = 0; i < document->pages(); ++i) {
    const std::unique_ptr<poppler::page> page(document->create_page(i));
    if (!page) return std::nullopt;
    const poppler::byte_array words = page->text(poppler::rectf(), poppler::page::raw_order_layout).to_utf8();
    text += QString::fromUtf8(words.data(), qsizetype(words.size())) + " ";
  }
  return text.simplified();
}

// The first words that differ, with a few before them: "R_m tensile strength 627" beside "527".
std::string difference(const QString& printed, const QString& stored) {
  const QStringList a = printed.split(' '), b = stored.split(' ');
  qsizetype at = 0;
  while (at < a.size() && at < b.size() && a[at] == b[at]) ++at;
  const auto words = [&](const QStringList& list, qsizetype from, qsizetype to) {
    return list.mid(from, std::max<qsizetype>(0, std::min(to, list.size()) - from)).join(' ').toStdString();
  };
  const qsizetype before = std::max<qsizetype>(0, at - 6);
  return "“… " + words(a, before, at + 3) + " …” is printed where the book gives “… " + words(b, before, at + 3) +
         " …”";
}

// The certificates that a file says it was made of.
Outcome<std::vector<Certificate>> made_again(const Book& book, const QString& seals, const ChainHead& head) {
  const QString units = QRegularExpression(" units (si|us|kgf);").match(seals).captured(1);
  const UnitSet set = units == "us" ? UnitSet::us : units == "kgf" ? UnitSet::kgf : UnitSet::si;
  std::vector<Certificate> out;
  for (auto all = QRegularExpression(" (piece|part) (\\d+) (\\d+) (signed|draft);").globalMatch(seals);
       all.hasNext();) {
    const auto one = all.next();
    auto c = certificate_of_version(book, one.captured(2).toLongLong(), one.captured(3).toLongLong(),
                                    one.captured(4) == "signed", set);
    if (!c) return c.error();
    c->head = head;
    if (one.captured(1) == "piece")
      out.push_back(std::move(*c));
    else if (!out.empty())
      out.back().parts.push_back(std::move(*c));
  }
  if (out.empty()) return InputError{"names no piece that it is of; a head alone is no certificate.", {}};
  return out;
}

}  // namespace

Outcome<Done> check_certificate(const Book& book, const std::string& path) {
  const auto text = read_file(path, kMostBytes);
  if (!text) return text.error();
  const auto refuse = [&](const std::string& why) { return InputError{path + ": " + why, {}}; };
  // A document that was issued is in the register, byte by byte.
  const std::string digest =
      QCryptographicHash::hash(QByteArray::fromStdString(*text), QCryptographicHash::Sha256).toHex().toStdString();
  const Papers papers(book);
  for (const DocumentRow& d : papers.documents()) {
    if (d.sha256 != digest) continue;
    if (const auto sound = papers.bytes(d); !sound) return refuse(sound.error().message);
    for (const KeySignature& s : papers.key_signatures("document/" + std::to_string(d.id)))
      if (const auto holds = keys::check(papers, s, {d.sha256}); !holds) return refuse(holds.error().message);
    if (d.state != "issued")
      return refuse("document " + d.number + " is as it was issued, and is " + d.state + " now.");
    return Done{};
  }
  const QString found = QString::fromLatin1(text->data(), qsizetype(text->size()));
  if (QRegularExpression("fortitor:seals>document [^<;]{1,40};").match(found).hasMatch())
    return refuse("is no document of this book's register: it is a draft, or was changed after it was issued.");
  const auto seals = QRegularExpression("chain (\\d+) ([0-9a-f]{64});[a-z0-9 ;]*").match(found);
  if (!seals.hasMatch()) return refuse("holds no head of a logbook; it is no certificate of a book.");
  const ChainHead head{seals.captured(1).toLongLong(), seals.captured(2).toStdString()};
  if (const auto holds = book.check_head(head); !holds) return refuse(holds.error().message + ".");
  for (auto all = QRegularExpression("signed (\\d+) ([0-9a-f]{64}) ([0-9a-f]{64}) ([0-9a-f]{64});")
                      .globalMatch(seals.captured());
       all.hasNext();) {
    const auto one = all.next();
    const SignOff wanted{{},
                         {},
                         {},
                         one.captured(1).toLongLong(),
                         one.captured(2).toStdString(),
                         one.captured(3).toStdString(),
                         one.captured(4).toStdString()};
    if (!book.has_signature(wanted))
      return refuse("a signature on version " + std::to_string(wanted.record_version) +
                    " that is printed there is not in this book.");
  }
  const auto again = made_again(book, seals.captured(), head);
  if (!again) return refuse(again.error().message);
  const bool pdf = text->compare(0, 5, "%PDF-") == 0;
  if (!pdf) {
    const std::string stored = certificate_html(*again);
    if (stored == *text) return Done{};
    const QString a = shown_in_html(QString::fromStdString(*text)), b = shown_in_html(QString::fromStdString(stored));
    return refuse((a == b ? std::string("its markup is not what this program writes") : difference(a, b)) + ".");
  }
  const QTemporaryDir folder;
  const std::string own = folder.filePath("again.pdf").toStdString();
  if (const auto written = certificate_pdf(*again, own); !written) return written;
  const auto printed = shown_in_pdf(path), stored = shown_in_pdf(own);
  if (!printed || !stored) return refuse("this PDF cannot be read.");
  if (*printed != *stored) return refuse(difference(*printed, *stored) + ".");
  return Done{};
}

}  // namespace fortitor
