#include "app/laboratory/laboratory_desk.h"

#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>

#include "app/frame/desk_frame.h"
#include "app/laboratory/demand_editor.h"
#include "app/model/my_key.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "report/page.h"
#include "store/clock.h"
#include "store/keys.h"

namespace fortitor {

using parts::qs;

namespace {

constexpr std::pair<LaboratoryDesk::Part, const char*> kParts[] = {
    {LaboratoryDesk::Part::letterhead, "Letterhead"}, {LaboratoryDesk::Part::customers, "Customers"},
    {LaboratoryDesk::Part::people, "People"},         {LaboratoryDesk::Part::templates, "Templates"},
    {LaboratoryDesk::Part::demands, "Demand sheets"}, {LaboratoryDesk::Part::documents, "Register"}};

const char* lead_of(LaboratoryDesk::Part part) {
  switch (part) {
    case LaboratoryDesk::Part::letterhead: return "Stands at the head of every document. Set once.";
    case LaboratoryDesk::Part::customers: return "Typed once, found by name in every job.";
    case LaboratoryDesk::Part::people:
      return "While nobody here keeps the book everybody may do everything. With the first who does, the rights hold.";
    case LaboratoryDesk::Part::templates: return "What a customer's documents hold, and in which language.";
    case LaboratoryDesk::Part::demands:
      return "What a standard, a drawing or a customer demands. The standard itself decides; check its edition.";
    case LaboratoryDesk::Part::documents:
      return "Every document that was issued, in the order of its number. Nothing vanishes.";
  }
  return "";
}

}  // namespace

LaboratoryDesk::LaboratoryDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  host_ = new EntryHost(bench, this);
  const DeskFrame frame(this, "Laboratory");
  auto* head = frame.head();
  for (const auto& [part, words] : kParts) {
    auto* b = parts::button(words, "laboratory:" + QString(words));
    b->setCheckable(true);
    connect(b, &QPushButton::clicked, this, [this, p = part] { open(0, int(p)); });
    parts_.push_back(b);
    head->addWidget(b);
  }
  head->addStretch();
  auto* row = frame.row();
  list_sheet_ = parts::sheet();
  list_ = parts::column(list_sheet_, 10, 4);
  auto* list_area = parts::scroller(list_sheet_);
  row->addWidget(DeskFrame::side(list_area, 230));
  auto* card = parts::sheet();
  card_ = parts::column(card, 16, 8);
  row->addWidget(parts::scroller(card), 1);
  // The form stays as it is while it is typed into: a click that ends a field must still meet its button.
  connect(host_, &EntryHost::changed, this, [this] {
    if (part_ == Part::demands || part_ == Part::documents || form_ == nullptr) return;
    if (const auto wanted = host_->shown(); wanted != asked_) {
      asked_ = wanted;
      form_->show_fields(asked_, 2);
    }
    form_->refresh();
    if (host_->entry().id == 0) return;
    fresh_ = false;
    const bool named = std::exchange(picked_, host_->entry().name) != host_->entry().name;
    if (!named || part_ == Part::letterhead) return;
    head_->setText(qs(picked_));
    QMetaObject::invokeMethod(
        this,
        [this] {
          list_entries();
          if (more_->count() == 0) show_more();
        },
        Qt::QueuedConnection);
  });
}

void LaboratoryDesk::open(Id, int detail) {
  if (detail >= 0 && detail != int(part_)) {
    picked_.clear();
    fresh_ = false;
  }
  if (detail >= 0) part_ = Part(detail);
  show_part();
}

QPushButton* LaboratoryDesk::list_button(const QString& words, const QString& key, bool here) {
  auto* b = parts::button(words, key);
  b->setCheckable(true);
  b->setChecked(here);
  b->setStyleSheet("text-align: left; padding-left: 10px;");
  return b;
}

