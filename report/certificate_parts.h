// Shared by the HTML and the PDF writer of certificates.
#pragma once

#include <string>

#include "report/certificate.h"

namespace fortitor {

/// Figures of a certificate in the order in which its body wants them: the first one, others that are printed, those of
/// its parts.
std::vector<const Figure*> figures_of(const Certificate& certificate);
/// Body of one certificate; `figures` are the markups that stand for figures_of().
std::string certificate_body(const Certificate& certificate, const std::vector<std::string>& figures);

}  // namespace fortitor
