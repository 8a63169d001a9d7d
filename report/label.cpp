#include "report/label.h"

#include <qrencode.h>

#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>
#include <memory>

#include "store/new_file.h"
#include "store/papers.h"

namespace fortitor {
namespace {

constexpr double kWidth = 62, kHeight = 29;  // mm
constexpr int kAcross = 3, kDown = 9;        // on A4, 210 × 297
constexpr double kQuiet = 4;                 // squares around the code that stay light (ISO/IEC 18004)

void paint(QPainter& p, const Label& l, const QRectF& box, double mm) {
  const auto squares = qr_squares(l.address);
  const double side = 25 * mm, n = double(squares.size()) + 2 * kQuiet;
  const QPointF at = box.topLeft() + QPointF(2 * mm, 2 * mm);
  p.setPen(Qt::NoPen);
  p.setBrush(Qt::black);
  const double u = side / std::max(1.0, n);
  for (size_t y = 0; y < squares.size(); ++y)
    for (size_t x = 0; x < squares[y].size(); ++x)
      if (squares[y][x]) p.drawRect(QRectF(at.x() + (double(x) + kQuiet) * u, at.y() + (double(y) + kQuiet) * u, u, u));
  const QRectF words(box.left() + 28 * mm, box.top() + 2 * mm, 32 * mm, 25 * mm);
  const auto line = [&](double y, double points, bool bold, const std::string& text) {
    QFont font("Inter");
    font.setStyleStrategy(QFont::PreferNoShaping);
    font.setBold(bold);
    const QString all = QString::fromStdString(text);
    // A long mark is written smaller, never cut: it is what the piece is known by.
    for (double size = points; size >= 4; size -= 0.5) {
      font.setPointSizeF(size);
      p.setFont(font);
      if (p.fontMetrics().horizontalAdvance(all) <= words.width()) break;
    }
    p.drawText(QRectF(words.left(), words.top() + y * mm, words.width(), 7 * mm), Qt::AlignLeft | Qt::AlignVCenter,
               all);
  };
  p.setPen(Qt::black);
  line(0, 16, true, l.code);
  line(8, 8, false, l.job);
  line(13, 7, false, l.series);
  line(18, 7, false, l.customer);
}

}  // namespace

std::vector<std::vector<bool>> qr_squares(const std::string& words) {
  std::vector<std::vector<bool>> out;
  const std::unique_ptr<QRcode, void (*)(QRcode*)> code(
      QRcode_encodeString(words.c_str(), 0, QR_ECLEVEL_M, QR_MODE_8, 1), QRcode_free);
  if (!code) return out;
  const int n = code->width;
  for (int y = 0; y < n; ++y) {
    out.emplace_back();
    for (int x = 0; x < n; ++x) out.back().push_back((code->data[y * n + x] & 1) != 0);
  }
  return out;
}

Outcome<std::vector<Label>> labels_of(const Book& book, const std::string& job_code, Id only) {
  const auto job = book.job_by_code(job_code);
  if (!job) return InputError{"There is no job " + job_code + " in this book.", {}};
  const auto paper = Papers(book).job(job_code);
  if (!paper) return paper.error();
  std::vector<Label> out;
  for (const SeriesRow& s : book.series(job->id))
    for (const SpecimenRow& row : book.specimens(s.id))
      if (only == 0 || row.id == only)
        out.push_back(
            {row.code, job->code, s.title, paper->text("customer"), "fortitor:" + job->code + "/" + row.code});
  if (out.empty()) return InputError{"Job " + job_code + " has no pieces to label.", {}};
  return out;
}

Outcome<Done> write_labels(const std::vector<Label>& labels, LabelPaper paper, const std::string& path) {
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  {
    QPdfWriter writer(&buffer);
    const bool roll = paper == LabelPaper::roll;
    writer.setPageSize(roll ? QPageSize(QSizeF(kWidth, kHeight), QPageSize::Millimeter) : QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setResolution(300);
    writer.setTitle("Labels");
    const double mm = 300 / 25.4;
    QPainter p(&writer);
    if (!p.isActive()) return InputError{path + ": the PDF could not be begun.", {}};
    const size_t each = roll ? 1 : size_t(kAcross * kDown);
    for (size_t i = 0; i < labels.size(); ++i) {
      if (i > 0 && i % each == 0) writer.newPage();
      const size_t k = i % each;
      const double left = roll ? 0 : (210 - kAcross * kWidth) / 2, top = roll ? 0 : (297 - kDown * kHeight) / 2;
      paint(p, labels[i],
            QRectF((left + double(k % kAcross) * kWidth * (roll ? 0 : 1)) * mm,
                   (top + double(k / kAcross) * kHeight * (roll ? 0 : 1)) * mm, kWidth * mm, kHeight * mm),
            mm);
    }
  }
  return write_new_file(path, bytes);
}

}  // namespace fortitor
