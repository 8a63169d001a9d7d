#include "app/theme/spoken.h"

#include <QCoreApplication>
#include <QHash>
#include <QLibraryInfo>
#include <QLocale>
#include <QRegularExpression>
#include <QSet>
#include <QTranslator>

#include "core/language/sentences.h"
#include "store/own.h"

namespace fortitor {
namespace {

Tongue window_tongue;
// The same few hundred texts are shown again and again; a text is looked for in the catalogue once.
QHash<QString, QString> known_texts;
QSet<QString> said_texts;  ///< what came out: said once more it stays as it is
std::set<QString> left_over;

constexpr qsizetype kMostKnown = 20000;
constexpr size_t kMostLeft = 20000;
constexpr qsizetype kLongestText = 2000;  ///< nobody wrote a longer sentence; a page of the guide is none

// Words between the marks of a rich text, each said by itself; the marks stay.
QString words_between_marks(const QString& rich) {
  static const QRegularExpression mark("<[^<>]*>|&nbsp;");
  if (rich.size() < kLongestText)
    if (const auto whole = sentence_in(window_tongue, rich.toStdString())) return QString::fromStdString(*whole);
  QString out;
  qsizetype at = 0;
  const auto say = [&](const QString& words) {
    const QString plain = words.trimmed();
    if (plain.isEmpty()) return words;
    QString said = words;
    return said.replace(plain, spoken(plain));
  };
  auto marks = mark.globalMatch(rich);
  while (marks.hasNext()) {
    const auto m = marks.next();
    out += say(rich.mid(at, m.capturedStart() - at)) + m.captured();
    at = m.capturedEnd();
  }
  return at == 0 ? rich : out + say(rich.mid(at));
}

// Buttons and menus that the toolkit brings itself ("Cancel", "Paste", the choice of files).
void speak_toolkit(Language language) {
  static QTranslator* own_words = nullptr;
  if (own_words != nullptr) QCoreApplication::removeTranslator(own_words);
  delete std::exchange(own_words, nullptr);
  if (language == Language::english || QCoreApplication::instance() == nullptr) return;
  auto words = std::make_unique<QTranslator>(QCoreApplication::instance());
  if (!words->load("qtbase_" + QString::fromUtf8(language_code(language)),
                   QLibraryInfo::path(QLibraryInfo::TranslationsPath)))
    return;  // the package with them is recommended, not needed
  QCoreApplication::installTranslator(own_words = words.release());
}

}  // namespace

const Tongue& tongue() {
  return window_tongue;
}

QString spoken_day(const QDate& day) {
  if (tongue().english()) return QLocale(QLocale::English).toString(day, "dddd, d MMMM yyyy");
  return QLocale(QString::fromStdString(std::string(language_code(tongue().language()))))
      .toString(day, QLocale::LongFormat);
}

void speak(Language language) {
  window_tongue = Tongue(language);
  speak_toolkit(language);
  known_texts.clear();
  said_texts.clear();
  left_over.clear();
}

Language language_wanted() {
  const auto chosen = language_of(own::of(own::language).toStdString());
  if (chosen) return *chosen;
  return language_of(QLocale::system().name().left(2).toStdString()).value_or(Language::english);
}

QString spoken(const QString& english) {
  if (window_tongue.english() || english.isEmpty()) return english;
  if (const auto it = known_texts.constFind(english); it != known_texts.constEnd()) return *it;
  if (said_texts.contains(english) && !window_tongue.known(english.toStdString())) return english;
  if (english.contains('<') && english.contains('>')) return *known_texts.insert(english, words_between_marks(english));
  if (english.size() > kLongestText) return english;
  const std::string text = english.toStdString();
  const auto sentence = sentence_in(window_tongue, text);
  // The sign of a caution is no word of its sentence.
  static const QString kCaution = "△  ";
  if (!sentence && english.startsWith(kCaution))
    return *known_texts.insert(english, kCaution + spoken(english.mid(kCaution.size())));
  const std::string out = sentence ? *sentence : value_in(window_tongue, text);
  if (!sentence && out == text && has_words(text) && left_over.size() < kMostLeft) left_over.insert(english);
  if (known_texts.size() >= kMostKnown) {
    known_texts.clear();
    said_texts.clear();
  }
  const QString said = QString::fromStdString(out);
  if (said != english) said_texts.insert(said);
  return *known_texts.insert(english, said);
}

QString spoken(const std::string& english) {
  return spoken(QString::fromStdString(english));
}

QString spoken(const char* english) {
  return spoken(QString::fromUtf8(english));
}

std::set<QString> unspoken() {
  return left_over;
}

}  // namespace fortitor
