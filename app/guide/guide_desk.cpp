#include "app/guide/guide_desk.h"

#include <QFile>
#include <QImage>
#include <QListWidget>
#include <QPainter>
#include <QScrollBar>
#include <QTextBlock>
#include <QTextBrowser>
#include <algorithm>
#include <map>

#include "app/figures/colours.h"
#include "app/figures/said_figure.h"
#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/figure/layout.h"
#include "core/methods/method.h"
#include "core/practice/cases.h"

namespace fortitor {

using parts::qs;

namespace {

// Set like a page of a book: room between lines, paragraphs and parts.
void loosen(QTextDocument& document) {
  constexpr double kLine = 132, kParagraph = 8, kPart = 20;  // %, px, px
  for (QTextBlock b = document.begin(); b.isValid(); b = b.next()) {
    QTextBlockFormat format = b.blockFormat();
    // A picture is as high as it is.
    const bool picture = !b.begin().atEnd() && b.begin().fragment().charFormat().isImageFormat();
    format.setLineHeight(picture ? 100 : kLine, QTextBlockFormat::ProportionalHeight);
    format.setBottomMargin(kParagraph);
    if (format.headingLevel() > 1) format.setTopMargin(kPart);
    QTextCursor(b).setBlockFormat(format);
  }
}

}  // namespace

// A picture is as wide as the text, however large it was taken.
class GuideDesk::Pages : public QTextBrowser {
 public:
  QVariant loadResource(int type, const QUrl& url) override {
    if (type == QTextDocument::MarkdownResource)
      return guide_page(url.path().remove("/guide/"), tongue().language()).toUtf8();
    if (type != QTextDocument::ImageResource) return QTextBrowser::loadResource(type, url);
    const QImage picture(guide_picture(url.path().remove("/guide/"), tongue().language()));
    if (picture.isNull()) return QTextBrowser::loadResource(type, url);
    // Beside the margins, and the bar that comes when the page is longer than the window.
    const int room = width() - 2 * int(document()->documentMargin()) - verticalScrollBar()->sizeHint().width() - 8;
    return picture.scaledToWidth(std::clamp(room, 300, picture.width()), Qt::SmoothTransformation);
  }
};

GuideDesk::GuideDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  auto* row = DeskFrame(this).row();
  parts_ = new QListWidget;
  parts_->setAccessibleName(spoken("Parts of the guide"));
  parts_->setFixedWidth(int(270 * theme::scale()));
  parts_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  parts_->setFrameShape(QFrame::NoFrame);
  parts_->setStyleSheet("QListWidget::item{padding:4px 6px}");
  for (const GuidePart& p : guide_parts()) {
    auto* item = new QListWidgetItem((p.level == 1 ? QString() : QString("    ")) + p.said, parts_);
    QFont font = item->font();
    font.setBold(p.level == 1);
    item->setFont(font);
    item->setHidden(p.level == 3);
  }
  row->addWidget(parts_);
  pages_ = new Pages;
  pages_->setAccessibleName(spoken("Page of the guide"));
  pages_->setFrameShape(QFrame::NoFrame);
  pages_->setOpenExternalLinks(false);
  pages_->setOpenLinks(false);
  pages_->document()->setDocumentMargin(18);
  row->addWidget(pages_, 1);
  connect(parts_, &QListWidget::currentRowChanged, this, [this](int at) {
    if (at >= 0) show_part(size_t(at));
  });
  connect(pages_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
    const QString page = pages_->source().resolved(link).path().remove("/guide/");
    if (page.endsWith(".md") && QFile::exists(":/guide/" + page)) parts_->setCurrentRow(int(guide_part(page, {})));
  });
}

void GuideDesk::open(Id, int detail) {
  const int wanted = std::clamp(detail, 0, parts_->count() - 1);
  if (parts_->currentRow() == wanted) return show_part(size_t(wanted));
  parts_->setCurrentRow(wanted);
  parts_->scrollToItem(parts_->item(wanted), QAbstractItemView::PositionAtTop);
}

void GuideDesk::show_part(size_t part) {
  const GuidePart& p = guide_parts()[part];
  if (const QUrl page("qrc:/guide/" + p.page); pages_->source() != page) {
    pages_->setSource(page, QTextDocument::MarkdownResource);
    loosen(*pages_->document());
  }
  for (QTextBlock b = pages_->document()->begin(); b.isValid(); b = b.next()) {
    if (b.blockFormat().headingLevel() != p.level || b.text() != p.said) continue;
    const QTextCursor at(b);
    pages_->setTextCursor(at);
    pages_->verticalScrollBar()->setValue(pages_->verticalScrollBar()->value() + pages_->cursorRect(at).top() - 12);
    break;
  }
  if (p.level == 3) show_case(p.heading);
}

