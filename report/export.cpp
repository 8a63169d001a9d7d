#include "report/export.h"

#include <QFile>
#include <QFileInfo>
#include <QImage>
#include <QPainter>
#include <QPdfWriter>
#include <QSaveFile>
#include <QSvgRenderer>

#include "core/record/json.h"
#include "report/figure.h"

namespace fortitor {
namespace {

Outcome<Done> write(const QString& path, const QByteArray& data) {
  QSaveFile file(path);
  if (!file.open(QIODevice::WriteOnly) || file.write(data) != data.size() || !file.commit())
    return InputError{path.toStdString() + ": cannot be written: " + file.errorString().toStdString() + ".", {}};
  return Done{};
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
  if (record.run.samples) {
    out.run.file = (name + ".csv").toStdString();
    out.run.mapping.clear();
    for (const Channel& c : record.run.samples->channels) {
      const Dimension d = *channel_dimension(c.name);
      std::string unit(internal_symbol(d));
      if (base_dimension(d) == Dimension::strain) unit = "strain";
      out.run.mapping[c.name] = {c.name, unit};
    }
    const auto done = write(path(".csv"), QByteArray::fromStdString(samples_to_csv(*record.run.samples)));
    if (!done) return done.error();
  }
  const auto done = write(path(".json"), QByteArray::fromStdString(record_to_json(out)));
  if (!done) return done.error();
  return path(".json").toStdString();
}

Outcome<Done> export_figure(const Evaluation& evaluation, UnitSet units, const std::string& path) {
  const QString name = QString::fromStdString(path);
  if (QFile::exists(name)) return InputError{path + ": is already there; nothing is overwritten.", {}};
  const FigureStyle style{900, 420, false, true};
  const std::string svg = curve_svg(evaluation, units, style);
  if (svg.empty()) return InputError{"There is no curve to draw yet.", {}};
  const QString ending = QFileInfo(name).suffix().toLower();
  if (ending == "svg") return write(name, QByteArray::fromStdString(svg));
  QSvgRenderer renderer(QByteArray::fromStdString(svg));
  if (ending == "png") {
    QImage image(int(style.width * 2), int(style.height * 2), QImage::Format_RGB32);
    image.fill(QColor("#FBFAF6"));
    QPainter painter(&image);
    renderer.render(&painter);
    painter.end();
    if (!image.save(name)) return InputError{path + ": cannot be written.", {}};
    return Done{};
  }
  if (ending == "pdf") {
    QPdfWriter writer(name);
    writer.setPageSize(QPageSize(QSizeF(style.width, style.height), QPageSize::Point));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    QPainter painter(&writer);
    if (!painter.isActive()) return InputError{path + ": cannot be written.", {}};
    renderer.render(&painter);
    return Done{};
  }
  return InputError{path + ": a figure is written as .svg, .png or .pdf.", {}};
}

std::string results_text(const Evaluation& e, const Fields& settings, UnitSet units) {
  std::string out = "symbol\tname\tvalue\tunit\tU (k = 2)\tverdict\n";
  for (const ResultValue& r : e.results) {
    const Printed p = reported(r, settings, units);
    std::string u;
    if (r.standard_uncertainty > 0) u = printed_uncertainty(r.expanded(), r.value, r.spec.dimension, units).number;
    out += plain_symbol(r.spec.symbol) + "\t" + r.spec.name + "\t" + p.number + "\t" + p.unit + "\t" + u + "\t" +
           (r.verdict == Verdict::none ? "" : std::string(verdict_word(r.verdict))) + "\n";
  }
  return out;
}

}  // namespace fortitor
