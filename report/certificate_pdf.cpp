#include <QAbstractTextDocumentLayout>
#include <QFile>
#include <QFileInfo>
#include <QPageLayout>
#include <QPainter>
#include <QPdfWriter>
#include <QTextDocument>
#include <QTextObjectInterface>

#include "core/methods/method.h"
#include "report/certificate_parts.h"
#include "report/figure.h"

namespace fortitor {
namespace {

// Draws the pictures of a certificate as vectors wherever the document is painted.
class FigureObject : public QObject, public QTextObjectInterface {
  Q_OBJECT
  Q_INTERFACES(QTextObjectInterface)

 public:
  FigureObject(QObject* parent, std::vector<figure::Layout> figures) : QObject(parent), figures_(std::move(figures)) {}

  QSizeF intrinsicSize(QTextDocument*, int, const QTextFormat& format) override {
    const QTextImageFormat image = format.toImageFormat();
    return {image.width(), image.height()};
  }
  void drawObject(QPainter* painter, const QRectF& rect, QTextDocument*, int, const QTextFormat& format) override {
    const size_t index = format.toImageFormat().name().section(':', 1).toUInt();
    if (index >= figures_.size()) return;
    painter->save();
    painter->translate(rect.topLeft());
    paint_figure(*painter, figures_[index], paper_colours());
    painter->restore();
  }

 private:
  std::vector<figure::Layout> figures_;
};

}  // namespace

void fill_document(QTextDocument& document, const std::vector<Certificate>& certificates, double width) {
  std::vector<figure::Layout> figures;
  QString body;
  for (size_t i = 0; i < certificates.size(); ++i) {
    const Certificate& c = certificates[i];
    const double height = width * 0.36;
    std::string markup;
    if (!c.evaluation.figures.empty()) {
      figure::Options options;
      options.width = width;
      options.height = height;
      options.set = c.units;
      figures.push_back(figure::lay_out(c.evaluation.figures.front(), options));
      markup = "<p><img src=\"figure:" + std::to_string(figures.size() - 1) + "\" width=\"" +
               std::to_string(int(width)) + "\" height=\"" + std::to_string(int(height)) + "\"/></p>";
    }
    body += QString(i > 0 ? "<div style=\"page-break-before:always\">" : "<div>") +
            QString::fromStdString(certificate_body(c, markup)) + "</div>";
  }
  QFont font("Inter");
  font.setPointSizeF(8.5);
  // Contextual alternates have no Unicode of their own: a PDF's text would lose its hyphens and signs.
  font.setStyleStrategy(QFont::PreferNoShaping);
  document.setDefaultFont(font);
  document.documentLayout()->registerHandler(QTextFormat::ImageObject, new FigureObject(&document, std::move(figures)));
  document.setDefaultStyleSheet("body,td,p{color:#22303C}");
  document.setHtml("<body>" + body + "</body>");
}

Outcome<Done> certificate_pdf(const std::vector<Certificate>& certificates, const std::string& path) {
  const QString name = QString::fromStdString(path);
  if (QFile::exists(name))
    return InputError{path + ": is already there; nothing is overwritten. Choose another name.", {}};
  QFile probe(name);
  if (!probe.open(QIODevice::WriteOnly))
    return InputError{path + ": cannot be written: " + probe.errorString().toStdString() + ".", {}};
  probe.close();
  QPdfWriter writer(name);
  writer.setPageSize(QPageSize(QPageSize::A4));
  writer.setPageMargins(QMarginsF(15, 14, 15, 14), QPageLayout::Millimeter);
  writer.setResolution(96);
  writer.setTitle("Test certificate");
  writer.setCreator("Fortitor " FORTITOR_VERSION);
  QTextDocument document;
  const QSizeF page = QSizeF(writer.width(), writer.height());
  fill_document(document, certificates, page.width());
  document.setDocumentMargin(0);
  document.setPageSize(page);
  document.documentLayout()->setPaintDevice(&writer);
  QPainter painter(&writer);
  if (!painter.isActive()) {
    QFile::remove(name);
    return InputError{path + ": the PDF could not be begun.", {}};
  }
  for (int i = 0; i < document.pageCount(); ++i) {
    if (i > 0) writer.newPage();
    painter.save();
    painter.translate(0, -i * page.height());
    document.drawContents(&painter, QRectF(0, i * page.height(), page.width(), page.height()));
    painter.restore();
  }
  painter.end();
  return Done{};
}

Outcome<std::vector<Certificate>> certificates_of_job(const Book& book, const std::string& job_code, UnitSet units) {
  const auto job = book.job_by_code(job_code);
  if (!job) return InputError{"There is no job " + job_code + " in this book.", {}};
  std::vector<Certificate> out;
  for (const SeriesRow& s : book.series(job->id)) {
    for (const SpecimenRow& row : book.specimens(s.id)) {
      auto record = book.record(row.id);
      if (!record) return InputError{row.code + ": " + record.error().message, {}};
      if (!record->has_run()) continue;
      Certificate c;
      c.record = *record;
      c.evaluation = methods::evaluate(c.record);
      c.job_title = job->title;
      if (row.signed_off) c.signature = book.signature(row.id);
      c.units = units;
      out.push_back(std::move(c));
    }
  }
  if (out.empty()) return InputError{"No specimen of job " + job_code + " has been run yet.", {}};
  return out;
}

}  // namespace fortitor

#include "certificate_pdf.moc"
