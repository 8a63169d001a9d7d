#include "app/photographs/photographs.h"

#include <QAbstractButton>
#include <QBuffer>
#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QImageReader>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr int kSmall = 192;  // px: sharp on a screen of twice the dots
constexpr double kThumb = 60;

QByteArray jpeg(const QImage& image, int quality) {
  QByteArray out;
  QBuffer buffer(&out);
  buffer.open(QIODevice::WriteOnly);
  image.convertToFormat(QImage::Format_RGB32).save(&buffer, "JPEG", quality);
  return out;
}

// A small photograph that is pushed like a button.
class Thumb : public QAbstractButton {
 public:
  explicit Thumb(const QByteArray& small) {
    picture_.loadFromData(small);
    setFixedSize(theme::px(kThumb * 4 / 3), theme::px(kThumb));
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::StrongFocus);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QSizeF whole = QSizeF(picture_.size()).scaled(size(), Qt::KeepAspectRatioByExpanding);
    p.drawPixmap(QRectF(QPointF((width() - whole.width()) / 2, (height() - whole.height()) / 2), whole), picture_,
                 QRectF(picture_.rect()));
    p.setPen(QPen(theme::color(hasFocus() ? theme::Ink::action : theme::Ink::hairline), hasFocus() ? 3 : 1));
    p.drawRect(rect().adjusted(0, 0, -1, -1));
  }

 private:
  QPixmap picture_;
};

}  // namespace

Outcome<TakenPicture> take_picture(const QString& path) {
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly)) return InputError{path.toStdString() + ": cannot be read.", {}};
  TakenPicture out;
  out.bytes = file.readAll();
  QBuffer buffer(&out.bytes);
  QImageReader reader(&buffer);
  reader.setAutoTransform(true);
  // A camera's twelve million dots are not unpacked for a small picture: the reader makes it small.
  if (const QSize whole = reader.size(); whole.isValid())
    reader.setScaledSize(whole.scaled(kSmall, kSmall, Qt::KeepAspectRatio));
  const QImage image = reader.read();
  if (image.isNull()) return InputError{path.toStdString() + ": this is no picture that can be read (JPEG, PNG).", {}};
  out.small = jpeg(image, 80);
  return out;
}

Outcome<TakenPicture> take_picture(const QImage& image) {
  if (image.isNull()) return InputError{"There is no picture in the clipboard.", {}};
  return TakenPicture{jpeg(image, 92),
                      jpeg(image.scaled(kSmall, kSmall, Qt::KeepAspectRatio, Qt::SmoothTransformation), 80)};
}

PhotographStrip::PhotographStrip(Workbench* bench, QWidget* parent) : QFrame(parent), bench_(bench) {
  setObjectName("sheet");
  setAccessibleName(spoken("Photographs of the piece"));
  auto* outer = new QHBoxLayout(this);
  outer->setContentsMargins(10, 6, 10, 6);
  row_ = new QHBoxLayout;
  row_->setSpacing(8);
  outer->addLayout(row_);
  outer->addStretch();
  auto* more = parts::button("Photograph…", "photograph-add");
  connect(more, &QPushButton::clicked, this, &PhotographStrip::ask);
  outer->addWidget(more);
  hide();
}

bool PhotographStrip::is_picture(const QString& path) {
  static const QStringList kEndings = {"jpg", "jpeg", "png", "tif", "tiff", "bmp", "webp"};
  return kEndings.contains(QFileInfo(path).suffix().toLower());
}

void PhotographStrip::reload() {
  parts::clear(row_);
  const auto all = bench_->has_specimen()
                       ? Papers(static_cast<const Book&>(*bench_->book())).photographs(bench_->specimen())
                       : std::vector<PhotographRow>();
  setVisible(!all.empty());
  constexpr size_t kShown = 8;
  for (size_t i = 0; i < std::min(all.size(), kShown); ++i) {
    const PhotographRow& p = all[i];
    auto* b = new Thumb(p.small);
    b->setProperty("key", "photograph:" + QString::number(p.id));
    b->setAccessibleName(spoken("Photograph " + qs(p.caption.empty() ? p.name : p.caption)));
    b->setToolTip(spoken(theme::plain_tip(qs(p.caption.empty() ? p.name : p.caption) + ", " +
                                          qs(stage_name(Stage(p.stage))) + ", " + qs(p.taken_by))));
    connect(b, &QAbstractButton::clicked, this, [this, p] {
      auto* view = new PhotographView(bench_, p, window());
      view->setAttribute(Qt::WA_DeleteOnClose);
      connect(view, &QDialog::finished, this, &PhotographStrip::reload);
      view->open();
    });
    row_->addWidget(b);
  }
  if (all.size() > kShown)
    row_->addWidget(parts::label(QString::number(all.size() - kShown) + " more on the document", "hint"));
}

