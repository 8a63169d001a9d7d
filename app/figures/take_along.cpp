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

std::string csv_cell(const std::string& text) {
  if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
  std::string out = "\"";
  for (char c : text) out += c == '"' ? "\"\"" : std::string(1, c);
  return out + "\"";
}

TakeAlong::TakeAlong(QWidget* drawn, QString name, std::function<std::string()> data)
    : QObject(drawn), drawn_(drawn), name_(std::move(name)), data_(std::move(data)) {
  drawn->installEventFilter(this);
}

bool TakeAlong::eventFilter(QObject* object, QEvent* event) {
  if (object == drawn_ && event->type() == QEvent::ContextMenu) {
    offer(static_cast<QContextMenuEvent*>(event)->globalPos());
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

void TakeAlong::offer(const QPoint& where) {
  QMenu menu(drawn_);
  QAction* as_picture = menu.addAction("Copy picture");
  QAction* as_data = menu.addAction("Copy data");
  QAction* as_file = menu.addAction("Save…");
  const QAction* chosen = menu.exec(where);
  if (chosen == as_picture) {
    copy_picture();
    emit said("The picture is on the clipboard.");
  } else if (chosen == as_data) {
    copy_data();
    emit said("The data are on the clipboard.");
  } else if (chosen == as_file) {
    const QString path =
        QFileDialog::getSaveFileName(drawn_, "Save drawing", name_ + ".svg", "Drawing (*.svg *.png *.pdf *.csv)",
                                     nullptr, QFileDialog::DontConfirmOverwrite);
    if (path.isEmpty()) return;
    const auto done = save(path);
    emit said(done ? "Drawing saved: " + path : parts::qs(done.error().message));
  }
}

}  // namespace fortitor
