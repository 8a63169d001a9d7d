// A small picture of a book for a file manager: its sheet, and how its pieces were judged.
#include <QFileInfo>
#include <QImage>
#include <QPainter>
#include <map>

#include "cli/commands.h"
#include "cli/headless.h"
#include "store/book.h"

namespace fortitor::cli {

int thumbnail(const std::string& book_path, const std::string& out, int size) {
  const Headless headless;
  auto book = Book::open_read_only(book_path, shelf());
  if (!book) return bad_input(book.error().message);
  std::map<int, int> pieces;  // 0 waits, 1 meets, 2 fails
  int all = 0;
  for (const JobOutline& job : (*book)->outline())
    for (const SeriesOutline& series : job.series)
      for (const SpecimenRow& s : series.specimens) {
        ++all;
        ++pieces[s.verdict == "meets" || s.verdict == "conditional-pass"   ? 1
                 : s.verdict == "fails" || s.verdict == "conditional-fail" ? 2
                                                                           : 0];
      }
  QImage image(size, size, QImage::Format_ARGB32_Premultiplied);
  image.fill(Qt::transparent);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  p.scale(size / 100.0, size / 100.0);
  p.setPen(QPen(QColor("#CFC8B8"), 1));
  p.setBrush(QColor("#FBFAF6"));
  p.drawRoundedRect(QRectF(12, 4, 76, 92), 4, 4);
  p.fillRect(QRectF(12, 4, 76, 14), QColor("#22303C"));
  p.setPen(QColor("#22303C"));
  QFont font("Inter");
  font.setPixelSize(26);
  font.setBold(true);
  p.setFont(font);
  p.drawText(QRectF(16, 22, 68, 34), Qt::AlignCenter, QString::number(all));
  // A bar of the whole: what meets, what fails, what waits.
  double x = 20;
  const std::pair<int, const char*> parts[] = {{1, "#3B7A57"}, {2, "#B0413E"}, {0, "#CFC8B8"}};
  for (const auto& [kind, color] : parts) {
    const double wide = all > 0 ? 60.0 * pieces[kind] / all : (kind == 0 ? 60.0 : 0.0);
    p.fillRect(QRectF(x, 66, wide, 12), QColor(color));
    x += wide;
  }
  p.end();
  if (!image.save(QString::fromStdString(out), "PNG")) return bad_input(out + ": the picture cannot be written.");
  return 0;
}

}  // namespace fortitor::cli
