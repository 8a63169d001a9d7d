#include "report/export.h"

#include <QBuffer>
#include <QFile>
#include <QFileInfo>
#include <QImage>
#include <QPainter>
#include <QPdfWriter>
#include <cmath>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/quantity/plain.h"
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

std::string csv_cell(const std::string& text) {
  if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
  std::string out = "\"";
  for (char c : text) out += c == '"' ? "\"\"" : std::string(1, c);
  return out + "\"";
}

std::string figure_csv(const Figure& figure, UnitSet units) {
  struct Column {
    std::string name;
    std::vector<double> values;
  };
  std::vector<Column> columns;
  size_t rows = 0;
  for (const Panel& p : figure.panels)
    for (const Trace& t : p.traces) {
      if (t.x.empty() || t.x.size() != t.y.size()) continue;
      for (const auto& [axis, values] : {std::pair{&p.x, &t.x}, {&p.y, &t.y}}) {
        double largest = 0;
        for (double v : *values)
          if (std::isfinite(v)) largest = std::max(largest, std::abs(v));
        const Unit& unit = display_unit(axis->dimension, units, axis->like > 0 ? axis->like : largest);
        Column c;
        c.name = (t.label.empty() ? axis->name : t.label + ": " + axis->name) +
                 (unit.symbol.empty() ? "" : ", " + std::string(unit.symbol));
        for (double v : *values) c.values.push_back((v - unit.offset) / unit.factor);
        rows = std::max(rows, c.values.size());
        columns.push_back(std::move(c));
      }
    }
  std::string out;
  for (size_t k = 0; k < columns.size(); ++k) out += (k > 0 ? "," : "") + csv_cell(columns[k].name);
  out += "\n";
  for (size_t i = 0; i < rows; ++i) {
    for (size_t k = 0; k < columns.size(); ++k) {
      if (k > 0) out += ",";
      if (i < columns[k].values.size() && std::isfinite(columns[k].values[i]))
        out += plain::general(columns[k].values[i], 10);
    }
    out += "\n";
  }
  return out;
}

Outcome<Done> export_figure(const Evaluation& evaluation, UnitSet units, const std::string& path) {
  if (evaluation.figures.empty()) return InputError{"There is nothing to draw yet.", {}};
  return export_figure(evaluation.figures.front(), units, path);
}

Outcome<Done> export_figure(const Figure& drawn, UnitSet units, const std::string& path,
                            const std::vector<figure::Frame>& axes) {
  const QString name = QString::fromStdString(path);
  if (QFile::exists(name)) return InputError{path + ": is already there; nothing is overwritten.", {}};
  if (drawn.empty()) return InputError{"There is nothing to draw yet.", {}};
  figure::Options options;
  options.width = 900;
  options.height = 420;
  options.set = units;
  options.keep = axes;
  const QString ending = QFileInfo(name).suffix().toLower();
  if (ending == "csv") return write(name, QByteArray::fromStdString(figure_csv(drawn, units)));
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
  return InputError{path + ": a figure is written as .svg, .png, .pdf or, its data, as .csv.", {}};
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
