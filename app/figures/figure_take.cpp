// Taking a figure along: every one that is shown can be copied or saved.
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QPainter>

#include "app/figures/figure_view.h"
#include "app/figures/take_along.h"
#include "app/theme/parts.h"
#include "report/export.h"
#include "report/figure.h"

namespace fortitor {

void FigureView::copy_picture() const {
  // On paper, whatever the theme: it goes into a document.
  figure::Options o;
  o.width = width();
  o.height = height();
  o.set = set_;
  if (zoomed()) o.keep = laid().frames;
  QImage image(size() * 2, QImage::Format_RGB32);
  image.fill(paper_colours().paper);
  QPainter p(&image);
  p.scale(2, 2);
  paint_figure(p, figure::lay_out(shown(), o), paper_colours());
  p.end();
  QApplication::clipboard()->setImage(image);
}

void FigureView::copy_data() const {
  std::string table = figure_csv(shown(), set_);
  QApplication::clipboard()->setText(QString::fromStdString(table));
}

Outcome<Done> FigureView::save(const QString& path) const {
  return export_figure(shown(), set_, path.toStdString(), zoomed() ? laid().frames : std::vector<figure::Frame>{});
}

void FigureView::contextMenuEvent(QContextMenuEvent* event) {
  if (empty()) return;
  std::vector<std::pair<QString, std::function<void()>>> others;
  if (zoomed())
    others.emplace_back("Show all", [this] { show_all(); });
  else
    others.emplace_back("Yield region\tY", [this] { show_beginning(); });
  const QString came = offer_to_take(this, event->globalPos(),
                                     {parts::qs(figure_.id), [this] { copy_picture(); }, [this] { copy_data(); },
                                      [this](const QString& path) { return save(path); }, others});
  if (!came.isEmpty()) emit said(came);
}

}  // namespace fortitor
