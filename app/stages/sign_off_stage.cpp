#include "app/stages/sign_off_stage.h"

#include <QAbstractTextDocumentLayout>
#include <QDateTime>
#include <QFileDialog>
#include <QLineEdit>
#include <QPainter>
#include <QTextDocument>

#include "app/model/my_key.h"
#include "app/stages/field_edit.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"
#include "report/certificate.h"
#include "report/export.h"

namespace fortitor {
namespace {

using parts::qs;

Outcome<Certificate> certificate_of(const Workbench& bench) {
  Certificate c;
  c.record = bench.record();
  c.evaluation = *bench.evaluation();
  c.job_title = bench.book()->job_of(bench.specimen()).title;
  c.specimen = bench.specimen();
  c.version = bench.book()->record_version(bench.specimen());
  if (bench.signed_off()) {
    c.signature = bench.book()->signature(bench.specimen());
    const auto title = bench.book()->title_when_signed(c.specimen, c.version);
    if (title && *title != c.job_title) c.signed_title = *title;
  }
  c.head = bench.book()->head();
  c.units = bench.units();
  auto belonging = parts_of(*bench.book(), c.record, c.units);
  if (!belonging) return belonging.error();
  c.parts = std::move(*belonging);
  return c;
}

}  // namespace

SignOffStage::SignOffStage(Workbench* bench, QWidget* parent) : StagePage(bench, Stage::sign_off, parent) {
  auto* outer = new QHBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  outer->setSpacing(12);
  preview_ = new QLabel;
  preview_->setAlignment(Qt::AlignTop | Qt::AlignHCenter);
  preview_->setAccessibleName(spoken("Certificate as it will print"));
  auto* paper = parts::sheet();
  parts::column(paper, 0, 0)->addWidget(parts::scroller(preview_));
  outer->addWidget(paper, 1);
  auto* side = parts::sheet();
  side->setFixedWidth(230);
  auto* layout = parts::column(side, 14, 8);
  layout->addWidget(parts::label("Sign off", "heading"));
  state_ = parts::label("", "");
  layout->addWidget(state_);
  open_ = new QVBoxLayout;
  layout->addLayout(open_);
  missing_ = parts::label("", "caution");
  layout->addWidget(missing_);
  lacking_ = new QVBoxLayout;
  layout->addLayout(lacking_);
  paper_ = new EntryHost(bench, this);
  connect(
      paper_, &EntryHost::changed, this, [this] { show_hands(); }, Qt::QueuedConnection);
  passphrase_ = new QLineEdit;
  passphrase_->setEchoMode(QLineEdit::Password);
  passphrase_->setPlaceholderText(spoken("passphrase of your key"));
  passphrase_->setAccessibleName(spoken("Passphrase of your key"));
  passphrase_->setProperty("key", "sign-passphrase");
  layout->addWidget(passphrase_);
  sign_ = parts::button("Sign", "sign", "primary");
  layout->addWidget(sign_);
  release_ = parts::button("Release", "release", "primary");
  layout->addWidget(release_);
  layout->addSpacing(8);
  layout->addWidget(parts::label("Take it along", "title"));
  struct Entry {
    const char *label, *key, *ending;
  };
  for (const Entry e :
       {Entry{"Certificate, PDF…", "save-pdf", ".pdf"}, Entry{"Certificate, HTML…", "save-html", ".html"}}) {
    auto* b = parts::button(e.label, e.key);
    connect(b, &QPushButton::clicked, this, [this, e] { save(e.ending); });
    layout->addWidget(b);
  }
  auto* record = parts::button("Record and data…", "save-record");
  connect(record, &QPushButton::clicked, this, [this] {
    const QString folder = QFileDialog::getExistingDirectory(this, spoken("Folder for the record and its CSV"));
    if (folder.isEmpty()) return;
    bench_->write("Writing the record", [record = bench_->record(), folder]() -> Outcome<QString> {
      const auto done = export_record(record, folder.toStdString());
      if (!done) return done.error();
      return "Record saved: " + qs(*done);
    });
  });
  layout->addWidget(record);
  layout->addStretch();
  layout->addWidget(parts::label(qs(practice_sentence()), "hint"));
  outer->addWidget(side);
  connect(sign_, &QPushButton::clicked, this, &SignOffStage::sign);
  connect(release_, &QPushButton::clicked, this, &SignOffStage::release);
  connect(passphrase_, &QLineEdit::returnPressed, this, [this] { release_->isVisible() ? release() : sign(); });
  connect(bench, &Workbench::evaluation_changed, this, [this] {
    if (isVisible()) refresh();
  });
}

void SignOffStage::sign() {
  if (!sign_->isEnabled()) return;
  const auto hand = hand_of(Papers(*bench_->book()), bench_->book()->operator_name(), passphrase_->text());
  const auto done = hand ? bench_->sign(*hand) : Outcome<Done>(hand.error());
  bench_->say(done ? "Signed." : qs(done.error().message));
  passphrase_->clear();
  refresh();
}

void SignOffStage::release() {
  const auto hand = hand_of(Papers(*bench_->book()), bench_->book()->operator_name(), passphrase_->text());
  const auto done =
      !hand   ? Outcome<Done>(hand.error())
      : *hand ? release_results(*bench_->book(), bench_->specimen(), **hand)
              : Outcome<Done>(InputError{"Who releases signs with a key; the Laboratory desk gives one.", {}});
  bench_->say(done ? "Released." : qs(done.error().message));
  passphrase_->clear();
  refresh();
}

void SignOffStage::rebuild() {
  refresh();
}

void SignOffStage::refresh() {
  if (!bench_->has_specimen() || bench_->stage() != stage_) return;
  const auto e = bench_->evaluation();
  parts::clear(open_);
  const bool run = bench_->record().has_run();
  const auto open = e ? e->open_judgements() : std::vector<const Finding*>{};
  if (bench_->signed_off()) {
    const auto s = bench_->book()->signature(bench_->specimen());
    state_->setText(
        spoken("Signed by " + qs(s->by) + ", " +
               QDateTime::fromString(qs(s->at), Qt::ISODateWithMs).toLocalTime().toString("d MMM yyyy, HH:mm") +
               (signed_by(*bench_->book(), bench_->specimen()).front().with_key ? ", with a key" : ", without a key") +
               ". Any change makes a new version that wants a new signature."));
    for (const SignedBy& by : signed_by(*bench_->book(), bench_->specimen()))
      if (by.role == "released") open_->addWidget(parts::label("Released by " + qs(by.person) + ".", ""));
  } else if (practice::is_practice(bench_->record())) {
    state_->setText(spoken("Practice is not signed. Its debrief, under Practice, holds it against the truth."));
  } else if (!run) {
    state_->setText(spoken("There is nothing to sign: the specimen has not been run."));
  } else if (!open.empty()) {
    state_->setText(spoken(QString::number(open.size()) + (open.size() == 1 ? " judgement wants" : " judgements want") +
                           " your word in the Watch below:"));
    for (const Finding* f : open) open_->addWidget(parts::label("◦  " + qs(f->code), "hint"));
  } else {
    state_->setText(
        spoken("Everything is answered. Verdict: " + (e ? qs(verdict_word(e->verdict)) : QString("…")) + "."));
  }
  show_hands();
  sign_->setEnabled(run && !practice::is_practice(bench_->record()) && open.empty() && bench_->evaluation_current() &&
                    !bench_->signed_off());
  render();
}

// The passphrase is asked for where a key signs; Release stands there for another person than who signed.
void SignOffStage::show_hands() {
  const Papers papers(static_cast<const Book&>(*bench_->book()));
  const std::string who = bench_->book()->operator_name();
  const auto keyed = signs_with_key(papers, who);
  bool can_release = keyed && *keyed && bench_->signed_off();
  for (const SignedBy& by : signed_by(*bench_->book(), bench_->specimen()))
    can_release = can_release && by.person != who && by.role != "released";
  release_->setVisible(can_release);
  sign_->setVisible(!can_release);
  passphrase_->setVisible(keyed && *keyed && (can_release || !bench_->signed_off()));
  parts::clear(lacking_);
  QStringList lacks;
  const auto head = papers.letterhead();
  const auto paper = papers.job(bench_->record().job);
  // Of a book that never named a customer or a laboratory nothing is said: it makes no documents.
  if (head && paper && (head->id != 0 || paper->id != 0))
    for (const lab::Missing& one : lab::missing_for_document(*paper, *head)) {
      lacks << qs(one.words);
      if (one.kind != lab::kJob || lacking_->count() > 0) continue;
      paper_->take(*paper);
      const FieldSpec* field = lab::schema(lab::kJob).field(one.path);
      lacking_->addWidget(parts::label(qs(field->label), "hint"));
      lacking_->addWidget(new FieldEdit(paper_, *field));
    }
  missing_->setText(spoken(lacks.isEmpty() ? QString() : "A document of this job will lack " + lacks.join(", ") + "."));
  missing_->setVisible(!lacks.isEmpty());
}

void SignOffStage::render() {
  if (!bench_->evaluation()) return;
  const double width = 640, margin = 36, ratio = devicePixelRatioF();
  const auto certificate = certificate_of(*bench_);
  if (!certificate) {
    preview_->setText(spoken(qs(certificate.error().message)));
    return;
  }
  QTextDocument doc;
  doc.setUndoRedoEnabled(false);
  doc.setDocumentMargin(0);  // before the text: it is laid out once
  doc.setTextWidth(width);
  fill_document(doc, {*certificate}, width);
  const QSizeF size(width + 2 * margin, doc.size().height() + 2 * margin);
  QImage paper((size * ratio).toSize(), QImage::Format_RGB32);
  paper.setDevicePixelRatio(ratio);
  paper.fill(QColor("#FFFFFF"));  // paper stays white in the dark theme: it is what will print
  QPainter p(&paper);
  p.setRenderHint(QPainter::Antialiasing);
  p.translate(margin, margin);
  doc.drawContents(&p);
  p.end();
  preview_->setPixmap(QPixmap::fromImage(paper));
}

Outcome<Done> SignOffStage::write_certificate(const QString& path) {
  if (!bench_->evaluation()) return InputError{"The evaluation is still being made.", {}};
  const auto certificate = certificate_of(*bench_);
  if (!certificate) return certificate.error();
  return write_certificates({*certificate}, path.toStdString());
}

void SignOffStage::save(const char* ending) {
  const QString path =
      QFileDialog::getSaveFileName(this, spoken("Certificate"), qs(bench_->record().specimen_id()) + ending,
                                   QString("*") + ending, nullptr, QFileDialog::DontConfirmOverwrite);
  if (path.isEmpty()) return;
  if (!bench_->evaluation()) return bench_->say("The evaluation is still being made.");
  const QString full = path.endsWith(ending) ? path : path + ending;
  const auto certificate = certificate_of(*bench_);
  if (!certificate) return bench_->say(qs(certificate.error().message));
  bench_->write("Writing the certificate", [one = *certificate, full]() -> Outcome<QString> {
    if (const auto done = write_certificates({one}, full.toStdString()); !done) return done.error();
    return "Certificate saved: " + full;
  });
}

}  // namespace fortitor