void PhotographStrip::ask() {
  const QStringList paths =
      QFileDialog::getOpenFileNames(this, spoken("Photographs of the piece"), {},
                                    parts::file_kinds("Pictures", "*.jpg *.jpeg *.png *.tif *.tiff *.bmp"));
  if (!paths.isEmpty()) take_files(paths);
}

void PhotographStrip::keep(const QString& name, const Outcome<TakenPicture>& taken) {
  if (!taken) return bench_->say(qs(taken.error().message));
  PhotographRow row;
  row.specimen = bench_->specimen();
  row.stage = int(bench_->stage());
  row.name = name.toStdString();
  row.small = taken->small;
  const auto kept = Papers(*bench_->book()).add(row, taken->bytes);
  if (!kept) return bench_->say(qs(kept.error().message));
}

void PhotographStrip::take_files(const QStringList& paths) {
  if (!bench_->has_specimen()) return bench_->say("Open the piece first that the photograph is of.");
  bench_->say("");
  for (const QString& path : paths) keep(QFileInfo(path).fileName(), take_picture(path));
  reload();
}

void PhotographStrip::take_image(const QImage& image) {
  if (!bench_->has_specimen()) return bench_->say("Open the piece first that the photograph is of.");
  bench_->say("");
  keep("pasted.jpg", take_picture(image));
  reload();
}

PhotographView::PhotographView(Workbench* bench, const PhotographRow& row, QWidget* parent)
    : QDialog(parent), bench_(bench), row_(row) {
  setWindowTitle(spoken("Photograph of " + qs(bench->record().specimen_id())));
  resize(theme::px(860), theme::px(640));
  const auto bytes = Papers(static_cast<const Book&>(*bench->book())).picture(row.id);
  if (bytes) image_.loadFromData(*bytes);
  auto* outer = parts::column(this, 12, 8);
  paper_ = new QLabel;
  paper_->setMinimumSize(320, 240);
  paper_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
  paper_->setAccessibleName(spoken("The photograph; two clicks set two marks"));
  paper_->installEventFilter(this);
  outer->addWidget(paper_, 1);
  words_ = parts::label(bytes ? "Two clicks set two marks: on a known length for the scale, then on what is to be read."
                              : qs(bytes.error().message),
                        bytes ? "hint" : "error");
  outer->addWidget(words_);
  auto* first = new QHBoxLayout;
  caption_ = new QLineEdit(qs(row.caption));
  caption_->setPlaceholderText(spoken("Caption, as it is printed"));
  caption_->setProperty("key", "photograph-caption");
  caption_->setAccessibleName(spoken("Caption"));
  first->addWidget(caption_, 1);
  auto* gone = parts::button("Take it away", "photograph-gone");
  first->addWidget(gone);
  outer->addLayout(first);
  auto* second = new QHBoxLayout;
  known_ = new QLineEdit;
  known_->setPlaceholderText(spoken("known length between the marks, such as 10 mm"));
  known_->setProperty("key", "photograph-known");
  known_->setAccessibleName(spoken("Known length between the marks"));
  second->addWidget(known_, 1);
  auto* scale = parts::button("Set the scale", "photograph-scale");
  second->addWidget(scale);
  field_ = new QComboBox;
  field_->setProperty("key", "photograph-field");
  field_->setAccessibleName(spoken("Field that takes the distance"));
  for (const FieldSpec& f : bench->method().fields)
    if (base_dimension(f.dimension) == Dimension::length && !f.brought && field_applies(f, bench->record()) &&
        (f.kind == FieldKind::quantity || f.kind == FieldKind::readings) && f.path.rfind("specimen.", 0) == 0)
      field_->addItem(spoken(qs(f.label)), qs(f.path));
  second->addWidget(field_);
  auto* take = parts::button("Take the distance", "photograph-take", "primary");
  second->addWidget(take);
  outer->addLayout(second);
  connect(caption_, &QLineEdit::editingFinished, this, [this] {
    if (caption_->text().trimmed().toStdString() == row_.caption) return;
    row_.caption = caption_->text().trimmed().toStdString();
    if (const auto kept = Papers(*bench_->book()).change(row_, "caption of a photograph"); !kept)
      words_->setText(spoken(qs(kept.error().message)));
  });
  connect(gone, &QPushButton::clicked, this, [this] {
    const auto done = Papers(*bench_->book()).remove(row_);
    if (!done) return words_->setText(spoken(qs(done.error().message)));
    accept();
  });
  connect(scale, &QPushButton::clicked, this, [this] { set_scale(known_->text()); });
  connect(take, &QPushButton::clicked, this, [this] { take_reading(field_->currentData().toString()); });
}

