#include "app/stages/field_edit.h"

#include <QAbstractItemView>
#include <QBuffer>
#include <QFileDialog>
#include <QFileInfo>
#include <QImage>
#include <QStyleOptionComboBox>
#include <algorithm>

#include "app/stages/offer_list.h"
#include "app/stages/reading_edit.h"
#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/bench/material.h"

namespace fortitor {
namespace {

using parts::mark_bad;
using parts::qs;

}  // namespace

QString shown_field(const Fields& fields, const FieldSpec& field, UnitSet units) {
  const FieldValue* v = fields.find(field.path);
  if (v == nullptr) return {};
  if (const auto* s = std::get_if<std::string>(v)) {
    if (field.kind == FieldKind::date) return qs(day_words(*s));
    if (field.kind == FieldKind::picture) return s->empty() ? QString() : QString("%1 kB").arg(s->size() * 3 / 4000);
    auto label = [&](const std::string& word) {
      for (const Choice& c : field.choices)
        if (c.value == word) return qs(c.label);
      return QString::fromStdString(word);  // whole: it is edited
    };
    if (field.kind != FieldKind::choices) return label(*s);
    QStringList all;
    for (const std::string& word : words_of(*s)) all << label(word);
    return all.join(", ");
  }
  if (const auto* d = std::get_if<double>(v)) return QString::number(*d, 'g', 10);
  if (const auto* b = std::get_if<bool>(v)) return *b ? "yes" : "no";
  QStringList shown;
  for (const Reading& r : fields.readings(field.path)) shown << shown_reading(r, field.dimension, units);
  return shown.join("; ");
}

FieldEdit::FieldEdit(FieldHost* host, const FieldSpec& field, QWidget* parent)
    : QWidget(parent), host_(host), field_(field) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(3);
  layout->addWidget(parts::label(qs(field.label), "hint"));
  if (field.kind == FieldKind::choice) {
    choice_ = new QComboBox;
    choice_->setProperty("key", qs(field.path));
    choice_->setAccessibleName(spoken(qs(field.label)));
    choice_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    choice_->setMinimumContentsLength(6);
    choice_->addItem(
        spoken(field.first_is_usual ? qs(field.choices.front().label) + " (usual)" : QString("not chosen")), "");
    for (const Choice& c : field.choices) choice_->addItem(spoken(qs(c.label)), qs(c.value));
    connect(choice_, &QComboBox::activated, this,
            [this] { host_->set_field(field_, choice_->currentData().toString()); });
    layout->addWidget(choice_);
  } else if (field.kind == FieldKind::choices) {
    if (field.in_order) {
      so_far_ = parts::label("", "mono");
      layout->addWidget(so_far_);
    }
    auto* row = new QWidget;
    auto* flow = new FlowLayout(4, row);
    for (const Choice& c : field.choices) {
      auto* b = parts::button(qs(c.label), "word-" + qs(c.value), "", row);
      b->setCheckable(!field.in_order);
      b->setProperty("word", qs(c.value));
      b->setAccessibleName(spoken(qs(field.label) + ": " + qs(c.label)));
      connect(b, &QPushButton::clicked, this,
              [this, word = c.value] { field_.in_order ? add_word(word) : keep_words(); });
      flow->addWidget(b);
      words_.push_back(b);
    }
    if (field.in_order) {
      auto* back = parts::button("take the last back", "word-back", "", row);
      back->setAccessibleName(spoken(qs(field.label) + ": take the last back"));
      connect(back, &QPushButton::clicked, this, [this] { add_word({}); });
      flow->addWidget(back);
    }
    layout->addWidget(row);
  } else if (field.kind == FieldKind::picture) {
    picture_ = parts::button("", "picture-" + qs(field.path));
    picture_->setAccessibleName(spoken(qs(field.label)));
    connect(picture_, &QPushButton::clicked, this, [this] {
      if (!host_->record().fields.text(field_.path).empty()) return host_->set_field(field_, "");
      const QString path =
          QFileDialog::getOpenFileName(this, spoken("Photograph"), {}, "Pictures (*.jpg *.jpeg *.png *.bmp *.webp)");
      if (!path.isEmpty()) attach(path);
    });
    layout->addWidget(picture_);
  } else if (field.kind == FieldKind::flag) {
    choice_ = new QComboBox;
    choice_->setProperty("key", qs(field.path));
    choice_->setAccessibleName(spoken(qs(field.label)));
    choice_->addItem(spoken("no"), "");
    choice_->addItem(spoken("yes"), "true");
    connect(choice_, &QComboBox::activated, this,
            [this] { host_->set_field(field_, choice_->currentData().toString()); });
    layout->addWidget(choice_);
  } else {
    line_ = new QLineEdit;
    line_->setProperty("key", qs(field.path));
    if (field.kind == FieldKind::quantity) line_->setProperty("dimension", int(field.dimension));
    line_->setAccessibleName(spoken(qs(field.label)));
    if (field.kind != FieldKind::text) line_->setObjectName("number");
    connect(line_, &QLineEdit::editingFinished, this, [this] { keep(); });
    if (!field.usual.empty()) line_->setPlaceholderText(spoken("usual: " + qs(field.usual)));
    if (field.from_reference) offer_reference();
    if (field.kind == FieldKind::date)
      line_->setPlaceholderText(
          spoken(field.sense == DaySense::past ? "24.11., Mon, 3 weeks ago" : "27.11., Fri, in 3 days"));
    layout->addWidget(line_);
  }
  if (holds_for_series(field)) {
    mark_ = parts::label("", "caution");
    mark_->hide();
    layout->addWidget(mark_);
  }
  layout->addStretch();
  setToolTip(spoken(qs(field.hint)));
  refresh();
}

