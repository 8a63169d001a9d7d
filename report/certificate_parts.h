// Shared by the HTML and the PDF writer of certificates.
#pragma once

#include <string>

#include "report/certificate.h"

namespace fortitor {

/// Body of one certificate; `figure` is the markup that stands for the curve.
std::string certificate_body(const Certificate& certificate, const std::string& figure);

}  // namespace fortitor
