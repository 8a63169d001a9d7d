// The sides of the spectrum desk: its steps and weeks, and the settings of the step in hand.
#include <QInputDialog>
#include <QPushButton>
#include <cmath>

#include "app/figures/take_along.h"
#include "app/frame/desk_frame.h"
#include "app/spectrum/spectrum_desk.h"
#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/spectrum/chain.h"

namespace fortitor {

using parts::qs;
using spectrum::ChainStep;

namespace {

std::vector<const char*> fields_of(int step) {
  switch (ChainStep(step)) {
    case ChainStep::raw:
      return {"specimen.id",    "settings.rate",     "settings.format", "settings.column",
              "settings.scale", "settings.sentinel", "settings.spikes"};
    case ChainStep::level: return {"settings.level", "settings.block"};
    case ChainStep::smooth: return {"settings.cut"};
    case ChainStep::turn: return {"settings.gate"};
    case ChainStep::count: return {"settings.count"};
    case ChainStep::cut:
      return {"settings.p", "settings.share", "settings.modulus", "settings.detail", "settings.m", "settings.d"};
    case ChainStep::chain: return {"settings.levels"};
    case ChainStep::drive:
      return {"settings.length",    "settings.seed",     "settings.area",         "settings.thermal.range",
              "settings.rig.force", "settings.rig.rate", "settings.rig.frequency"};
  }
  return {};
}

}  // namespace

void SpectrumDesk::build_left(QVBoxLayout* into) {
  auto* head = new QHBoxLayout;
  heading_ = parts::label("", "heading");
  heading_->setWordWrap(true);
  head->addWidget(heading_, 1);
  weeks_ = new FlowLayout(6);
  head->addLayout(weeks_, 1);
  auto* add = parts::button("Add weeks…", "spectrum-more");
  connect(add, &QPushButton::clicked, this, [this] {
    add_weeks(QFileDialog::getOpenFileNames(
        this, spoken("Weeks of strain"), {},
        parts::file_kinds("Signals", "*.f32 *.f64 *.csv *.txt") + ";;" + parts::file_kinds("All files", "*")));
  });
  head->addWidget(add);
  into->addLayout(head);
  auto sheet = [&](QWidget* content, int stretch) {
    auto* s = parts::sheet();
    parts::column(s, 4, 0)->addWidget(content, 1);
    into->addWidget(s, stretch);
  };
  week_ = new WeekView;
  new TakeAlong(week_, "Week", [this] { return week_->table(); });
  sheet(week_, 3);
  window_ = new FigureView;
  window_->setMinimumHeight(120);
  sheet(window_, 5);
  picture_ = new FigureView;
  picture_->setMinimumHeight(170);
  sheet(picture_, 6);
  connect(week_, &WeekView::window_moved, this, &SpectrumDesk::show_window);
  connect(picture_, &FigureView::dragged, this, [this](const Handle& h, double v) { drag(h, v, false); });
  connect(picture_, &FigureView::released, this, [this](const Handle& h, double v) { drag(h, v, true); });
  connect(picture_, &FigureView::picked, this, [this](const QString& key) {
    open_how_ = open_how_ == key ? QString() : key;
    show_ledger();
  });
}

void SpectrumDesk::build_right(QVBoxLayout* into) {
  // They scroll as one: a form of large letters leaves the ledger its room.
  auto* both = new QWidget;
  auto* place = parts::column(both, 0, 8);
  auto* choices = parts::sheet();
  form_place_ = parts::column(choices, 12, 6);
  place->addWidget(choices);
  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 12, 6);
  column->addWidget(parts::label("Ledger", "title"));
  ledger_ = parts::label("");
  ledger_->setTextFormat(Qt::RichText);
  ledger_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
  ledger_->setAccessibleName(spoken("Results of the spectrum"));
  ledger_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  connect(ledger_, &QLabel::linkActivated, this, [this](const QString& key) {
    open_how_ = open_how_ == key ? QString() : key;
    picture_->highlight(open_how_.toStdString());
    show_ledger();
  });
  column->addWidget(ledger_);
  column->addSpacing(4);
  findings_ = new QVBoxLayout;
  findings_->setSpacing(6);
  column->addLayout(findings_);
  used_ = parts::label("", "hint");
  column->addWidget(used_);
  column->addStretch();
  place->addWidget(sheet, 1);
  into->addWidget(parts::scroller(both), 1);
  auto* buttons = new QGridLayout;
  buttons->setSpacing(6);
  study_ = parts::button("Block length…", "spectrum-study");
  study_->setToolTip(spoken("Twenty drives at every length: which one repeats the damage of its source."));
  life_button_ = parts::button("Life", "spectrum-life");
  life_button_->setCheckable(true);
  drive_ = parts::button("Drive file…", "spectrum-drive", "primary");
  report_ = parts::button("Report…", "spectrum-report");
  buttons->addWidget(study_, 0, 0);
  buttons->addWidget(life_button_, 0, 1);
  buttons->addWidget(report_, 1, 0);
  buttons->addWidget(drive_, 1, 1);
  into->addLayout(buttons);
  connect(study_, &QPushButton::clicked, this, &SpectrumDesk::study);
  connect(life_button_, &QPushButton::toggled, this, [this](bool on) {
    life_ = on;
    show_picture();
  });
  connect(drive_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getSaveFileName(this, spoken("Drive file"), qs(record_.specimen_id()) + ".csv",
                                                      parts::file_kinds("Drive", "*.csv *.drive"), nullptr,
                                                      QFileDialog::DontConfirmOverwrite);
    if (path.isEmpty()) return;
    const auto done = write_drive(path);
    bench_->say(done ? "Drive saved: " + path : qs(done.error().message));
  });
  connect(report_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getSaveFileName(
        this, spoken("Spectrum report"), qs(record_.specimen_id()) + ".pdf",
        parts::file_kinds("Report", "*.pdf *.html"), nullptr, QFileDialog::DontConfirmOverwrite);
    if (path.isEmpty()) return;
    const auto done = write_report(path);
    bench_->say(done ? "Report saved: " + path : qs(done.error().message));
  });
}

