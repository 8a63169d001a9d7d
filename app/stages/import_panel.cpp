#include "app/stages/import_panel.h"

#include <QComboBox>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QLineEdit>
#include <QMimeData>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

namespace {

constexpr const char* kWhat =
    "Any table from a machine: text in every spelling, or a workbook. Separators, decimal marks, names, units, clock "
    "times and several specimens in one file are found by themselves.";

}  // namespace

ImportPanel::ImportPanel(Workbench* bench, QWidget* parent)
    : QWidget(parent), bench_(bench), evaluator_(&bench->tasks()) {
  connect(&evaluator_, &Evaluator::done, this, &ImportPanel::draw);
  setAcceptDrops(true);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(12);
  auto* left = parts::sheet();
  left->setMinimumWidth(380);
  auto* column = parts::column(left, 14, 8);
  title_ = parts::label("Drop a file here", "heading");
  column->addWidget(title_);
  status_ = parts::label(kWhat, "quiet");
  column->addWidget(status_);
  auto* open_button = parts::button("Open a file…", "import-open");
  connect(open_button, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, spoken("A machine's file"), {},
                                     parts::file_kinds("Tables", "*.csv *.txt *.dat *.tsv *.asc *.xlsx") + ";;" +
                                         parts::file_kinds("All files", "*"));
    if (!path.isEmpty()) open(path);
  });
  auto* open_row = new QHBoxLayout;
  open_row->addWidget(open_button);
  open_row->addStretch();
  spread_ = parts::button("Spread over the series", "import-spread");
  connect(spread_, &QPushButton::clicked, this, &ImportPanel::spread);
  spread_->hide();
  open_row->addWidget(spread_);
  column->addLayout(open_row);
  block_bar_ = new QWidget;
  block_bar_->setObjectName("plain");
  auto* block_row = new QHBoxLayout(block_bar_);
  block_row->setContentsMargins(0, 0, 0, 0);
  block_row->addWidget(parts::label("Specimen", "hint"));
  blocks_ = new QComboBox;
  blocks_->setProperty("key", "import-block");
  blocks_->setAccessibleName(spoken("Which specimen of the file"));
  connect(blocks_, &QComboBox::activated, this, [this](int i) { choose(size_t(i)); });
  block_row->addWidget(blocks_, 1);
  block_bar_->hide();
  column->addWidget(block_bar_);
  auto* content = new QWidget;
  content->setObjectName("plain");
  grid_ = new QGridLayout(content);
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(8);
  column->addWidget(parts::scroller(content), 1);
  auto* foot = new QHBoxLayout;
  removed_label_ = parts::label("Extensometer off at", "hint");
  foot->addWidget(removed_label_);
  removed_ = new QLineEdit;
  removed_->setObjectName("number");
  removed_->setProperty("key", "import-removed");
  removed_->setPlaceholderText(spoken("not taken off"));
  removed_->setAccessibleName(spoken("Extensometer off at"));
  removed_->setFixedWidth(int(132 * theme::scale()));
  connect(removed_, &QLineEdit::editingFinished, this, &ImportPanel::preview);
  foot->addWidget(removed_);
  foot->addStretch();
  import_ = parts::button("Import", "import-keep", "primary");
  connect(import_, &QPushButton::clicked, this, &ImportPanel::import);
  foot->addWidget(import_);
  column->addLayout(foot);
  layout->addWidget(left, 4);
  auto* right = parts::sheet();
  auto* right_column = parts::column(right, 10, 4);
  figure_ = new FigureView;
  figure_->set_first_panel_only(true);
  figure_->show_nothing("The preview curve appears here.");
  right_column->addWidget(figure_, 1);
  layout->addWidget(right, 5);
  import_->setEnabled(false);
}

ImportPanel::~ImportPanel() = default;

void ImportPanel::rebuild() {
  session_.reset();
  ready_ = false;
  block_bar_->hide();
  spread_->hide();
  parts::clear(grid_);
  title_->setText(spoken("Drop a file here"));
  status_->setText(spoken(kWhat));
  const bool clipped = bench_->has_specimen() && bench_->method().slot("extensometer") != nullptr;
  removed_label_->setVisible(clipped);
  removed_->setVisible(clipped);
  removed_->clear();
  import_->setEnabled(false);
  figure_->show_nothing("The preview curve appears here.");
}

void ImportPanel::refresh() {
  figure_->update();
}

void ImportPanel::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void ImportPanel::dropEvent(QDropEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (!urls.isEmpty()) open(urls.first().toLocalFile());
}

void ImportPanel::open(const QString& path) {
  if (reading_) bench_->tasks().cancel(reading_);
  path_ = path;
  ready_ = false;
  title_->setText(QFileInfo(path).fileName());
  status_->setText(spoken("Reading…"));
  using Session = std::shared_ptr<ImportSession>;
  auto result = std::make_shared<Outcome<Session>>(InputError{"", {}});
  reading_ = bench_->tasks().run(
      "Reading the file " + QFileInfo(path).fileName(), this,
      [path, result](Task& task) {
        *result = ImportSession::read(path.toStdString(), [&](double share) {
          task.set_progress(share);
          return !task.stopped();
        });
      },
      [this, path, result] {
        if (path != path_) return;
        if (!*result) {
          rebuild();
          title_->setText(QFileInfo(path_).fileName());
          status_->setText(spoken("Not imported. " + qs(result->error().message) + " The file is untouched."));
        } else {
          session_ = **result;
          show_file();
        }
        emit read();
      },
      [this] {
        rebuild();
        status_->setText(spoken("Stopped. The file is untouched."));
      });
}

