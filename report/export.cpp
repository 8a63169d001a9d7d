#include "report/export.h"

#include <QBuffer>
#include <QFile>
#include <QFileInfo>
#include <QImage>
#include <QPainter>
#include <QPdfWriter>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/record/json.h"
#include "report/figure.h"
#include "store/new_file.h"

namespace fortitor {
namespace {

Outcome<Done> write(const QString& path, const QByteArray& data) {
  return write_new_file(path.toStdString(), data);
}

}  // namespace

Outcome<std::string> export_record(const TestRecord& record, const std::string& folder) {
  QString base = QString::fromStdString(record.specimen_id().empty() ? "record" : record.specimen_id());
  base.replace('/', '-');
  QString name = base;
  auto path = [&](const char* ending) { return QString::fromStdString(folder) + "/" + name + ending; };
  for (int n = 2; QFile::exists(path(".json")) || QFile::exists(path(".csv")); ++n)
    name = base + "-" + QString::number(n);
  TestRecord out = record;
  const Method& method = *methods::find(record.method);
  size_t part = 0;
  for (Segment& segment : out.run.segments) {
    if (!segment.samples) continue;
    // The usual run lies in NAME.csv; named parts are counted through.
    const QString file = segment.name.empty() ? name + ".csv"
                                              : name + "-" + QString::fromStdString(segment.name) + "-" +
                                                    QString::number(++part) + ".csv";
    segment.file = file.toStdString();
    segment.mapping.clear();
    for (const Channel& c : segment.samples->channels)
      segment.mapping[c.name] = {c.name, written_unit(method.channel(c.name))};
    const auto done = write(QString::fromStdString(folder) + "/" + file,
                            QByteArray::fromStdString(samples_to_csv(*segment.samples, method)));
    if (!done) return done.error();
  }
  const auto done = write(path(".json"), QByteArray::fromStdString(record_to_json(out)));
  if (!done) return done.error();
  return path(".json").toStdString();
}

Outcome<Done> export_figure(const Evaluation& evaluation, UnitSet units, const std::string& path) {
  const QString name = QString::fromStdString(path);
  if (QFile::exists(name)) return InputError{path + ": is already there; nothing is overwritten.", {}};
  if (evaluation.figures.empty()) return InputError{"There is nothing to draw yet.", {}};
  const Figure& drawn = evaluation.figures.front();
  figure::Options options;
  options.width = 900;
  options.height = 420;
  options.set = units;
  const QString ending = QFileInfo(name).suffix().toLower();
  if (ending == "svg")
    return write(
        name, "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + QByteArray::fromStdString(figure_svg(drawn, options)));
  const figure::Layout layout = figure::lay_out(drawn, options);
  if (ending == "png") {
    QImage image(int(options.width * 2), int(options.height * 2), QImage::Format_RGB32);
    image.fill(paper_colours().paper);
    QPainter painter(&image);
    painter.scale(2, 2);
    paint_figure(painter, layout, paper_colours());
    painter.end();
    QByteArray bytes;
    QBuffer buffer(&bytes);
    if (!buffer.open(QIODevice::WriteOnly) || !image.save(&buffer, "PNG"))
      return InputError{path + ": the picture could not be made.", {}};
    return write(name, bytes);
  }
  if (ending == "pdf") {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
      QPdfWriter writer(&buffer);
      writer.setPageSize(QPageSize(QSizeF(options.width, options.height), QPageSize::Point));
      writer.setPageMargins(QMarginsF(0, 0, 0, 0));
      writer.setResolution(72);
      QPainter painter(&writer);
      if (!painter.isActive()) return InputError{path + ": the PDF could not be begun.", {}};
      paint_figure(painter, layout, paper_colours());
    }
    return write(name, bytes);
  }
  return InputError{path + ": a figure is written as .svg, .png or .pdf.", {}};
}

std::string results_text(const Evaluation& e, const Fields& settings, UnitSet units) {
  std::string out = "symbol\tname\tvalue\tunit\tU\tk\tverdict\n";
  for (const ResultValue& r : e.results) {
    const Printed p = reported(r, settings, units);
    std::string u;
    if (r.standard_uncertainty > 0)
      u = printed_uncertainty(r.expanded(), r.shown_like(), r.spec.dimension, units).number;
    out += plain_symbol(r.spec.symbol) + "\t" + r.spec.name + "\t" + p.number + "\t" + p.unit + "\t" + u + "\t" +
           (u.empty() ? u : coverage_words(r)) + "\t" +
           (r.verdict == Verdict::none ? "" : std::string(verdict_word(r.verdict))) + "\n";
  }
  return out;
}

}  // namespace fortitor
