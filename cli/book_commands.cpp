#include <QFile>
#include <QFontDatabase>
#include <QGuiApplication>
#include <cstdio>
#include <memory>

#include "cli/commands.h"
#include "report/certificate.h"

namespace fortitor::cli {
namespace {

bool ends_with(const std::string& s, const std::string& end) {
  return s.size() >= end.size() && s.compare(s.size() - end.size(), end.size(), end) == 0;
}

// The store and the PDF writer want an application object, never a display.
struct Headless {
  Headless() {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    // Standard error carries one line of ours and nothing of the toolkit's.
    qputenv("QT_LOGGING_RULES", "default.warning=false");
    app = std::make_unique<QGuiApplication>(count, names);
    for (const char* f : {"Inter-Regular.otf", "Inter-SemiBold.otf", "Inter-Bold.otf", "JetBrainsMono-Regular.ttf"})
      QFontDatabase::addApplicationFont(QString(":/fonts/") + f);
  }
  int count = 1;
  char name[12] = "fortitorctl";
  char* names[2] = {name, nullptr};
  std::unique_ptr<QGuiApplication> app;
};

}  // namespace

int report(const std::string& book_path, const std::string& job, const std::string& out) {
  const Headless headless;
  const bool pdf = ends_with(out, ".pdf"), html = ends_with(out, ".html");
  if (!pdf && !html) return bad_input("--out: expected FILE.pdf or FILE.html");
  auto book = Book::open_read_only(book_path);
  if (!book) return bad_input(book.error().message);
  const auto certificates = certificates_of_job(**book, job, UnitSet::si);
  if (!certificates) return bad_input(book_path + ": " + certificates.error().message);
  if (pdf) {
    const auto done = certificate_pdf(*certificates, out);
    if (!done) return bad_input(done.error().message);
    return 0;
  }
  QFile file(QString::fromStdString(out));
  if (!file.open(QIODevice::WriteOnly | QIODevice::NewOnly))
    return bad_input(out + ": cannot be written, or is already there; nothing is overwritten");
  file.write(QByteArray::fromStdString(certificate_html(*certificates)));
  return 0;
}

int check(const std::string& book_path) {
  const Headless headless;
  auto book = Book::open_read_only(book_path);
  if (!book) return bad_input(book.error().message);
  const auto damage = (*book)->verify();
  for (const Damage& d : damage) std::printf("%s\n", d.what.c_str());
  if (!damage.empty()) return 1;
  std::printf("The book is sound.\n");
  return 0;
}

}  // namespace fortitor::cli
