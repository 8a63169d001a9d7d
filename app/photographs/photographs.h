// Photographs of a piece: a strip of small ones, taken in from files, drops and the clipboard, and one of them whole
// with its caption, its scale and distances on it.
#pragma once

#include <QDialog>
#include <QFrame>
#include <QImage>
#include <QPointF>

#include "app/model/workbench.h"
#include "core/laboratory/on_picture.h"
#include "store/papers.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QHBoxLayout;

namespace fortitor {

/// What a picture is kept as: its bytes, and a small one for lists. Errors: no picture that can be read.
struct TakenPicture {
  QByteArray bytes, small;
};
Outcome<TakenPicture> take_picture(const QString& path);
/// The same of a picture that lies in the clipboard.
Outcome<TakenPicture> take_picture(const QImage& image);

class PhotographStrip : public QFrame {
  Q_OBJECT

 public:
  explicit PhotographStrip(Workbench* bench, QWidget* parent = nullptr);
  /// Shows the photographs of the piece in hand; without any it takes no room.
  void reload();
  /// Takes files in for the stage in hand.
  void take_files(const QStringList& paths);
  void take_image(const QImage& image);
  void ask();
  static bool is_picture(const QString& path);

 private:
  void keep(const QString& name, const Outcome<TakenPicture>& taken);

  Workbench* bench_;
  QHBoxLayout* row_;
};

/// One photograph whole. Two marks set the scale with a known length, or read a distance with its uncertainty.
class PhotographView : public QDialog {
  Q_OBJECT

 public:
  PhotographView(Workbench* bench, const PhotographRow& row, QWidget* parent);
  /// Sets a mark at a place of the picture, px of it; the third begins anew.
  void mark(QPointF at);
  void set_scale(const QString& known_length);
  /// Puts the distance between the marks into a field as a reading.
  void take_reading(const QString& path);
  QString said() const;

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void show_marks();
  QRectF shown() const;
  double pixels() const;

  Workbench* bench_;
  PhotographRow row_;
  QImage image_;
  QLabel *paper_, *words_;
  QLineEdit *caption_, *known_;
  QComboBox* field_;
  std::vector<QPointF> marks_;
  lab::PictureScale scale_;
};

}  // namespace fortitor
