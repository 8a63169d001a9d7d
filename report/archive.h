// The form in which archives keep a document: PDF/A-3b (ISO 19005-3), with the data it was made of inside the file.
#pragma once

#include <QByteArray>
#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// A file inside the file.
struct Attachment {
  std::string name, type, description;  ///< type: "application/json"
  QByteArray bytes;
};

/// What the document says of itself.
struct About {
  std::string title, author, subject, language, made_at;  ///< made_at: ISO 8601
  std::string seals;                                      ///< what it rests on, for machines to read
};

/// Gives a PDF (with its fonts inside) the profile of its colours, the marks of PDF/A and the attachments. PDF/A-2b,
/// which differs in nothing else, forbids attachments that are no PDF/A themselves (ISO 19005-2, 6.8); part 3 allows
/// them.
Outcome<QByteArray> archived(const QByteArray& pdf, const About& about, const std::vector<Attachment>& attachments);

/// Files one after the other as one, with what the first says of itself.
Outcome<QByteArray> bound(const std::vector<QByteArray>& files);

/// What is wrong with a file as PDF/A-3b, as far as its marks tell: a sentence each. Fonts that are not within, no
/// output intent, no or other metadata, encryption, scripts, attachments without their relation.
Outcome<std::vector<std::string>> faults_of_archive(const QByteArray& pdf);
/// The attachments of a file.
Outcome<std::vector<Attachment>> attachments_of(const QByteArray& pdf);

}  // namespace fortitor
