#include "report/flow.h"

#include <QAbstractTextDocumentLayout>
#include <QPainter>
#include <QPdfWriter>
#include <QTextBlock>
#include <QTextDocument>
#include <QTextFrame>
#include <QTextTable>
#include <algorithm>
#include <cmath>
#include <memory>

#include "core/parallel.h"
#include "report/paper.h"

namespace fortitor::page {
namespace {

constexpr double kHeadRoom = 26, kFootRoom = 30;  // px at 96 dpi
constexpr double kBetween = 22;                   // between two parts on one page
constexpr double kThird = 1.0 / 3;
constexpr int kWholeLines = 6;  // a paragraph up to so long is not cut, a longer one keeps two lines at either end

// Where a part may be cut, and what is painted again above the rest: the head of the table that is cut.
struct Cut {
  double y = 0;
  double head_from = 0, head_to = 0;
};

double top_of(const QTextDocument& d, const QTextTable& table, int row) {
  double y = HUGE_VAL;
  for (int c = 0; c < table.columns(); ++c) {
    const QTextTableCell cell = table.cellAt(row, c);
    if (cell.isValid() && cell.row() == row)
      y = std::min(y, d.documentLayout()->blockBoundingRect(cell.firstCursorPosition().block()).top());
  }
  return y - table.format().cellPadding() - table.format().cellSpacing();
}

// A place a little above `y` at which no line of words is cut through; at or above `from` when there is none below it.
double between_lines(const std::vector<std::pair<double, double>>& lines, double from, double y) {
  for (bool moved = true; moved && y > from;) {
    moved = false;
    for (const auto& [top, bottom] : lines)
      if (top < y - 0.25 && bottom > y + 0.25) {
        y = top;
        moved = true;
      }
  }
  return y;
}

std::vector<std::pair<double, double>> lines_of(const QTextDocument& d) {
  std::vector<std::pair<double, double>> out;
  for (QTextBlock block = d.begin(); block.isValid(); block = block.next()) {
    const double top = d.documentLayout()->blockBoundingRect(block).top();
    const QTextLayout* lines = block.layout();
    for (int i = 0; i < lines->lineCount(); ++i)
      out.emplace_back(top + lines->lineAt(i).y(), top + lines->lineAt(i).y() + lines->lineAt(i).height());
  }
  return out;
}

std::vector<Cut> cuts_of(const QTextDocument& d) {
  std::vector<Cut> cuts;
  const auto* layout = d.documentLayout();
  bool keep_with_next = true;  // nothing stands before the first
  const auto before = [&](double y) {
    if (!keep_with_next) cuts.push_back({y});
  };
  for (auto it = d.rootFrame()->begin(); !it.atEnd(); ++it) {
    if (const auto* table = qobject_cast<const QTextTable*>(it.currentFrame())) {
      before(layout->frameBoundingRect(it.currentFrame()).top());
      keep_with_next = false;
      const int heads = table->format().headerRowCount();
      const double head_from = heads > 0 ? top_of(d, *table, 0) : 0, head_to = heads > 0 ? top_of(d, *table, heads) : 0;
      for (int row = std::max(1, heads + 1); row < table->rows(); ++row)
        if (const double y = top_of(d, *table, row); std::isfinite(y)) cuts.push_back({y, head_from, head_to});
      continue;
    }
    const QTextBlock block = it.currentBlock();
    if (!block.isValid()) continue;
    const QRectF box = layout->blockBoundingRect(block);
    if (box.height() <= 0 || block.length() <= 1) continue;  // the empty block that stands between two tables
    before(box.top());
    keep_with_next = block.blockFormat().headingLevel() > 0;
    const QTextLayout* lines = block.layout();
    if (lines->lineCount() > kWholeLines)
      for (int i = 2; i + 2 <= lines->lineCount(); ++i) cuts.push_back({box.top() + lines->lineAt(i).y()});
  }
  std::sort(cuts.begin(), cuts.end(), [](const Cut& a, const Cut& b) { return a.y < b.y; });
  return cuts;
}

// A stretch of a part on a page.
struct Slice {
  size_t part = 0;
  double from = 0, to = 0, y = 0;
  double head_from = 0, head_to = 0;
};
struct Page {
  std::vector<Slice> slices;
  double used = 0;
};

struct Measured {
  std::vector<Cut> cuts;
  std::vector<std::pair<double, double>> lines;  ///< tops and bottoms, of a part that is higher than a page
  double height = 0;
};

// Greedy: each page takes as much as fits up to the last place where a cut may be.
std::vector<Page> paginate(const std::vector<Part>& parts, const std::vector<Measured>& measured, double height) {
  std::vector<Page> pages(1);
  for (size_t p = 0; p < parts.size(); ++p) {
    const Measured& m = measured[p];
    if (pages.back().used > 0) {
      const bool own = parts[p].fresh && pages.back().used >= kThird * height;
      // What would begin with a few lines at the foot of a page begins the next one.
      const double first = m.cuts.empty() ? m.height : m.cuts.front().y;
      if (own || pages.back().used + kBetween + std::min(first, m.height) > height)
        pages.emplace_back();
      else
        pages.back().used += kBetween;
    }
    double from = 0;
    Cut head;
    while (from < m.height - 0.5) {
      const double again = head.head_to - head.head_from, room = height - pages.back().used - again;
      const auto take = [&](double to) {
        pages.back().slices.push_back({p, from, to, pages.back().used, head.head_from, head.head_to});
        pages.back().used += to - from + again;
        from = to;
      };
      if (m.height - from <= room) {
        take(m.height);
        break;
      }
      const Cut* best = nullptr;
      for (const Cut& c : m.cuts)
        if (c.y > from + 0.5 && c.y - from <= room) best = &c;
      if (best != nullptr) {
        take(best->y);
        head = *best;
      } else if (pages.back().used > 0) {
        // Nothing fits any more: what comes next stands whole on the next page.
      } else {
        // Higher than a page: it is cut near its end, between two lines of words.
        const double between = between_lines(m.lines, from + 0.5 * room, from + room);
        take(between > from + 0.5 * room ? between : from + room);
        head = {};
      }
      pages.emplace_back();
    }
  }
  return pages;
}

std::string put(std::string words, const std::string& name, int value) {
  if (const size_t at = words.find(name); at != std::string::npos)
    words.replace(at, name.size(), std::to_string(value));
  return words;
}

void paint_surround(QPainter& p, const Surround& s, double width, double height, int page, int pages) {
  QFont font("Inter");
  font.setPointSizeF(7);
  font.setStyleStrategy(QFont::PreferNoShaping);
  p.setFont(font);
  const QPen hair(QColor("#DAD4C6"), 0.7);
  if (page > 1) {
    p.setPen(QColor("#6F7780"));
    const QRectF head(0, 0, width, 12);
    p.drawText(head, Qt::AlignLeft | Qt::AlignTop, QString::fromStdString(s.head_left));
    p.drawText(head, Qt::AlignRight | Qt::AlignTop, QString::fromStdString(s.head_right));
    p.setPen(hair);
    p.drawLine(QPointF(0, 15), QPointF(width, 15));
  }
  p.setPen(hair);
  p.drawLine(QPointF(0, height - kFootRoom + 10), QPointF(width, height - kFootRoom + 10));
  p.setPen(QColor("#6F7780"));
  const QRectF foot(0, height - kFootRoom + 14, width, 14);
  p.drawText(foot, Qt::AlignLeft | Qt::AlignTop, QString::fromStdString(s.foot));
  p.drawText(foot, Qt::AlignRight | Qt::AlignTop,
             QString::fromStdString(put(put(s.page_of, "{page}", page), "{pages}", pages)));
}

void paint_stretch(QPainter& p, QTextDocument& d, double from, double to, double y, double width) {
  p.save();
  p.translate(0, y - from);
  // A hair less: what only touches the edge belongs to the next page.
  d.drawContents(&p, QRectF(0, from + 0.25, width, std::max(0.5, to - from - 0.5)));
  p.restore();
}

}  // namespace

Outcome<QByteArray> flow_pdf(const std::vector<Part>& given, const Surround& surround, const std::string& title,
                             Filled& filled, const Progress& progress) {
  std::vector<Part> parts = given;
  if (!surround.end.empty() && !parts.empty())
    parts.back().sheet.markup +=
        "<p align=\"center\" style=\"margin-top:14px;color:#6F7780\">— " + escaped(surround.end) + " —</p>";
  // Bands of figures are seen through, which wants that version.
  const Setup setup{QString::fromStdString(title), {15, 14, 15, 12}, QPagedPaintDevice::PdfVersion_1_6};
  Paper sample(setup);
  const double width = sample.writer().width(), height = sample.writer().height(),
               body = height - kHeadRoom - kFootRoom;
  std::vector<Measured> measured(parts.size());
  const auto all = in_parallel(
      parts.size(), 0,
      [&](double share) {
        if (progress) progress(0.4 * share);
        return true;
      },
      [&](size_t i) -> Outcome<Done> {
        Paper paper(setup);
        const auto document = in_one_piece(parts[i].sheet, width, &paper.writer());
        const double high = document->size().height();
        measured[i] = {cuts_of(*document), high > body ? lines_of(*document) : decltype(Measured::lines)(), high};
        return Done{};
      });
  if (!all) return all.error();
  const std::vector<Page> pages = paginate(parts, measured, body);
  filled.pages.clear();
  for (const Page& page : pages) filled.pages.push_back(page.used / body);
  constexpr size_t kSheaf = 60;  // pages in one hand
  return painted(
      setup, pages.size(), kSheaf,
      [&](QPdfWriter& writer, QPainter& painter, size_t from, size_t to) {
        size_t open = size_t(-1);
        std::unique_ptr<QTextDocument> document;
        for (size_t n = from; n < to; ++n) {
          if (n > from) writer.newPage();
          paint_surround(painter, surround, width, height, int(n + 1), int(pages.size()));
          for (const Slice& s : pages[n].slices) {
            if (open != s.part) document = in_one_piece(parts[s.part].sheet, width, &writer);
            open = s.part;
            const double head = s.head_to - s.head_from, y = kHeadRoom + s.y;
            if (head > 0) paint_stretch(painter, *document, s.head_from, s.head_to, y, width);
            paint_stretch(painter, *document, s.from, s.to, y + head, width);
          }
        }
      },
      [&](double share) {
        if (progress) progress(0.4 + 0.6 * share);
      });
}

Outcome<QByteArray> flow_pdf(const std::vector<Part>& parts, const Surround& surround, const std::string& title,
                             const Progress& progress) {
  Filled filled;
  return flow_pdf(parts, surround, title, filled, progress);
}

}  // namespace fortitor::page