void ImportPanel::show_file() {
  blocks_->clear();
  for (size_t i = 0; i < session_->blocks(); ++i) blocks_->addItem(spoken(qs(session_->block_words(i))));
  const size_t pieces = waiting().size();
  block_bar_->setVisible(session_->blocks() > 1);
  spread_->setVisible(session_->blocks() > 1);
  spread_->setEnabled(pieces > 1);
  spread_->setToolTip(spoken(pieces > 1
                                 ? "One specimen of the file after the other to the pieces of the series that wait"
                                 : "No other piece of the series waits for a run"));
  choose(0);
}

void ImportPanel::choose(size_t block) {
  session_->choose(block, bench_->method(), bench_->book()->mapping(session_->signature(block)));
  show_table();
}

// This piece and those after it in its series that have no run yet.
std::vector<SpecimenRow> ImportPanel::waiting() const {
  std::vector<SpecimenRow> out;
  const auto here = bench_->book()->specimen(bench_->specimen());
  if (!here) return out;
  bool reached = false;
  for (const SpecimenRow& row : bench_->book()->specimens(here->series)) {
    reached = reached || row.id == here->id;
    if (reached && row.stages[size_t(Stage::run)] == '0') out.push_back(row);
  }
  return out;
}

void ImportPanel::show_table() {
  parts::clear(grid_);
  status_->setText(spoken(qs(session_->words())));
  int r = 0;
  for (const char* h : {"column", "is", "unit", "up to"}) grid_->addWidget(parts::label(h, "hint"), 0, r++);
  const auto& columns = session_->columns();
  for (size_t i = 0; i < columns.size(); ++i) {
    const ImportSession::Column& c = columns[i];
    auto* channel = new QComboBox;
    channel->addItem(spoken("left out"), "");
    for (const ChannelSpec& spec : bench_->method().channels) channel->addItem(spoken(qs(spec.label)), qs(spec.name));
    channel->setCurrentIndex(std::max(0, channel->findData(qs(c.channel))));
    channel->setProperty("key", "import-channel-" + QString::number(i));
    channel->setAccessibleName(spoken("Column " + qs(c.name) + " is"));
    auto* unit = new QLineEdit(qs(c.unit));
    unit->setObjectName("number");
    unit->setFixedWidth(int(64 * theme::scale()));
    unit->setProperty("key", "import-unit-" + QString::number(i));
    unit->setAccessibleName(spoken("Unit of " + qs(c.name)));
    auto* values = parts::label(std::isfinite(c.peak) ? qs(significant(c.peak, 3)) : QString("–"), "hint");
    values->setWordWrap(false);
    const int line = int(i) + 1;
    grid_->addWidget(parts::label(qs(c.name)), line, 0);
    grid_->addWidget(channel, line, 1);
    grid_->addWidget(unit, line, 2);
    grid_->addWidget(values, line, 3);
    connect(channel, &QComboBox::activated, this, [this, i, channel] {
      session_->set_channel(i, channel->currentData().toString().toStdString());
      preview();
    });
    connect(unit, &QLineEdit::editingFinished, this, [this, i, unit] {
      session_->set_unit(i, unit->text().trimmed().toStdString());
      preview();
    });
  }
  grid_->setRowStretch(int(columns.size()) + 1, 1);
  preview();
}

void ImportPanel::preview() {
  if (!session_) return;
  ready_ = false;
  drawing_ = 0;  // what was asked for before is outdated
  import_->setEnabled(false);
  if (const std::string missing = session_->missing(bench_->method()); !missing.empty())
    return figure_->show_nothing("Say which column is " + qs(missing) + ".");
  convert({session_->block()}, [this, record = bench_->record(), session = session_,
                                block = session_->block()](const Outcome<std::vector<SamplesPtr>>& samples) mutable {
    if (session != session_ || block != session_->block()) return;  // another table is shown by now
    if (samples)
      preview_of(std::move(record), samples->front());
    else
      figure_->show_nothing("In this file " + qs(samples.error().message));
  });
}

void ImportPanel::preview_of(TestRecord record, const SamplesPtr& samples) {
  record.run.set_samples(samples);
  record.events.clear();
  if (const QString typed = removed_->text().trimmed(); !typed.isEmpty()) {
    const auto at = parse_quantity(typed.toStdString(), Dimension::time);
    if (!at) {
      bench_->say("Extensometer off at: " + qs(at.error().message));
      return;
    }
    record.events.push_back({at->value, "extensometer-removed", ""});
  }
  drawing_ = evaluator_.request(record, bench_->today());
  const bool done = bench_->record().run.has_samples();
  if (done)
    status_->setText(
        spoken("This piece has its run already. A raw run is never changed; put another specimen on the bench."));
  ready_ = !done;
  import_->setEnabled(ready_);
}

void ImportPanel::draw(quint64 ticket, const EvaluationPtr& e) {
  if (ticket != drawing_) return;
  if (e->figures.empty())
    figure_->show_nothing("The columns are read. The curve wants the sizes first: measure the piece.");
  else
    figure_->show_figure(e->figures.front(), bench_->units());
}

std::vector<Event> ImportPanel::events() const {
  std::vector<Event> events;
  if (const auto at = parse_quantity(removed_->text().trimmed().toStdString(), Dimension::time); at)
    events.push_back({at->value, "extensometer-removed", ""});
  return events;
}

// Keeps the mapping for the next file of the kind; a sentence when it could not be kept.
QString ImportPanel::remember() {
  const auto kept = bench_->book()->remember_mapping(session_->signature(session_->block()), session_->memory());
  return kept ? QString() : " " + qs(kept.error().message);
}

}  // namespace fortitor
