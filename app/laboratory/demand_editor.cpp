#include "app/laboratory/demand_editor.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPainter>
#include <cmath>

#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

BandView::BandView(const lab::DemandRow& row, double from, double to, QWidget* parent)
    : QWidget(parent), row_(row), from_(from), to_(to) {
  setAccessibleName(spoken("Allowed: " + qs(row.words())));
}

QSize BandView::sizeHint() const {
  return {theme::px(220), theme::px(24)};
}

void BandView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double mid = height() / 2.0, left = 4, right = width() - 4;
  const auto x = [&](double v) { return left + (right - left) * (v - from_) / std::max(1e-12, to_ - from_); };
  p.setPen(QPen(theme::color(Ink::hairline), 1.4));
  p.drawLine(QPointF(left, mid), QPointF(right, mid));
  const auto &min = row_.limit.min, &max = row_.limit.max;
  const double a = min && min->value ? x(*min->value) : left, b = max && max->value ? x(*max->value) : right;
  if (!min && !max) return;
  QColor band = theme::color(Ink::meets);
  band.setAlphaF(row_.needed ? 0.55f : 0.25f);
  p.setPen(Qt::NoPen);
  p.setBrush(band);
  p.drawRect(QRectF(a, mid - theme::scaled(4), std::max(2.0, b - a), theme::scaled(8)));
  p.setPen(QPen(theme::color(Ink::ink), 1.8));
  for (const auto& [bound, at] : {std::pair(&min, a), {&max, b}})
    if (*bound) p.drawLine(QPointF(at, mid - theme::scaled(8)), QPointF(at, mid + theme::scaled(8)));
  // An open end says so: the band goes on.
  p.setBrush(theme::color(Ink::meets));
  p.setPen(Qt::NoPen);
  const double u = theme::scaled(4);
  if (!max) p.drawPolygon(QPolygonF({{right - u, mid - u}, {right, mid}, {right - u, mid + u}}));
  if (!min) p.drawPolygon(QPolygonF({{left + u, mid - u}, {left, mid}, {left + u, mid + u}}));
}

namespace {

constexpr std::pair<const char*, const char*> kHeadFields[] = {
    {"name", "Name"},   {"source", "Source"},         {"edition", "Edition"}, {"product", "Product"},
    {"grade", "Grade"}, {"above", "Thickness above"}, {"to", "Thickness to"}};
constexpr std::pair<const char*, const char*> kRowFields[] = {{"min", "At least"},
                                                              {"max", "At most"},
                                                              {"row-above", "Thickness above"},
                                                              {"row-to", "Thickness to"},
                                                              {"temperature", "Temperature"},
                                                              {"pieces", "Pieces"}};

QString typed(const std::optional<Reading>& r) {
  return r ? qs(r->typed) : QString();
}

}  // namespace