void SpectrumDesk::rebuild_form() {
  parts::clear(form_place_);
  auto* title = parts::label(qs(spectrum::name_of(ChainStep(step_))), "title");
  form_place_->addWidget(title);
  form_ = new FieldForm(this);
  std::vector<const FieldSpec*> fields;
  for (const char* path : fields_of(step_)) fields.push_back(spectrum::schema().field(path));
  form_->show_fields(fields, fields.size() > 1 ? 2 : 1);
  // An empty field says what holds without it.
  static const std::map<QString, QString> usual = {{"settings.block", "1 h"},
                                                   {"settings.cut", "2 Hz"},
                                                   {"settings.gate", "0.5 µε"},
                                                   {"settings.p", "0.002"},
                                                   {"settings.share", "0.25"},
                                                   {"settings.modulus", "210 GPa"},
                                                   {"settings.detail", "71 MPa"},
                                                   {"settings.m", "3"},
                                                   {"settings.d", "1"},
                                                   {"settings.levels", "64"},
                                                   {"settings.length", "100000"},
                                                   {"settings.seed", "1"},
                                                   {"settings.scale", "1"},
                                                   {"settings.column", "the last"},
                                                   {"settings.thermal.range", "none"}};
  for (auto* line : form_->findChildren<QLineEdit*>())
    if (const auto it = usual.find(line->property("key").toString()); it != usual.end())
      line->setPlaceholderText(spoken(it->second));
  form_place_->addWidget(form_);
  faults_ = nullptr;
  if (step_ == int(ChainStep::raw)) {
    faults_ = parts::label("", "quiet");
    faults_->setTextFormat(Qt::RichText);
    faults_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    faults_->setAccessibleName(spoken("Where nothing sound was measured"));
    faults_->setText(spoken(faults_html()));
    connect(faults_, &QLabel::linkActivated, this, [this](const QString& to) {
      show_week(to.section(':', 0, 0).toInt());
      week_->set_window(to.section(':', 1).toDouble() - week_->length() / 2, week_->length());
    });
    auto* area = parts::scroller(faults_);
    area->setMaximumHeight(110);
    form_place_->addWidget(area);
  }
  if (step_ == int(ChainStep::drive)) {
    auto* test = new QLineEdit;
    test->setProperty("key", "spectrum-block-test");
    test->setAccessibleName(spoken("Block test"));
    test->setPlaceholderText(spoken("block test: 240 MPa; 1900000; ran out"));
    connect(test, &QLineEdit::returnPressed, this, [this, test] {
      add_block_test(test->text());
      test->clear();
    });
    form_place_->addWidget(test);
    for (const Row& row : record_.run.rows("blocks"))
      form_place_->addWidget(
          parts::label(qs(format_value(row.number("range").value_or(0), Dimension::stress, units(), 4) +
                          " as largest range, " + plain_number(row.number("cycles").value_or(0), 9) + " cycles" +
                          (row.cells.flag("runout") ? ", ran out" : "")),
                       "quiet"));
  }
}

void SpectrumDesk::add_block_test(const QString& typed) {
  const QStringList parts = typed.split(';');
  const auto range = parse_quantity(parts.value(0).trimmed().toStdString(), Dimension::stress);
  const auto cycles = parse_quantity(parts.value(1).trimmed().toStdString(), Dimension::none);
  if (!range || !(range->value > 0)) return say("A block test wants its largest range first, such as 240 MPa.");
  if (!cycles || !(cycles->value > 0)) return say("Behind the range a block test wants its cycles: 240 MPa; 1900000.");
  const bool out = parts.value(2).contains("out", Qt::CaseInsensitive);
  edit("block test " + typed.trimmed(), [&](TestRecord& r) {
    Row row;
    row.cells.set("range", reading_of(*range));
    row.cells.set("cycles", cycles->value);
    row.cells.set("runout", out);
    r.run.tables["blocks"].push_back(row);
  });
  rebuild_form();
  life_button_->setChecked(true);
}

}  // namespace fortitor
