// The hashes that stand in a certificate, and the way back from the file to the book.
#include <QRegularExpression>

#include "core/record/csv.h"
#include "report/certificate.h"

namespace fortitor {

std::string seals_of(const std::vector<Certificate>& certificates) {
  if (certificates.empty() || certificates.front().head.hash.empty()) return {};
  const ChainHead& head = certificates.front().head;
  std::string out = "chain " + std::to_string(head.lines) + " " + head.hash + ";";
  for (const Certificate& c : certificates)
    if (c.signature && !c.signature->record_sha256.empty())
      out += " signed " + std::to_string(c.signature->record_version) + " " + c.signature->record_sha256 + " " +
             c.signature->run_sha256 + " " + c.signature->evaluation_sha256 + ";";
  return out;
}

Outcome<Done> check_certificate(const Book& book, const std::string& path) {
  const auto text = read_file(path);
  if (!text) return text.error();
  const QString found = QString::fromLatin1(text->data(), qsizetype(text->size()));
  const auto chain = QRegularExpression("chain (\\d+) ([0-9a-f]{64});").match(found);
  if (!chain.hasMatch()) return InputError{path + ": holds no head of a logbook; it is no certificate of a book.", {}};
  const auto holds =
      book.check_head({chain.captured(1).toLongLong(), chain.captured(2).toStdString()});
  if (!holds) return InputError{path + ": " + holds.error().message + ".", {}};
  auto all = QRegularExpression("signed (\\d+) ([0-9a-f]{64}) ([0-9a-f]{64}) ([0-9a-f]{64});").globalMatch(found);
  while (all.hasNext()) {
    const auto one = all.next();
    const SignOff wanted{{},
                         {},
                         {},
                         one.captured(1).toLongLong(),
                         one.captured(2).toStdString(),
                         one.captured(3).toStdString(),
                         one.captured(4).toStdString()};
    if (!book.has_signature(wanted))
      return InputError{path + ": a signature on version " + std::to_string(wanted.record_version) +
                            " that is printed there is not in this book.",
                        {}};
  }
  return Done{};
}

}  // namespace fortitor
