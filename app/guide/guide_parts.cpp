#include "app/guide/guide_parts.h"

#include <QCoreApplication>
#include <QFile>
#include <QFileInfo>
#include <QRegularExpression>
#include <QStandardPaths>
#include <functional>
#include <map>

#include "app/theme/spoken.h"

namespace fortitor {
namespace {

constexpr const char* kFindings = "findings.md";

QString english_page(const QString& page) {
  QFile file(":/guide/" + page);
  return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

const Phrases& guide_catalogue(Language language) {
  static std::map<Language, Phrases> all;
  const auto it = all.find(language);
  if (it != all.end()) return it->second;
  QFile file(":/guide/" + QString::fromUtf8(language_code(language)) + ".po");
  if (!file.open(QIODevice::ReadOnly)) return all[language];
  auto read = read_catalogue(file.readAll().toStdString());
  return all[language] = read ? std::move(read->phrases) : Phrases{};
}

// Each run of words of a line goes through `say`; marks of headings, lists, tables and pictures stay, and so does code.
QString with_words(const QString& line, const std::function<QString(const QString&)>& say) {
  static const QRegularExpression picture("^( *)!\\[(.*)\\](\\([^)]*\\))$"), prefix("^(#+ | *- | *\\d+\\. | *)(.*)$"),
      codes("^([^`:]+)(: `[^:]*`)$");
  if (const auto m = picture.match(line); m.hasMatch())
    return m.captured(1) + "![" + say(m.captured(2)) + "]" + m.captured(3);
  if (line.startsWith('|')) {
    QStringList cells = line.split('|');
    for (QString& cell : cells)
      if (const QString words = cell.trimmed(); !words.isEmpty()) cell = " " + say(words) + " ";
    return cells.join('|');
  }
  const auto m = prefix.match(line);
  const QString words = m.captured(2).trimmed();
  if (words.isEmpty() || line.startsWith("<!--")) return line;
  // A list of codes behind its name is the same in every language.
  if (const auto list = codes.match(words); list.hasMatch())
    return m.captured(1) + say(list.captured(1)) + list.captured(2);
  return m.captured(1) + say(words);
}

void each_line(const QString& text, const std::function<void(const QString& line, bool code)>& take) {
  bool code = false;
  for (const QString& line : text.split('\n')) {
    const bool fence = line.startsWith("```");
    if (fence) code = !code;
    take(line, code || fence);
  }
}

std::vector<GuidePart> read_parts(Language language) {
  std::vector<GuidePart> out;
  for (const QString& page : guide_pages()) {
    const QStringList english = english_page(page).split('\n');
    qsizetype at = 0;  // a line for a line
    each_line(guide_page(page, language), [&](const QString& line, bool code) {
      const QString& was = english[at++];
      if (code) return;
      const int level = line.startsWith('#') ? int(line.indexOf(' ')) : 0;
      const auto heading = [level](const QString& l) { return l.mid(level + 1).remove('`').trimmed(); };
      if (level == 1 || level == 2 || (level == 3 && page == kFindings))
        out.push_back({page, heading(was), heading(line), level, {}});
      else if (level == 0 && !out.empty() && out.back().page == page)
        out.back().words += line + " ";
    });
  }
  return out;
}

}  // namespace

QStringList guide_pages() {
  QStringList out = {"user-guide.md",  kFindings,          "laboratory.md",   "wires.md",
                     "shared-book.md", "book-promises.md", "record-format.md"};
  for (const Method* m : methods::all()) out << "methods/" + QString::fromStdString(m->id) + ".md";
  out << "methods/fatigue-spectrum.md";
  return out;
}

QString guide_page(const QString& page, Language language) {
  const QString english = english_page(page);
  if (language == Language::english) return english;
  QStringList out;
  each_line(english, [&](const QString& line, bool code) {
    out << (code ? line
                 : with_words(line, [&](const QString& words) { return guide_line(words, language).value_or(words); }));
  });
  return out.join('\n');
}

QString guide_picture(const QString& picture, Language language) {
  const QString made =
      "fortitor/guide/" + QString::fromUtf8(language_code(language)) + "/" + QFileInfo(picture).fileName();
  // Wherever it was installed, and beside a program that was not.
  const QString beside = QCoreApplication::applicationDirPath() + "/../share/" + made;
  if (QFile::exists(beside)) return beside;
  const QString found = QStandardPaths::locate(QStandardPaths::GenericDataLocation, made);
  return found.isEmpty() ? ":/guide/" + picture : found;
}

std::optional<QString> guide_line(const QString& english, Language language) {
  const std::string key = english.toStdString();
  const auto& catalogue = guide_catalogue(language);
  if (const auto it = catalogue.find(key); it != catalogue.end()) return QString::fromStdString(it->second);
  const auto known = Tongue(language).known(key);  // names of results, units, titles
  return known ? std::optional(QString::fromStdString(*known)) : std::nullopt;
}

QStringList guide_lines(const QString& page) {
  QStringList out;
  each_line(english_page(page), [&](const QString& line, bool code) {
    if (code) return;
    with_words(line, [&](const QString& words) {
      static const QRegularExpression codes("`[^`]*`|[^ ]*_[^ ]*");  // and symbols: F_max
      if (has_words(QString(words).remove(codes).toStdString()) && !out.contains(words)) out << words;
      return words;
    });
  });
  return out;
}

const std::vector<GuidePart>& guide_parts() {
  static std::map<Language, std::vector<GuidePart>> all;
  const Language language = tongue().language();
  const auto it = all.find(language);
  return it != all.end() ? it->second : all[language] = read_parts(language);
}

size_t guide_part(const QString& page, const QString& heading) {
  const auto& all = guide_parts();
  for (size_t i = 0; i < all.size(); ++i)
    if (all[i].page == page && (heading.isEmpty() || all[i].heading == heading)) return i;
  return 0;
}

std::optional<size_t> guide_for_finding(const QString& code) {
  const auto& all = guide_parts();
  for (size_t i = 0; i < all.size(); ++i)
    if (all[i].level == 3 && all[i].heading == code) return i;
  return std::nullopt;
}

size_t guide_for(const QString& desk, const Method* method) {
  static const std::map<QString, std::pair<const char*, const char*>> about = {
      {"today", {"user-guide.md", "First steps"}},
      {"arrivals", {"user-guide.md", "First steps"}},
      {"jobs", {"laboratory.md", ""}},
      {"job", {"laboratory.md", ""}},
      {"laboratory", {"laboratory.md", ""}},
      {"kit", {"user-guide.md", "The Kit and benches"}},
      {"plan", {"user-guide.md", "The plan"}},
      {"series", {"user-guide.md", "Series"}},
      {"common", {"user-guide.md", "What holds for a series"}},
      {"slate", {"user-guide.md", "The Slate"}},
      {"practice", {"user-guide.md", "Practice"}},
      {"logbook", {"user-guide.md", "The logbook"}},
      {"reference", {"user-guide.md", "Reference values"}},
      {"spectrum", {"methods/fatigue-spectrum.md", ""}},
      {"shared", {"shared-book.md", ""}}};
  if (desk == "specimen" && method != nullptr)
    return guide_part("methods/" + QString::fromStdString(method->id) + ".md", {});
  const auto it = about.find(desk);
  return it == about.end() ? 0 : guide_part(it->second.first, it->second.second);
}

}  // namespace fortitor