void GuideDesk::show_case(const QString& code) {
  static const std::map<std::string, cases::Recipe> all = [] {
    QFile file(":/guide/cases.json");
    std::map<std::string, cases::Recipe> none;
    if (!file.open(QIODevice::ReadOnly)) return none;
    auto read = cases::read(file.readAll().toStdString());
    return read ? std::move(*read) : none;
  }();
  const auto recipe = all.find(code.toStdString());
  if (making_) bench_->tasks().cancel(making_);
  making_.reset();
  if (recipe == all.end()) return;
  auto of = std::make_shared<Evaluation>();
  making_ = bench_->tasks().run(
      "Making a case", this,
      [of, recipe = recipe->second](Task&) {
        if (auto e = cases::evaluated(recipe)) *of = std::move(*e);
      },
      [this, of, code, title = recipe->second.title()] {
        making_.reset();
        put_case(code, *of, qs(title));
      });
}

// The figure and what is said of it, behind the words of the finding.
void GuideDesk::put_case(const QString& code, const Evaluation& e, const QString& piece) {
  const Finding* f = e.finding(code.toStdString());
  QTextDocument& document = *pages_->document();
  const QUrl address("case:" + code);
  if (f == nullptr || e.figures.empty() || document.resource(QTextDocument::ImageResource, address).isValid()) return;
  QTextBlock b = document.begin();
  while (b.isValid() && (b.blockFormat().headingLevel() != 3 || b.text() != code)) b = b.next();
  while (b.isValid() && b.next().isValid() && b.next().blockFormat().headingLevel() == 0) b = b.next();
  if (!b.isValid()) return;
  figure::Options options;
  options.width = std::clamp(pages_->viewport()->width() - 60, 300, 640);
  options.height = options.width * 0.5;
  options.set = bench_->units();
  options.language = tongue().language();
  options.text_scale = theme::scale();
  options.highlight = f->result_key;
  const qreal ratio = devicePixelRatioF();
  QImage picture(QSizeF(options.width * ratio, options.height * ratio).toSize(), QImage::Format_ARGB32_Premultiplied);
  picture.setDevicePixelRatio(ratio);
  picture.fill(Qt::transparent);
  {
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing);
    paint_figure(p, figure::lay_out(said_figure(e.figures.front()), options), screen_colours());
  }
  document.addResource(QTextDocument::ImageResource, address, picture);
  const int scrolled = pages_->verticalScrollBar()->value();
  QTextCursor at(b);
  at.movePosition(QTextCursor::EndOfBlock);
  QTextBlockFormat plain = b.blockFormat();
  plain.setTopMargin(10);
  QTextBlockFormat tight = plain;
  tight.setLineHeight(100, QTextBlockFormat::ProportionalHeight);
  at.insertBlock(tight);
  at.insertImage(address.toString());
  at.insertBlock(plain);
  QTextCharFormat quiet;
  quiet.setForeground(theme::color(theme::Ink::quiet));
  at.insertText(spoken("A case") + ", " + spoken(piece) + ": " + spoken(qs(f->message)), quiet);
  pages_->verticalScrollBar()->setValue(scrolled);
}

std::vector<Doable> GuideDesk::found(const QString& typed) {
  static const QSet<QString> asks = {
      "how",     "do",   "i",     "to",   "the",  "a",   "an",  "what",  "is",   "are",  "can",   "where",  // English
      "wie",     "kann", "ich",   "was",  "wo",   "ist", "der", "die",   "das",  "ein",  "eine",  "man",    // German
      "come",    "si",   "che",   "cosa", "dove", "il",  "lo",  "la",    "un",   "una",  "posso",           // Italian
      "comment", "je",   "que",   "quoi", "où",   "le",  "les", "une",   "est",  "puis", "faire",           // French
      "cómo",    "qué",  "dónde", "es",   "el",   "los", "las", "puedo", "hacer"};                          // Spanish
  QStringList wanted;
  for (const QString& word : typed.toLower().split(' ', Qt::SkipEmptyParts))
    if (!asks.contains(word)) wanted << word;
  if (wanted.isEmpty()) return {};
  std::vector<Doable> out;
  const auto& all = guide_parts();
  const auto in = [&](const QString& words) {
    return std::all_of(wanted.begin(), wanted.end(),
                       [&](const QString& w) { return words.contains(w, Qt::CaseInsensitive); });
  };
  for (size_t i = 0; i < all.size(); ++i)
    if (in(all[i].said)) out.push_back(opens(all[i].said, "guide, F1", 0, int(i)));
  // Then the parts that speak of it, where what was typed is more than a few letters.
  constexpr size_t kMost = 6;
  constexpr qsizetype kTelling = 4;
  if (std::any_of(wanted.begin(), wanted.end(), [](const QString& w) { return w.size() >= kTelling; }))
    for (size_t i = 0, n = 0; i < all.size() && n < kMost; ++i) {
      if (in(all[i].said) || !in(all[i].said + " " + all[i].words)) continue;
      const qsizetype at = all[i].words.indexOf(wanted.front(), 0, Qt::CaseInsensitive);
      out.push_back(
          opens(all[i].said, "… " + all[i].words.mid(std::max<qsizetype>(0, at - 20), 60).trimmed() + " …", 0, int(i)));
      ++n;
    }
  for (Doable& line : out) line.rank = Doable::Rank::explains;
  return out;
}

}  // namespace fortitor
