// The pages of the guide that is shipped with the program, and the parts on them.
#pragma once

#include <QString>
#include <QStringList>
#include <optional>
#include <vector>

#include "core/language/language.h"
#include "core/methods/method.h"

namespace fortitor {

/// A heading of the guide and the page it stands on.
struct GuidePart {
  QString page;     ///< "user-guide.md", "methods/tension-metal.md"
  QString heading;  ///< its English words, by which a part is known; of a whole page, its title
  QString said;     ///< the heading in the language of the window
  int level = 1;    ///< 3: of one sentence of the Watch, which the list of parts does not show
  QString words;    ///< what stands under it, in that language, for those who search
};
/// Every page, in order: "user-guide.md", "methods/tension-metal.md".
QStringList guide_pages();
/// A page (Markdown) in a language. Line by line: a line that no catalogue has (data/guide) stays English.
QString guide_page(const QString& page, Language language);
/// What of the lines of a page has words of the language: what a catalogue is asked for.
QStringList guide_lines(const QString& page);
/// One of those in a language; nothing where no catalogue has it.
std::optional<QString> guide_line(const QString& english, Language language);
/// The file of a picture that a page shows ("screenshots/today.png"): the one made for the language
/// (scripts/guide-pictures puts them beside an installed program), or the English one that ships inside.
QString guide_picture(const QString& picture, Language language);
/// Every heading of every page, in order, in the language of the window; the numbers are the same in each.
const std::vector<GuidePart>& guide_parts();
/// Number of the part about a desk, or about a method when a piece is in hand.
size_t guide_for(const QString& desk, const Method* method);
/// Number of the part about a sentence of the Watch; nothing where it has none.
std::optional<size_t> guide_for_finding(const QString& code);
/// Number of the part with this English heading on a page; of the page where `heading` is empty.
size_t guide_part(const QString& page, const QString& heading);

}  // namespace fortitor
