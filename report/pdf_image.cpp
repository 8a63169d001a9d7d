#include "report/pdf_image.h"

#include <poppler-document.h>
#include <poppler-page-renderer.h>
#include <poppler-page.h>

#include <memory>

namespace fortitor {

Outcome<QImage> page_image(const QByteArray& pdf, int number, double dpi) {
  const std::unique_ptr<poppler::document> document(
      poppler::document::load_from_raw_data(pdf.constData(), int(pdf.size())));
  if (!document) return InputError{"The PDF cannot be read.", {}};
  if (number < 0 || number >= document->pages()) return InputError{"The PDF has no such page.", {}};
  const std::unique_ptr<poppler::page> page(document->create_page(number));
  poppler::page_renderer renderer;
  renderer.set_render_hint(poppler::page_renderer::antialiasing);
  renderer.set_render_hint(poppler::page_renderer::text_antialiasing);
  const poppler::image image = renderer.render_page(page.get(), dpi, dpi);
  if (!image.is_valid()) return InputError{"The page cannot be drawn.", {}};
  return QImage(reinterpret_cast<const uchar*>(image.const_data()), image.width(), image.height(),
                image.bytes_per_row(), QImage::Format_ARGB32)
      .convertToFormat(QImage::Format_RGB32);
}

}  // namespace fortitor
