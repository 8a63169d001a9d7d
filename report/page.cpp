#include "report/page.h"

#include <QAbstractTextDocumentLayout>
#include <QFileInfo>
#include <QImage>
#include <QPainter>
#include <QPdfWriter>
#include <QRegularExpression>
#include <QTextBlock>
#include <QTextDocument>
#include <QTextObjectInterface>

#include <memory>

#include "report/figure.h"
#include "report/paper.h"
#include "store/new_file.h"

namespace fortitor {
namespace {

// Draws the figures of a page as vectors wherever the document is painted, and its photographs.
class FigureObject : public QObject, public QTextObjectInterface {
  Q_OBJECT
  Q_INTERFACES(QTextObjectInterface)

 public:
  FigureObject(QObject* parent, std::vector<figure::Layout> figures, std::vector<QImage> photographs)
      : QObject(parent), figures_(std::move(figures)), photographs_(std::move(photographs)) {}

  QSizeF intrinsicSize(QTextDocument*, int, const QTextFormat& format) override {
    const QTextImageFormat image = format.toImageFormat();
    return {image.width(), image.height()};
  }
  void drawObject(QPainter* painter, const QRectF& rect, QTextDocument*, int, const QTextFormat& format) override {
    const QString name = format.toImageFormat().name();
    bool numbered = false;
    const size_t index = name.section(':', 1).toUInt(&numbered);
    if (!numbered) return;
    if (name.startsWith("photograph:") && index < photographs_.size())
      return painter->drawImage(rect, photographs_[index]);
    if (!name.startsWith("figure:") || index >= figures_.size()) return;
    painter->save();
    painter->translate(rect.topLeft());
    paint_figure(*painter, figures_[index], paper_colours());
    painter->restore();
  }

