#include "app/figures/take_along.h"

#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QMenu>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgGenerator>

#include "app/theme/parts.h"
#include "store/new_file.h"

namespace fortitor {
namespace {

constexpr int kSharp = 2;  // px of a picture for one of the screen

QImage picture_of(QWidget* w) {
  QImage image(w->size() * kSharp, QImage::Format_RGB32);
  image.setDevicePixelRatio(kSharp);
  image.fill(w->palette().color(QPalette::Window));
  w->render(&image);
  return image;
}

}  // namespace

QString offer_to_take(QWidget* over, const QPoint& where, const Takeable& what) {
  QMenu menu(over);
  QAction* as_picture = menu.addAction(spoken("Copy picture"));
  QAction* as_data = menu.addAction(spoken("Copy data"));
  QAction* as_file = menu.addAction(spoken("Save…"));
  std::vector<QAction*> others;
  for (const auto& [words, act] : what.others) others.push_back(menu.addAction(spoken(words)));
  const QAction* chosen = menu.exec(where);
  for (size_t i = 0; i < others.size(); ++i)
    if (chosen == others[i]) what.others[i].second();
  if (chosen == as_picture) {
    what.copy_picture();
    return "The picture is on the clipboard.";
  }
  if (chosen == as_data) {
    what.copy_data();
    return "The data are on the clipboard.";
  }
  if (chosen != as_file) return {};
  const QString path =
      QFileDialog::getSaveFileName(over, spoken("Save"), what.name + ".svg", "Drawing (*.svg *.png *.pdf *.csv)",
                                   nullptr, QFileDialog::DontConfirmOverwrite);
  if (path.isEmpty()) return {};
  const auto done = what.save(path);
  return done ? "Saved: " + path : parts::qs(done.error().message);
}

TakeAlong::TakeAlong(QWidget* drawn, QString name, std::function<std::string()> data)
    : QObject(drawn), drawn_(drawn), name_(std::move(name)), data_(std::move(data)) {
  drawn->installEventFilter(this);
}

bool TakeAlong::eventFilter(QObject* object, QEvent* event) {
  if (object == drawn_ && event->type() == QEvent::ContextMenu) {
    const QString came = offer_to_take(drawn_, static_cast<QContextMenuEvent*>(event)->globalPos(),
                                       {name_,
                                        [this] { copy_picture(); },
                                        [this] { copy_data(); },
                                        [this](const QString& path) { return save(path); },
                                        {}});
    if (!came.isEmpty()) emit said(came);
    return true;
  }
  return QObject::eventFilter(object, event);
}

void TakeAlong::copy_picture() const {
  QApplication::clipboard()->setImage(picture_of(drawn_));
}

void TakeAlong::copy_data() const {
  QApplication::clipboard()->setText(parts::qs(data_()));
}

Outcome<Done> TakeAlong::save(const QString& path) const {
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  const QString ending = path.section('.', -1).toLower();
  if (ending == "csv") {
    bytes = QByteArray::fromStdString(data_());
  } else if (ending == "png") {
    picture_of(drawn_).save(&buffer, "PNG");
  } else if (ending == "svg") {
    QSvgGenerator svg;
    svg.setOutputDevice(&buffer);
    svg.setSize(drawn_->size());
    svg.setViewBox(drawn_->rect());
    svg.setTitle(name_);
    drawn_->render(&svg);
  } else if (ending == "pdf") {
    constexpr double kPointsAPixel = 0.75;  // 96 px an inch
    QPdfWriter pdf(&buffer);
    pdf.setPageSize(QPageSize(QSizeF(drawn_->size()) * kPointsAPixel, QPageSize::Point));
    pdf.setPageMargins(QMarginsF());
    pdf.setResolution(96);
    pdf.setTitle(name_);
    drawn_->render(&pdf);
  } else {
    return InputError{path.toStdString() + ": a drawing is saved as .svg, .png, .pdf or .csv.", {}};
  }
  return write_new_file(path.toStdString(), bytes);
}

}  // namespace fortitor
