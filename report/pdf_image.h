// A page of a PDF as a picture.
#pragma once

#include <QByteArray>
#include <QImage>

#include "core/outcome.h"

namespace fortitor {

/// Page `number` (from 0) at so many dots an inch. Errors: no such page, no PDF.
Outcome<QImage> page_image(const QByteArray& pdf, int number, double dpi);

}  // namespace fortitor
