#include "report/paper.h"

#include <QBuffer>
#include <QPageLayout>
#include <QPainter>
#include <QPdfWriter>

#include "core/parallel.h"
#include "report/archive.h"

namespace fortitor::page {

struct Paper::Held {
  QByteArray bytes;
  QBuffer buffer{&bytes};
  std::unique_ptr<QPdfWriter> writer;
};

Paper::Paper(const Setup& setup) : held_(std::make_unique<Held>()) {
  held_->buffer.open(QIODevice::WriteOnly);
  held_->writer = std::make_unique<QPdfWriter>(&held_->buffer);
  QPdfWriter& w = *held_->writer;
  w.setPdfVersion(setup.version);
  w.setPageSize(QPageSize(QPageSize::A4));
  w.setPageMargins(setup.margins, QPageLayout::Millimeter);
  w.setResolution(96);
  w.setTitle(setup.title);
  w.setCreator("Fortitor " FORTITOR_VERSION);
  if (!setup.metadata.isEmpty()) w.setDocumentXmpMetadata(setup.metadata);
}

Paper::~Paper() = default;

QPdfWriter& Paper::writer() {
  return *held_->writer;
}

QByteArray Paper::taken() {
  held_->writer.reset();
  held_->buffer.close();
  return held_->bytes;
}

Outcome<QByteArray> painted(const Setup& setup, size_t items, size_t each, const Paint& paint,
                            const Progress& progress) {
  const auto sheaf = [&](size_t from) -> Outcome<QByteArray> {
    Paper paper(setup);
    QPainter painter(&paper.writer());
    if (!painter.isActive()) return InputError{setup.title.toStdString() + ": the PDF could not be begun.", {}};
    paint(paper.writer(), painter, from, std::min(items, from + each));
    painter.end();
    return paper.taken();
  };
  if (items <= each) return sheaf(0);
  std::vector<QByteArray> sheaves;
  Crew crew;
  std::vector<std::future<Outcome<QByteArray>>> coming;
  for (size_t from = 0; from < items; from += each)
    coming.push_back(crew.start([&sheaf, from] { return sheaf(from); }));
  std::optional<InputError> wrong;
  for (auto& one : coming) {
    auto made = one.get();
    if (made)
      sheaves.push_back(std::move(*made));
    else
      wrong = made.error();
    if (progress) progress(double(sheaves.size()) / double(coming.size()));
  }
  if (wrong) return *wrong;
  return bound(sheaves);
}

}  // namespace fortitor::page
