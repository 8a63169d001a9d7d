// Documents of a job: what was issued, a draft, a new one, labels.
#include <QComboBox>
#include <QDesktopServices>
#include <QDir>
#include <QFileDialog>
#include <QSaveFile>
#include <QUrl>

#include "app/job/job_desk.h"
#include "app/model/my_key.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "report/document.h"
#include "report/label.h"
#include "store/clock.h"
#include "store/papers.h"
#include "store/signing.h"

namespace fortitor {

using parts::qs;

void JobDesk::show_documents() {
  parts::clear(documents_);
  const Papers papers(static_cast<const Book&>(*bench_->book()));
  const auto all = papers.documents(job_);
  if (all.empty()) documents_->addWidget(parts::label("None was issued yet.", "hint"));
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(12);
  grid->setColumnStretch(1, 2);
  grid->setColumnStretch(2, 2);
  for (auto d = all.rbegin(); d != all.rend(); ++d) {
    const int line = grid->rowCount();
    grid->addWidget(parts::line(qs(d->number) + ", ed. " + QString::number(d->edition), "title"), line, 0);
    grid->addWidget(parts::line(qs(day_words(day_here(d->issued_at), bench_->today())) + " · " + qs(d->covers) + " · " +
                                    qs(d->language),
                                "quiet"),
                    line, 1);
    grid->addWidget(parts::line(qs(d->state) + (d->reason.empty() ? QString() : ": " + qs(d->reason)),
                                d->state == "issued" ? "" : "caution"),
                    line, 2);
    auto* acts = new QHBoxLayout;
    acts->setSpacing(6);
    acts->addStretch();
    document_actions(*d, acts);
    grid->addLayout(acts, line, 3);
  }
  documents_->addLayout(grid);
  const QVariant was = covers_->currentData(), tongue = language_->currentData(), way = layout_->currentData();
  covers_->clear();
  covers_->addItem(spoken("The whole job"), 0);
  for (const SeriesRow& s : bench_->book()->series(job_))
    covers_->addItem(spoken("Series " + qs(s.title)), qlonglong(s.id));
  // Pieces by their number below nought: one of them may go out before the others are done.
  for (const SeriesRow& s : bench_->book()->series(job_))
    for (const SpecimenRow& p : bench_->book()->specimens(s.id))
      if (p.signed_off) covers_->addItem(spoken("Piece " + qs(p.code)), -qlonglong(p.id));
  covers_->setCurrentIndex(std::max(0, covers_->findData(was)));
  language_->clear();
  language_->addItem(spoken("as agreed"), "");
  for (Language l : kLanguages) language_->addItem(qs(language_name(l)), qs(language_code(l)));
  language_->setCurrentIndex(std::max(0, language_->findData(tongue)));
  layout_->clear();
  layout_->addItem(spoken("usual template"), "");
  if (const auto templates = papers.entries(lab::kTemplate))
    for (const lab::Entry& e : *templates) layout_->addItem(qs(e.name), qs(e.name));
  layout_->setCurrentIndex(std::max(0, layout_->findData(way)));
  QStringList lacks;
  if (const auto head = papers.letterhead())
    for (const lab::Missing& one : lab::missing_for_document(host_->entry(), *head)) lacks << qs(one.words);
  missing_->setText(
      spoken(lacks.isEmpty() ? QString() : "Not entered yet, and a document should say it: " + lacks.join(", ") + "."));
  missing_->setVisible(!lacks.isEmpty());
  const auto keyed = signs_with_key(papers, bench_->book()->operator_name());
  passphrase_->setVisible(keyed && *keyed);
  replaces_words_->setText(spoken("In place of " + qs(replaces_)));
  replaces_words_->setVisible(!replaces_.empty());
  reason_->setVisible(!all.empty());
}

void JobDesk::document_actions(const DocumentRow& d, QHBoxLayout* row) {
  const auto add = [&](const QString& words, const QString& key, auto act) {
    auto* b = parts::button(words, key + ":" + qs(d.number));
    connect(b, &QPushButton::clicked, this, act);
    row->addWidget(b);
  };
  add("Open", "document-open", [this, d] {
    const auto bytes = Papers(static_cast<const Book&>(*bench_->book())).bytes(d);
    if (!bytes) return bench_->say(qs(bytes.error().message));
    // A copy to look at; what counts lies in the book.
    const QString path = QDir::temp().filePath(qs(d.number).replace('/', '-') + ".pdf");
    QSaveFile copy(path);
    if (!copy.open(QIODevice::WriteOnly) || copy.write(*bytes) != bytes->size() || !copy.commit())
      return bench_->say(path + " cannot be written: " + copy.errorString() + ".");
    QDesktopServices::openUrl(QUrl::fromLocalFile(path));
  });
  if (d.state != "issued") return;
  add("Replace", "document-replace", [this, d] {
    replaces_ = d.number;
    QMetaObject::invokeMethod(
        this,
        [this] {
          show_documents();
          reason_->setFocus();
        },
        Qt::QueuedConnection);
  });
  add("Withdraw", "document-withdraw", [this, d] {
    const auto done = withdraw_document(*bench_->book(), d.number, reason_->text().trimmed().toStdString());
    bench_->say(done ? QString() : qs(done.error().message));
    if (!done) return reason_->setFocus();
    reason_->clear();
    QMetaObject::invokeMethod(
        this, [this] { show_documents(); }, Qt::QueuedConnection);
  });
}

namespace {

DocumentRequest request_of(const std::string& job, const QComboBox& covers, const QComboBox& language,
                           const QComboBox& layout) {
  DocumentRequest r;
  r.job = job;
  if (const Id what = covers.currentData().toLongLong(); what != 0) {
    r.covers = what > 0 ? DocumentRequest::Covers::series : DocumentRequest::Covers::piece;
    r.what = std::abs(what);
  }
  if (const QString code = language.currentData().toString(); !code.isEmpty())
    r.language = language_of(code.toStdString());
  if (const QString name = layout.currentData().toString(); !name.isEmpty()) r.layout = name.toStdString();
  return r;
}

}  // namespace

void JobDesk::write_draft(const QString& path) {
  const DocumentRequest request = request_of(row_.code, *covers_, *language_, *layout_);
  bench_->write("Writing the draft",
                [book = bench_->book()->path(), shelf = bench_->book()->shelf(), request, path]() -> Outcome<QString> {
                  auto reader = Book::open_read_only(book, shelf);
                  if (!reader) return reader.error();
                  const auto document = collect(**reader, request);
                  if (!document) return document.error();
                  if (const auto done = write_document(*document, path.toStdString()); !done) return done.error();
                  return "Draft written: " + path;
                });
}

void JobDesk::issue() {
  const DocumentRequest request = request_of(row_.code, *covers_, *language_, *layout_);
  Papers papers(*bench_->book());
  const auto hand = hand_of(papers, bench_->book()->operator_name(), passphrase_->text());
  if (!hand) return bench_->say(qs(hand.error().message));
  passphrase_->clear();
  const auto issued =
      std::make_shared<Outcome<DocumentRow>>(InputError{"Issuing was stopped; no number was given.", {}});
  const auto tell = [this, issued] {
    bench_->say(*issued ? "Document " + qs((*issued)->number) + " is issued." : qs(issued->error().message));
    if (*issued) {
      replaces_.clear();
      reason_->clear();
    }
    show_documents();
  };
  bench_->tasks().run_in_turn(
      "Issuing a document of " + qs(row_.code), this,
      [issued, request, hand = *hand, replaced = replaces_, reason = reason_->text().trimmed().toStdString(),
       pass = bench_->book()->pass()](Task&) {
        auto book = Book::open(pass);
        *issued = book ? issue_document(**book, request, hand, replaced, reason) : Outcome<DocumentRow>(book.error());
      },
      tell, tell);
}

void JobDesk::labels() {
  const QString path = QFileDialog::getSaveFileName(this, spoken("Labels of the pieces"), qs(row_.code) + " labels.pdf",
                                                    "*.pdf", nullptr, QFileDialog::DontConfirmOverwrite);
  if (path.isEmpty()) return;
  const auto all = labels_of(*bench_->book(), row_.code);
  if (!all) return bench_->say(qs(all.error().message));
  const auto done = write_labels(*all, LabelPaper::roll, path.toStdString());
  bench_->say(done ? "Labels written: " + path : qs(done.error().message));
}

}  // namespace fortitor
