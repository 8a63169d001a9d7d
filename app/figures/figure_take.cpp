// Taking a figure along: every one that is shown can be copied or saved.
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QMenu>
#include <QPainter>

#include "app/figures/figure_view.h"
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
  QMenu menu(this);
  QAction* as_picture = menu.addAction("Copy picture");
  QAction* as_data = menu.addAction("Copy data");
  QAction* as_file = menu.addAction("Save…");
  QAction* beginning = zoomed() ? nullptr : menu.addAction("Yield region\tY");
  QAction* all = zoomed() ? menu.addAction("Show all") : nullptr;
  const QAction* chosen = menu.exec(event->globalPos());
  if (chosen == nullptr) return;
  if (chosen == as_picture) {
    copy_picture();
    emit said("The picture is on the clipboard.");
  } else if (chosen == as_data) {
    copy_data();
    emit said("The data are on the clipboard.");
  } else if (chosen == beginning) {
    show_beginning();
  } else if (chosen == all) {
    show_all();
  } else if (chosen == as_file) {
    const QString path =
        QFileDialog::getSaveFileName(this, "Save figure", parts::qs(figure_.id) + ".svg",
                                     "Figure (*.svg *.png *.pdf *.csv)", nullptr, QFileDialog::DontConfirmOverwrite);
    if (path.isEmpty()) return;
    const auto done = save(path);
    emit said(done ? "Figure saved: " + path : parts::qs(done.error().message));
  }
}

}  // namespace fortitor
