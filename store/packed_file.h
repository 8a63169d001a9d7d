// A file of an archive that is packed before the archive is written, on whatever thread made it: the archive only takes
// its bytes over.
#pragma once

#include <zip.h>

#include <QByteArray>
#include <cstdint>

namespace fortitor {

struct PackedFile {
  QByteArray name;
  QByteArray bytes;  ///< deflated, without a head
  uint64_t size = 0;
  uint32_t crc = 0;
};

/// Deflates (RFC 1951) the fastest way: a run comes to a third of its text by it, and nobody waits for the last tenth.
PackedFile packed_file(const QByteArray& name, const QByteArray& data);

/// Puts it into an archive; `file` must live until the archive is closed.
bool add_packed(zip_t* zip, const PackedFile& file);

}  // namespace fortitor