DemandEditor::DemandEditor(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  auto* outer = parts::column(this, 0, 8);
  const auto line = [&](QGridLayout* grid, const char* key, const char* label, int at, int across) {
    auto* box = new QVBoxLayout;
    box->setSpacing(2);
    box->addWidget(parts::label(label, "hint"));
    auto* edit = new QLineEdit;
    edit->setProperty("key", "demand-" + QString(key));
    edit->setAccessibleName(spoken(label));
    words_[key] = edit;
    box->addWidget(edit);
    grid->addLayout(box, at / across, at % across);
  };
  auto* head = new QGridLayout;
  int at = 0;
  for (const auto& [key, label] : kHeadFields) line(head, key, label, at++, 4);
  auto* way = new QVBoxLayout;
  way->setSpacing(2);
  way->addWidget(parts::label("Direction", "hint"));
  direction_ = new QComboBox;
  direction_->setAccessibleName(spoken("Direction"));
  for (const auto& [value, words] : {std::pair("", "any"),
                                     {"longitudinal", "along"},
                                     {"transverse", "across"},
                                     {"through", "through the thickness"}})
    direction_->addItem(spoken(words), value);
  way->addWidget(direction_);
  head->addLayout(way, 1, 3);
  outer->addLayout(head);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(2);
  outer->addSpacing(4);
  outer->addLayout(rows_);
  outer->addSpacing(4);
  outer->addWidget(parts::label("A demand", "title"));
  auto* choose = new FlowLayout(6);
  const auto box = [&](const char* name) {
    auto* b = new QComboBox;
    b->setAccessibleName(spoken(name));
    b->setProperty("key", "demand-" + QString(name).toLower());
    choose->addWidget(b);
    return b;
  };
  method_ = box("Method");
  result_ = box("Result");
  rule_ = box("Rule");
  compared_ = box("Compared");
  outer->addLayout(choose);
  for (const Method* m : methods::all()) method_->addItem(spoken(qs(m->name)), qs(m->id));
  for (const auto& [value, words] : {std::pair("every", "every piece"),
                                     {"mean-of-three", "mean, one may lie below"},
                                     {"retest", "two more for one that fails"}})
    rule_->addItem(spoken(words), value);
  for (const auto& [value, words] : {std::pair("absolute", "as computed"), {"rounded", "rounded like the limit"}})
    compared_->addItem(spoken(words), value);
  connect(method_, &QComboBox::currentIndexChanged, this, [this] { fill_results(); });
  auto* fields = new QGridLayout;
  at = 0;
  for (const auto& [key, label] : kRowFields) line(fields, key, label, at++, 6);
  outer->addLayout(fields);
  auto* act = new QHBoxLayout;
  auto* add = parts::button("Take the demand", "demand-take");
  connect(add, &QPushButton::clicked, this, &DemandEditor::take_row);
  act->addWidget(add);
  act->addStretch();
  auto* gone = parts::button("Take out of use", "demand-gone");
  connect(gone, &QPushButton::clicked, this, [this] {
    const auto done = Papers(*bench_->book()).remove(sheet_);
    if (!done) return bench_->say(qs(done.error().message));
    bench_->say("");
    emit kept("");
  });
  act->addWidget(gone);
  auto* keep_button = parts::button("Keep the sheet", "demand-keep", "primary");
  connect(keep_button, &QPushButton::clicked, this, &DemandEditor::keep);
  act->addWidget(keep_button);
  outer->addLayout(act);
  fill_results();
}

void DemandEditor::fill_results() {
  result_->clear();
  const Method* m = methods::find(method_->currentData().toString().toStdString());
  if (m == nullptr) return;
  TestRecord empty;
  empty.method = m->id;
  for (const ResultSpec& s : m->reported(empty))
    result_->addItem(spoken(qs(plain_symbol(s.symbol) + "  " + s.name)), qs(s.key));
}

void DemandEditor::show_sheet(const lab::DemandSheet& sheet) {
  sheet_ = sheet;
  words_["name"]->setText(qs(sheet.name));
  words_["source"]->setText(qs(sheet.source));
  words_["edition"]->setText(qs(sheet.edition));
  words_["product"]->setText(qs(sheet.product));
  words_["grade"]->setText(qs(sheet.grade));
  words_["above"]->setText(typed(sheet.thickness.above));
  words_["to"]->setText(typed(sheet.thickness.to));
  direction_->setCurrentIndex(std::max(0, direction_->findData(qs(sheet.direction))));
  editing_ = -1;
  show_rows();
}

void DemandEditor::show_rows() {
  parts::clear(rows_);
  // One axis for what has one unit: bands can be compared.
  std::map<Dimension, std::pair<double, double>> axes;
  const auto dimension = [](const lab::DemandRow& r) {
    const Method* m = methods::find(r.method);
    const auto spec = m != nullptr ? m->result(r.key) : std::nullopt;
    return spec ? base_dimension(spec->dimension) : Dimension::none;
  };
  for (const lab::DemandRow& r : sheet_.rows)
    for (const auto* bound : {&r.limit.min, &r.limit.max})
      if (*bound && (*bound)->value) {
        auto& [from, to] = axes.try_emplace(dimension(r), 0.0, 0.0).first->second;
        from = std::min(from, *(*bound)->value);
        to = std::max(to, 1.25 * *(*bound)->value);
      }
  for (size_t n = 0; n < sheet_.rows.size(); ++n) {
    const lab::DemandRow& r = sheet_.rows[n];
    auto* row = new QHBoxLayout;
    const Method* m = methods::find(r.method);
    row->addWidget(parts::label(m != nullptr ? qs(m->short_name) : qs(r.method), "quiet"), 1);
    row->addWidget(
        parts::label(qs(r.words()) + (r.needed ? "" : ", for information"), int(n) == editing_ ? "title" : ""), 3);
    const auto [from, to] = axes.count(dimension(r)) ? axes[dimension(r)] : std::pair(0.0, 1.0);
    row->addWidget(new BandView(r, from, to));
    row->addWidget(parts::label(QString::number(r.pieces) + (r.pieces == 1 ? " piece" : " pieces") +
                                    (r.rule == lab::SetRule::every ? "" : ", " + qs(lab::set_rule_word(r.rule))),
                                "quiet"),
                   1);
    const auto act = [&](const QString& words, const QString& key, auto what) {
      auto* b = parts::button(words, key + QString::number(n));
      connect(b, &QPushButton::clicked, this, [this, what] {
        QMetaObject::invokeMethod(this, what, Qt::QueuedConnection);  // the button goes with its row
      });
      row->addWidget(b);
    };
    act("Edit", "demand-edit:", [this, n] { edit_row(n); });
    act("Remove", "demand-remove:", [this, n] {
      if (n < sheet_.rows.size()) sheet_.rows.erase(sheet_.rows.begin() + long(n));
      editing_ = -1;
      show_rows();
    });
    rows_->addLayout(row);
  }
  if (sheet_.rows.empty()) rows_->addWidget(parts::label("No demand yet: write the first one below.", "quiet"));
}