void LaboratoryDesk::show_part() {
  for (size_t i = 0; i < parts_.size(); ++i) parts_[i]->setChecked(int(i) == int(part_));
  parts::clear(list_);
  parts::clear(card_);
  form_ = nullptr;
  editor_ = nullptr;
  const bool listed = part_ != Part::letterhead && part_ != Part::documents;
  list_sheet_->parentWidget()->parentWidget()->setVisible(listed);
  card_->addWidget(parts::label(lead_of(part_), "hint"));
  switch (part_) {
    case Part::letterhead:
      if (const auto head = Papers(static_cast<const Book&>(*bench_->book())).letterhead())
        show_entry(*head);
      else
        bench_->say(qs(head.error().message));
      break;
    case Part::customers:
    case Part::people:
    case Part::templates: show_entries(); break;
    case Part::demands: show_sheets(); break;
    case Part::documents: show_register(); break;
  }
  card_->addStretch();
}

namespace {

std::pair<std::string_view, const char*> kind_of(LaboratoryDesk::Part part) {
  switch (part) {
    case LaboratoryDesk::Part::customers: return {lab::kCustomer, "New customer"};
    case LaboratoryDesk::Part::people: return {lab::kPerson, "New person"};
    default: return {lab::kTemplate, "New template"};
  }
}

}  // namespace

// The list beside the form; what is picked of it, or nothing while a new one is written.
std::optional<lab::Entry> LaboratoryDesk::list_entries() {
  parts::clear(list_);
  const auto [kind, words] = kind_of(part_);
  const auto all = Papers(static_cast<const Book&>(*bench_->book())).entries(kind);
  if (!all) {
    bench_->say(qs(all.error().message));
    return std::nullopt;
  }
  std::optional<lab::Entry> here;
  if (picked_.empty() && !fresh_ && !all->empty()) picked_ = all->front().name;
  const auto later = [this](const auto& act) { QMetaObject::invokeMethod(this, act, Qt::QueuedConnection); };
  for (const lab::Entry& e : *all) {
    if (e.name == picked_) here = e;
    auto* b = list_button(qs(e.name), "entry:" + qs(e.name), e.name == picked_);
    connect(b, &QPushButton::clicked, this, [this, later, name = e.name] {
      picked_ = name;
      fresh_ = false;
      later([this] { show_part(); });
    });
    list_->addWidget(b);
  }
  auto* b = parts::button(words, "entry-new", "primary");
  connect(b, &QPushButton::clicked, this, [this, later] {
    picked_.clear();
    fresh_ = true;
    host_->take({});
    later([this] {
      show_part();
      if (form_ == nullptr) return;
      if (auto* first = form_->findChild<QLineEdit*>()) first->setFocus();
    });
  });
  list_->addWidget(b);
  list_->addStretch();
  return here;
}

void LaboratoryDesk::show_entries() {
  const std::string_view kind = kind_of(part_).first;
  const auto here = list_entries();
  // What is begun without a name yet stays as it was typed.
  const bool begun = host_->entry().kind == kind && host_->entry().id == 0;
  show_entry(here ? *here : begun ? host_->entry() : lab::entry_of(kind, ""));
}

void LaboratoryDesk::show_entry(const lab::Entry& entry) {
  host_->take(entry);
  head_ = parts::label(entry.name.empty() ? "New " + qs(lab::kind_words(entry.kind)).toLower()
                                          : qs(entry.kind == lab::kHead ? "Letterhead" : entry.name),
                       "heading");
  card_->addWidget(head_);
  form_ = new FieldForm(host_);
  asked_ = host_->shown();
  form_->show_fields(asked_, 2);
  card_->addWidget(form_);
  more_ = new QVBoxLayout;
  more_->setSpacing(8);
  card_->addLayout(more_);
  if (entry.id != 0 && entry.kind != lab::kHead) show_more();
}

// What can be done with an entry that is kept.
void LaboratoryDesk::show_more() {
  if (host_->entry().kind == lab::kPerson) show_person(host_->entry());
  auto* gone = parts::button("Take out of use", "entry-gone");
  connect(gone, &QPushButton::clicked, this, [this] {
    const auto done = Papers(*bench_->book()).remove(host_->entry());
    if (!done) return bench_->say(qs(done.error().message));
    bench_->say("");
    picked_.clear();
    host_->take({});
    QMetaObject::invokeMethod(
        this, [this] { show_part(); }, Qt::QueuedConnection);
  });
  more_->addWidget(gone, 0, Qt::AlignLeft);
}