QString PhotographView::said() const {
  return words_->text();
}

// Where the picture stands on its label.
QRectF PhotographView::shown() const {
  const QSizeF size = QSizeF(image_.size()).scaled(paper_->size(), Qt::KeepAspectRatio);
  return {QPointF((paper_->width() - size.width()) / 2, (paper_->height() - size.height()) / 2), size};
}

bool PhotographView::eventFilter(QObject* object, QEvent* event) {
  if (object == paper_ && event->type() == QEvent::Paint && !image_.isNull()) {
    QPainter p(paper_);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = shown();
    p.drawImage(box, image_);
    const double k = box.width() / image_.width();
    const auto at = [&](QPointF m) { return box.topLeft() + m * k; };
    p.setPen(QPen(theme::color(theme::Ink::action), 2));
    for (const QPointF& m : marks_) {
      p.drawLine(at(m) - QPointF(9, 0), at(m) + QPointF(9, 0));
      p.drawLine(at(m) - QPointF(0, 9), at(m) + QPointF(0, 9));
    }
    if (marks_.size() == 2) p.drawLine(at(marks_[0]), at(marks_[1]));
    return true;
  }
  if (object == paper_ && event->type() == QEvent::MouseButtonPress && !image_.isNull()) {
    const QRectF box = shown();
    const QPointF at = static_cast<QMouseEvent*>(event)->position();
    if (box.contains(at)) mark((at - box.topLeft()) * (image_.width() / box.width()));
    return true;
  }
  return QDialog::eventFilter(object, event);
}

void PhotographView::mark(QPointF at) {
  if (marks_.size() == 2) marks_.clear();
  marks_.push_back(at);
  show_marks();
}

double PhotographView::pixels() const {
  return marks_.size() == 2 ? QLineF(marks_[0], marks_[1]).length() : 0;
}

void PhotographView::show_marks() {
  paper_->update();
  // A scale that was set at another opening has no marks of its own any more: its pixels for a millimetre hold.
  if (scale_.pixels <= 0 && row_.pixels_per_mm > 0) scale_ = {row_.pixels_per_mm * 10, 10, 0};
  if (marks_.size() < 2) return words_->setText(spoken("One more mark."));
  if (scale_.pixels <= 0) return words_->setText(spoken("Type the known length between the marks, and set the scale."));
  const lab::PictureLength l = lab::length_on(scale_, pixels());
  words_->setText(spoken("Between the marks " + qs(lab::reading_on(scale_, pixels()).typed) + ", ± " +
                         qs(format_value(2 * l.standard, Dimension::length, UnitSet::si, 2)) +
                         " (k = 2), in the plane of the scale."));
}

void PhotographView::set_scale(const QString& typed) {
  if (marks_.size() != 2) return words_->setText(spoken("Set two marks on a known length first."));
  const auto scale = lab::scale_of(pixels(), typed.trimmed().toStdString(), bench_->units());
  if (!scale) return words_->setText(spoken(qs(scale.error().message)));
  scale_ = *scale;
  row_.pixels_per_mm = scale->pixels_per_mm();
  const auto kept = Papers(*bench_->book()).change(row_, "scale of a photograph");
  words_->setText(spoken(
      kept ? "The scale is set: " + qs(format_value(10 / scale->pixels_per_mm(), Dimension::length, UnitSet::si, 3)) +
                 " are ten dots. Mark what is to be read."
           : qs(kept.error().message)));
  marks_.clear();
  paper_->update();
}

void PhotographView::take_reading(const QString& path) {
  if (scale_.pixels <= 0 || marks_.size() != 2)
    return words_->setText(spoken("Set the scale, then two marks on what is to be read."));
  const FieldSpec* field = bench_->method().field(path.toStdString());
  if (field == nullptr) return;
  const Reading r = lab::reading_on(scale_, pixels());
  bench_->edit(qs(field->label) + " read on a photograph: " + qs(r.typed), [&](TestRecord& record) {
    if (field->kind == FieldKind::quantity) return record.fields.set(field->path, r);
    Readings all = record.fields.readings(field->path);
    all.push_back(r);
    record.fields.set(field->path, all);
  });
  words_->setText(spoken(qs(r.typed) + " is a reading of " + qs(field->label).toLower() + " now."));
}

}  // namespace fortitor