void DemandEditor::edit_row(size_t n) {
  if (n >= sheet_.rows.size()) return;
  editing_ = int(n);
  const lab::DemandRow& r = sheet_.rows[n];
  method_->setCurrentIndex(std::max(0, method_->findData(qs(r.method))));
  fill_results();
  result_->setCurrentIndex(std::max(0, result_->findData(qs(r.key))));
  rule_->setCurrentIndex(std::max(0, rule_->findData(qs(lab::set_rule_word(r.rule)))));
  compared_->setCurrentIndex(std::max(0, compared_->findData(qs(r.compared))));
  words_["min"]->setText(typed(r.limit.min));
  words_["max"]->setText(typed(r.limit.max));
  words_["row-above"]->setText(typed(r.thickness.above));
  words_["row-to"]->setText(typed(r.thickness.to));
  words_["temperature"]->setText(typed(r.temperature));
  words_["pieces"]->setText(QString::number(r.pieces));
  show_rows();
  words_["min"]->setFocus();
}

// Typed text goes the way of a file: the same words are read, and refused with the same sentences.
void DemandEditor::take_row() {
  const auto text = [&](const char* key) { return words_[key]->text().trimmed().toStdString(); };
  const auto read = lab::demand_row_of({{"method", method_->currentData().toString().toStdString()},
                                        {"key", result_->currentData().toString().toStdString()},
                                        {"min", text("min")},
                                        {"max", text("max")},
                                        {"above", text("row-above")},
                                        {"to", text("row-to")},
                                        {"temperature", text("temperature")},
                                        {"pieces", text("pieces")},
                                        {"rule", rule_->currentData().toString().toStdString()},
                                        {"compared", compared_->currentData().toString().toStdString()}});
  if (!read) return bench_->say(qs(read.error().message));
  lab::DemandSheet with = sheet_;
  if (editing_ >= 0 && editing_ < int(with.rows.size()))
    with.rows[size_t(editing_)] = *read;
  else
    with.rows.push_back(*read);
  with.name = with.name.empty() ? "sheet" : with.name;
  if (const auto fine = lab::check(with); !fine) return bench_->say(qs(fine.error().message));
  bench_->say("");
  sheet_.rows = with.rows;
  editing_ = -1;
  for (const auto& [key, label] : kRowFields) words_[key]->clear();
  show_rows();
}

void DemandEditor::keep() {
  const auto text = [&](const char* key) { return words_[key]->text().trimmed().toStdString(); };
  lab::DemandSheet s = sheet_;
  // A shipped sheet that is changed becomes one of the book's.
  s.name = text("name");
  s.source = text("source");
  s.edition = text("edition");
  s.product = text("product");
  s.grade = text("grade");
  s.direction = direction_->currentData().toString().toStdString();
  s.entered_by = bench_->book()->operator_name();
  const auto range = lab::thickness_of(text("above"), text("to"));
  if (!range) return bench_->say(qs(range.error().message));
  s.thickness = *range;
  const auto kept_now = Papers(*bench_->book()).save(s);
  if (!kept_now) return bench_->say(qs(kept_now.error().message));
  s.id = *kept_now;
  sheet_ = s;
  bench_->say("");
  emit kept(qs(s.name));
}

}  // namespace fortitor