// A key is given at the person's own machine: its file lies there, only its public half goes into the book.
void LaboratoryDesk::show_person(const lab::Entry& person) {
  more_->addSpacing(6);
  more_->addWidget(parts::label("Key", "title"));
  const std::string key = keys::current(person);
  more_->addWidget(parts::label(
      key.empty() ? QString("No key: signs with the name alone, and check says so.")
                  : "Signs with a key, " + qs(key.substr(0, 16)) + "…, since " +
                        qs(day_words(day_here(keys::published(person).back().since), bench_->today())) + ".",
      key.empty() ? "caution" : ""));
  auto* row = new QHBoxLayout;
  QLineEdit* phrases[2];
  for (int i = 0; i < 2; ++i) {
    phrases[i] = new QLineEdit;
    phrases[i]->setEchoMode(QLineEdit::Password);
    phrases[i]->setProperty("key", i == 0 ? "key-passphrase" : "key-again");
    phrases[i]->setPlaceholderText(spoken(i == 0 ? "passphrase, 8 letters or more" : "once more"));
    phrases[i]->setAccessibleName(spoken(i == 0 ? "Passphrase of the new key" : "The passphrase once more"));
    row->addWidget(phrases[i]);
  }
  auto* give = parts::button(key.empty() ? "Give a key" : "Give another key", "key-give", "primary");
  row->addWidget(give);
  auto* take = parts::button("Take the key away", "key-take");
  take->setVisible(!key.empty());
  row->addWidget(take);
  row->addStretch();
  more_->addLayout(row);
  more_->addWidget(
      parts::label("The private half is kept, encrypted, in " + qs(keys_folder()) +
                       ". Nobody can make the passphrase up again: keep a copy of the file, or have a new key "
                       "given.",
                   "hint"));
  const auto done = [this](const Outcome<Done>& what, const QString& words) {
    bench_->say(what ? words : qs(what.error().message));
    QMetaObject::invokeMethod(
        this, [this] { show_part(); }, Qt::QueuedConnection);
  };
  connect(give, &QPushButton::clicked, this, [this, first = phrases[0], again = phrases[1], done] {
    if (first->text() != again->text()) return bench_->say("The two passphrases differ; no key was given.");
    Papers papers(*bench_->book());
    if (const auto allowed = may(papers, bench_->book()->operator_name(), "keeps"); !allowed)
      return bench_->say(qs(allowed.error().message));
    done(keys::give(papers, host_->entry(), keys_folder(), first->text().toStdString(), bench_->clock()),
         qs(host_->entry().name) + " has a key.");
  });
  connect(take, &QPushButton::clicked, this, [this, done] {
    Papers papers(*bench_->book());
    if (const auto allowed = may(papers, bench_->book()->operator_name(), "keeps"); !allowed)
      return bench_->say(qs(allowed.error().message));
    done(keys::take_away(papers, host_->entry(), bench_->clock()),
         "The key signs no more; what it signed stays signed.");
  });
}

void LaboratoryDesk::show_sheets() {
  const auto all = Papers(static_cast<const Book&>(*bench_->book())).sheets();
  if (!all) return bench_->say(qs(all.error().message));
  const lab::DemandSheet* here = nullptr;
  if (picked_.empty() && !fresh_ && !all->empty()) picked_ = all->front().name;
  for (const lab::DemandSheet& s : *all) {
    if (s.name == picked_) here = &s;
    auto* b = list_button(qs(s.name), "sheet:" + qs(s.name), s.name == picked_);
    connect(b, &QPushButton::clicked, this, [this, name = s.name] {
      picked_ = name;
      fresh_ = false;
      QMetaObject::invokeMethod(
          this, [this] { show_part(); }, Qt::QueuedConnection);
    });
    list_->addWidget(b);
  }
  const auto act = [&](const QString& words, const QString& key, const char* role, auto what) {
    auto* b = parts::button(words, key, role);
    connect(b, &QPushButton::clicked, this, what);
    list_->addWidget(b);
  };
  act("New sheet", "sheet-new", "primary", [this] {
    picked_.clear();
    fresh_ = true;
    QMetaObject::invokeMethod(
        this, [this] { show_part(); }, Qt::QueuedConnection);
  });
  act("Import…", "sheet-import", "", [this] { import_sheets(); });
  act("Export…", "sheet-export", "", [this] { export_sheets(); });
  list_->addStretch();
  editor_ = new DemandEditor(bench_);
  editor_->show_sheet(here != nullptr ? *here : lab::DemandSheet{});
  connect(editor_, &DemandEditor::kept, this, [this](const QString& name) {
    picked_ = name.toStdString();
    fresh_ = false;
    QMetaObject::invokeMethod(
        this, [this] { show_part(); }, Qt::QueuedConnection);
  });
  card_->addWidget(editor_);
}