// Names of the library drop down while one is typed; picking one keeps it.
void FieldEdit::offer_reference() {
  QStringList names;
  for (const std::string& name : material::names(host_->shelf())) names << qs(name);
  auto* offers = new OfferList(line_, names);
  line_->setPlaceholderText(spoken("S355J2, Ti-6Al-4V, ash …"));
  // The list moves to the window to lie over it: it goes when the field goes.
  connect(this, &QObject::destroyed, offers, &QObject::deleteLater);
  connect(offers, &OfferList::picked, this, [this](const QString& name) {
    line_->setText(name);
    line_->setModified(true);
    keep();
  });
}

// Small enough to travel with the record, large enough to be looked at: 1280 px on its long side.
void FieldEdit::attach(const QString& path) {
  QImage image(path);
  if (image.isNull()) return host_->say(qs(field_.label) + ": “" + path + "” is no picture that can be read.");
  constexpr int kLong = 1280;
  if (std::max(image.width(), image.height()) > kLong)
    image = image.scaled(kLong, kLong, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  if (!image.convertToFormat(QImage::Format_RGB32).save(&buffer, "JPG", 80))
    return host_->say(qs(field_.label) + ": the picture could not be kept.");
  host_->edit("photograph attached: " + QFileInfo(path).fileName(), [&](TestRecord& r) {
    r.fields.set(field_.path, "data:image/jpeg;base64," + bytes.toBase64().toStdString());
  });
}

void FieldEdit::open_wide() {
  if (choice_ != nullptr) choice_->view()->setMinimumWidth(wanted_width());
}

int FieldEdit::wanted_width() const {
  if (choice_ == nullptr) return 0;
  int widest = 0;
  for (int i = 0; i < choice_->count(); ++i)
    widest = std::max(widest, choice_->fontMetrics().horizontalAdvance(choice_->itemText(i)));
  QStyleOptionComboBox option;
  option.initFrom(choice_);
  return choice_->style()->sizeFromContents(QStyle::CT_ComboBox, &option, {widest, 1}, choice_).width();
}

void FieldEdit::keep_words() {
  std::vector<std::string> words;
  for (const QPushButton* b : words_)
    if (b->isChecked()) words.push_back(b->property("word").toString().toStdString());
  host_->set_field(field_, qs(kept_words(words)));
}

// One word more behind those there are; an empty one takes the last away.
void FieldEdit::add_word(const std::string& word) {
  std::vector<std::string> words = words_of(host_->record().fields.text(field_.path));
  if (!word.empty())
    words.push_back(word);
  else if (!words.empty())
    words.pop_back();
  host_->set_field(field_, qs(kept_words(words)));
}

void FieldEdit::keep() {
  if (!line_->isModified()) return;
  line_->setModified(false);
  const QString typed = line_->text().trimmed();
  if (!typed.isEmpty()) {
    const auto value = host_->parse_field(field_, typed);
    if (!value) {
      mark_bad(line_, true);
      host_->say(qs(field_.label) + ": " + qs(value.error().message));
      return;
    }
  }
  mark_bad(line_, false);
  host_->say("");
  host_->set_field(field_, typed);
  refresh();
}

void FieldEdit::refresh_mark() {
  if (mark_ == nullptr) return;
  const TestRecord* series = host_->series_common();
  const FieldValue* wanted = series != nullptr ? series->fields.find(field_.path) : nullptr;
  const FieldValue* is = host_->record().fields.find(field_.path);
  const bool other = wanted != nullptr && (is == nullptr || !(*is == *wanted));
  mark_->setVisible(other);
  if (other) mark_->setText(spoken("series: " + shown_field(series->fields, field_, host_->units())));
}

void FieldEdit::refresh() {
  refresh_mark();
  const Fields& fields = host_->record().fields;
  if (choice_ != nullptr) {
    const bool yes = field_.kind == FieldKind::flag && fields.flag(field_.path);
    const int at = choice_->findData(yes ? QString("true") : qs(fields.text(field_.path)));
    choice_->setCurrentIndex(std::max(0, at));
    return;
  }
  if (!words_.empty()) {
    const std::vector<std::string> on = words_of(fields.text(field_.path));
    if (so_far_ != nullptr) {
      QStringList all;
      for (size_t i = 0; i < on.size(); ++i)
        for (const Choice& c : field_.choices)
          if (c.value == on[i]) all << QString::number(i + 1) + " " + qs(c.label);
      so_far_->setText(spoken(all.isEmpty() ? QString("nothing said yet") : all.join("   ")));
    }
    for (QPushButton* b : words_)
      b->setChecked(std::find(on.begin(), on.end(), b->property("word").toString().toStdString()) != on.end());
    return;
  }
  if (picture_ != nullptr) {
    const QString size = shown_field(fields, field_, host_->units());
    picture_->setText(spoken(size.isEmpty() ? "Attach…" : "Take away, " + size));
    return;
  }
  if (line_->isModified()) return;
  mark_bad(line_, false);
  const FieldValue* v = fields.find(field_.path);
  QString tip = qs(field_.hint);
  if (v != nullptr)
    for (const Reading& r : fields.readings(field_.path))
      tip = "Typed: " + qs(r.typed) + (field_.hint.empty() ? "" : "\n" + qs(field_.hint));
  line_->setText(shown_field(fields, field_, host_->units()));
  line_->setToolTip(spoken(tip));
  line_->setCursorPosition(0);
}

}  // namespace fortitor