 private:
  std::vector<figure::Layout> figures_;
  std::vector<QImage> photographs_;
};

// Photographs stand in the markup with their data, as a browser shows them. A document that is painted gets them by
// their number: `<img src="data:image/jpeg;base64,…" width="300"/>` → `<img src="photograph:0" width="300"
// height="…"/>`.
QString take_photographs(const QString& markup, std::vector<QImage>& into) {
  static const QRegularExpression photograph("<img src=\"data:image/[a-z.+-]+;base64,([^\"]*)\" width=\"(\\d+)\"/>");
  constexpr int kSharp = 1200;  // px: 300 px at 96 dpi are 8 cm, and more is not seen there
  QString out;
  qsizetype from = 0;
  for (auto all = photograph.globalMatch(markup); all.hasNext();) {
    const auto one = all.next();
    out += markup.mid(from, one.capturedStart() - from);
    from = one.capturedEnd();
    QImage image = QImage::fromData(QByteArray::fromBase64(one.captured(1).toLatin1()));
    const int width = one.captured(2).toInt();
    if (image.isNull() || width <= 0) {
      out += "<i>The photograph cannot be read.</i>";
      continue;
    }
    if (image.width() > kSharp) image = image.scaledToWidth(kSharp, Qt::SmoothTransformation);
    out += QString("<img src=\"photograph:%1\" width=\"%2\" height=\"%3\"/>")
               .arg(into.size())
               .arg(width)
               .arg(std::max(1, width * image.height() / std::max(1, image.width())));
    into.push_back(std::move(image));
  }
  return out + markup.mid(from);
}

}  // namespace

namespace page {

std::string escaped(const std::string& s) {
  std::string out;
  for (char c : s) {
    switch (c) {
      case '&': out += "&amp;"; break;
      case '<': out += "&lt;"; break;
      case '>': out += "&gt;"; break;
      case '"': out += "&quot;"; break;
      default: out += c;
    }
  }
  return out;
}

// "R_p0.2" → R<sub>p0.2</sub>
std::string symbol(const std::string& symbol) {
  const size_t at = symbol.find('_');
  if (at == std::string::npos) return escaped(symbol);
  return escaped(symbol.substr(0, at)) + "<sub>" + escaped(symbol.substr(at + 1)) + "</sub>";
}

const char* verdict_colour(Verdict v) {
  switch (v) {
    case Verdict::meets: return "#2E7D5B";
    case Verdict::conditional_pass:
    case Verdict::open: return "#A9741B";
    case Verdict::conditional_fail:
    case Verdict::fails: return "#B5452F";
    default: return "#6F7780";
  }
}

std::string document(const std::string& title, const std::string& body, const std::string& seals) {
  return "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"/><title>" + escaped(title) + "</title>" +
         (seals.empty() ? "" : "<meta name=\"fortitor-seals\" content=\"" + escaped(seals) + "\"/>") +
         "<style>"
         "body{font:10pt Inter,sans-serif;color:#22303C;background:#FBFAF6;max-width:720px;margin:24px "
         "auto}section{page-break-after:always;margin-bottom:48px}"
         "table table{font-size:9pt}svg{max-width:100%}</style></head><body>" +
         body + "</body></html>";
}

namespace {

// Everything that a layout depends on is set before the text comes: each of them would lay all of it out once more.
void fill_at(QTextDocument& document, const std::vector<Sheet>& sheets, double width, double points, double share = 1) {
  std::vector<figure::Layout> figures;
  std::vector<QImage> photographs;
  QString body;
  for (size_t i = 0; i < sheets.size(); ++i) {
    const Sheet& s = sheets[i];
    QString markup = QString::fromStdString(s.markup);
    const QString place = kFigure;
    for (const Figure& f : s.figures) {
      const auto at = markup.indexOf(place);
      if (at < 0) break;
      figure::Options options;
      options.width = width;
      options.height = share * width * s.height * (f.panels.size() >= 4 ? 1.6 : 1);  // two rows want more
      options.set = s.units;
      options.language = s.language;
      figures.push_back(figure::lay_out(f, options));
      markup.replace(at, place.size(),
                     QString("<p><img src=\"figure:%1\" width=\"%2\" height=\"%3\"/></p>")
                         .arg(figures.size() - 1)
                         .arg(int(width))
                         .arg(int(options.height)));
    }
    markup.remove(place);
    markup = take_photographs(markup, photographs);
    body += QString(i > 0 ? "<div style=\"page-break-before:always\">" : "<div>") + markup + "</div>";
  }
  QFont font("Inter");
  font.setPointSizeF(points);
  // Contextual alternates have no Unicode of their own: a PDF's text would lose its hyphens and signs.
  font.setStyleStrategy(QFont::PreferNoShaping);
  document.setDefaultFont(font);
  document.documentLayout()->registerHandler(QTextFormat::ImageObject,
                                             new FigureObject(&document, std::move(figures), std::move(photographs)));
  // By inheritance: a style sheet would be asked anew for every cell.
  document.setHtml("<body style=\"color:#22303C\">" + body + "</body>");
}

constexpr double kUsual = 8.5;  // points

}  // namespace

std::unique_ptr<QTextDocument> in_one_piece(const Sheet& sheet, double width, QPaintDevice* device) {
  auto document = std::make_unique<QTextDocument>();
  document->setUndoRedoEnabled(false);
  document->setDocumentMargin(0);
  document->documentLayout()->setPaintDevice(device);
  document->setTextWidth(width);
  fill_at(*document, {sheet}, width, kUsual);
  return document;
}

void fill(QTextDocument& document, const std::vector<Sheet>& sheets, double width) {
  fill_at(document, sheets, width, kUsual);
}

namespace {

constexpr double kFoot = 30;  // px at 96 dpi

// Ends of what is laid out on the last page, as a share of it.
double last_page_filled(const QTextDocument& document, double height) {
  const QRectF last = document.documentLayout()->blockBoundingRect(document.lastBlock());
  return last.bottom() / height - (document.pageCount() - 1);
}

// How a sheet may be laid out: its type, the share of their usual height that figures have, and whether what may begin
// a page anew does.
struct Way {
  double points = kUsual, figures = 1;
  bool parted = false;
};

// Ways to save a last page with a few lines only, the least change first. What the last of them does not save, none
// does.
constexpr double kLeast = 7.9, kMiddle = (kUsual + kLeast) / 2, kLower = 0.78;
constexpr Way kSaving[] = {{kMiddle, 1}, {kLeast, 1}, {kUsual, kLower}, {kMiddle, kLower}, {kLeast, kLower}};

// What the sheet before came to. The sheets of a job are much alike: one about as long is laid out so first, and only
// when that comes to more pages in every other way too.
struct Habit {
  Way way;
  int pages = 0;
  size_t length = 0;  ///< of its markup
  bool fits(size_t other) const { return length > 0 && other > length * 97 / 100 && other < length * 103 / 100; }
};

// One sheet on its pages. A last page with a few lines only is saved by slightly smaller type or lower figures, or,
// where that is not enough, gets what comes before them too.
std::unique_ptr<QTextDocument> lay_out(const Sheet& sheet, const QSizeF& body, QPdfWriter& writer, Habit& habit) {
  const size_t place = sheet.markup.find(kMayBreak);
  auto at = [&](const Way& way) {
    auto document = std::make_unique<QTextDocument>();
    document->setUndoRedoEnabled(false);
    document->setDocumentMargin(0);
    document->documentLayout()->setPaintDevice(&writer);
    document->setPageSize(body);
    Sheet one = sheet;
    if (way.parted)
      one.markup.replace(place, std::string(kMayBreak).size(), "<p style=\"page-break-before:always\"></p>");
    fill_at(*document, {one}, body.width(), way.points, way.figures);
    return document;
  };
  constexpr double kFew = 0.22;
  const auto does = [&](const QTextDocument& d) {
    return d.pageCount() < 2 || last_page_filled(d, body.height()) > kFew;
  };
  const size_t length = sheet.markup.size();
  if (habit.fits(length) && (!habit.way.parted || place != std::string::npos))
    if (auto document = at(habit.way); document->pageCount() <= habit.pages) return document;
  const auto kept = [&](std::unique_ptr<QTextDocument> document, const Way& way) {
    habit = {way, document->pageCount(), length};
    return document;
  };
  auto usual = at({});
  if (does(*usual)) return kept(std::move(usual), {});
  if (at(std::end(kSaving)[-1])->pageCount() < usual->pageCount())
    for (const Way& way : kSaving)
      if (auto saved = at(way); saved->pageCount() < usual->pageCount()) return kept(std::move(saved), way);
  if (place == std::string::npos) return kept(std::move(usual), {});
  const Way parted{kUsual, 1, true};
  return kept(at(parted), parted);
}

void paint_foot(QPainter& painter, const Sheet& sheet, const QRectF& box, int page, int pages) {
  QFont font("Inter");
  font.setPointSizeF(7);
  font.setStyleStrategy(QFont::PreferNoShaping);
  painter.setFont(font);
  painter.setPen(QPen(QColor("#DAD4C6"), 0.7));
  painter.drawLine(QPointF(box.left(), box.top() + 10), QPointF(box.right(), box.top() + 10));
  painter.setPen(QColor("#6F7780"));
  const QRectF line = box.adjusted(0, 14, 0, 0);
  painter.drawText(line, Qt::AlignLeft | Qt::AlignTop, QString::fromStdString(sheet.name));
  painter.drawText(line, Qt::AlignHCenter | Qt::AlignTop, QString::fromStdString(sheet.mark));
  painter.drawText(line, Qt::AlignRight | Qt::AlignTop,
                   "page " + QString::number(page) + " of " + QString::number(pages));
}

}  // namespace

Outcome<Done> pdf(const std::vector<Sheet>& sheets, const std::string& title, const std::string& path,
                  const std::string& seals, const Progress& progress) {
  Setup setup{QString::fromStdString(title), {15, 14, 15, 14}};
  if (!seals.empty())
    setup.metadata =
        "<?xpacket begin=\"\xEF\xBB\xBF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?><x:xmpmeta xmlns:x=\"adobe:ns:meta/\">"
        "<rdf:RDF xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\"><rdf:Description rdf:about=\"\" "
        "xmlns:fortitor=\"urn:fortitor\"><fortitor:seals>" +
        QByteArray::fromStdString(escaped(seals)) +
        "</fortitor:seals></rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end=\"r\"?>";
  constexpr size_t kSheaf = 48;  // sheets in one hand
  const auto bytes = painted(
      setup, sheets.size(), kSheaf,
      [&](QPdfWriter& writer, QPainter& painter, size_t from, size_t to) {
        const QSizeF body(writer.width(), writer.height() - kFoot);
        Habit habit;
        for (size_t i = from; i < to; ++i) {
          const auto document = lay_out(sheets[i], body, writer, habit);
          for (int n = 0; n < document->pageCount(); ++n) {
            if (i > from || n > 0) writer.newPage();
            painter.save();
            painter.translate(0, -n * body.height());
            document->drawContents(&painter, QRectF(0, n * body.height(), body.width(), body.height()));
            painter.restore();
            paint_foot(painter, sheets[i], QRectF(0, body.height(), body.width(), kFoot), n + 1, document->pageCount());
          }
        }
      },
      progress);
  if (!bytes) return InputError{path + ": " + bytes.error().message, {}};
  return write_new_file(path, *bytes);
}

Outcome<Done> write_new(const std::string& text, const std::string& path) {
  return write_new_file(path, QByteArray::fromStdString(text));
}

}  // namespace page
}  // namespace fortitor

#include "page.moc"