void LaboratoryDesk::import_sheets() {
  const QString path = QFileDialog::getOpenFileName(this, spoken("Demand sheets"), {}, "Demand sheets (*.json *.csv)");
  if (path.isEmpty()) return;
  const auto read = lab::read_demands(path.toStdString());
  if (!read) return bench_->say(qs(read.error().message));
  Papers papers(*bench_->book());
  const auto known = papers.sheets();
  if (!known) return bench_->say(qs(known.error().message));
  for (lab::DemandSheet sheet : *read) {
    for (const lab::DemandSheet& old : *known)
      if (old.name == sheet.name) sheet.id = old.id;
    if (const auto kept = papers.save(sheet); !kept) return bench_->say(qs(kept.error().message));
  }
  bench_->say(QString::number(read->size()) + (read->size() == 1 ? " sheet is" : " sheets are") + " in the book.");
  show_part();
}

void LaboratoryDesk::export_sheets() {
  const QString path =
      QFileDialog::getSaveFileName(this, spoken("Demand sheets"), "demands.json", "Demand sheets (*.json *.csv)",
                                   nullptr, QFileDialog::DontConfirmOverwrite);
  if (path.isEmpty()) return;
  const auto all = Papers(static_cast<const Book&>(*bench_->book())).sheets();
  if (!all) return bench_->say(qs(all.error().message));
  const auto done = page::write_new(
      path.endsWith(".csv") ? lab::demands_to_csv(*all) : lab::demands_to_json(*all) + "\n", path.toStdString());
  bench_->say(done ? "Demand sheets written: " + path : qs(done.error().message));
}

void LaboratoryDesk::show_register() {
  const auto all = Papers(static_cast<const Book&>(*bench_->book())).documents();
  if (all.empty()) card_->addWidget(parts::label("No document was issued yet. A job's page issues them.", ""));
  for (const DocumentRow& d : all) {
    auto* row = new QHBoxLayout;
    row->addWidget(parts::label(qs(d.number) + " · edition " + QString::number(d.edition), ""), 2);
    row->addWidget(parts::label(qs(day_words(day_here(d.issued_at), bench_->today())), "quiet"), 1);
    row->addWidget(parts::label(qs(d.covers), ""), 2);
    row->addWidget(parts::label(qs(d.customer), "quiet"), 2);
    QString state = qs(d.state);
    for (const DocumentRow& other : all)
      if (other.replaces == d.id) state += " by " + qs(other.number);
    for (const DocumentRow& other : all)
      if (d.replaces == other.id) state += " in place of " + qs(other.number);
    if (!d.reason.empty()) state += ": " + qs(d.reason);
    row->addWidget(parts::label(state, d.state == "issued" ? "title" : "caution"), 3);
    auto* job = parts::button("Job", "register-job:" + qs(d.number));
    connect(job, &QPushButton::clicked, this, [this, id = d.job] { emit desk_wanted("job", id, -1); });
    row->addWidget(job);
    card_->addLayout(row);
  }
}

std::vector<Doable> LaboratoryDesk::doable() {
  return {opens("Laboratory", "its letterhead", 0, 0),      opens("Customers", "typed once", 0, 1),
          opens("People", "rights and keys", 0, 2),         opens("Templates", "what documents hold", 0, 3),
          opens("Demand sheets", "what must be met", 0, 4), opens("Register", "documents issued", 0, 5)};
}

}  // namespace fortitor
