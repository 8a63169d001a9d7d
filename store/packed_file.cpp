#include "store/packed_file.h"

#include <zlib.h>

#include <algorithm>
#include <cstring>

namespace fortitor {
namespace {

struct Reader {
  const PackedFile* file;
  qsizetype at = 0;
  zip_error_t error;
};

// The source of a file that is packed already (libzip, zip_source_function(3)): its stat says so, and the archive then
// copies it as it copies a file of another archive.
zip_int64_t serve(void* userdata, void* data, zip_uint64_t length, zip_source_cmd_t command) {
  auto* r = static_cast<Reader*>(userdata);
  switch (command) {
    case ZIP_SOURCE_OPEN: r->at = 0; return 0;
    case ZIP_SOURCE_READ: {
      const qsizetype n = std::min<qsizetype>(qsizetype(length), r->file->bytes.size() - r->at);
      std::memcpy(data, r->file->bytes.constData() + r->at, size_t(n));
      r->at += n;
      return n;
    }
    case ZIP_SOURCE_CLOSE: return 0;
    case ZIP_SOURCE_STAT: {
      auto* st = static_cast<zip_stat_t*>(data);
      zip_stat_init(st);
      st->size = r->file->size;
      st->comp_size = zip_uint64_t(r->file->bytes.size());
      st->crc = r->file->crc;
      st->comp_method = ZIP_CM_DEFLATE;
      st->encryption_method = ZIP_EM_NONE;
      st->valid = ZIP_STAT_SIZE | ZIP_STAT_COMP_SIZE | ZIP_STAT_CRC | ZIP_STAT_COMP_METHOD | ZIP_STAT_ENCRYPTION_METHOD;
      return sizeof *st;
    }
    case ZIP_SOURCE_ERROR: return zip_error_to_data(&r->error, data, length);
    case ZIP_SOURCE_FREE:
      zip_error_fini(&r->error);
      delete r;
      return 0;
    case ZIP_SOURCE_SUPPORTS:
      return zip_source_make_command_bitmap(ZIP_SOURCE_OPEN, ZIP_SOURCE_READ, ZIP_SOURCE_CLOSE, ZIP_SOURCE_STAT,
                                            ZIP_SOURCE_ERROR, ZIP_SOURCE_FREE, -1);
    default: zip_error_set(&r->error, ZIP_ER_OPNOTSUPP, 0); return -1;
  }
}

}  // namespace

PackedFile packed_file(const QByteArray& name, const QByteArray& data) {
  PackedFile out{name, {}, uint64_t(data.size()), 0};
  z_stream z{};
  // Negative: without a head, as archives want it.
  if (deflateInit2(&z, Z_BEST_SPEED, Z_DEFLATED, -MAX_WBITS, MAX_MEM_LEVEL, Z_DEFAULT_STRATEGY) != Z_OK)
    throw std::bad_alloc();
  constexpr qsizetype kStep = 1 << 20;
  uLong crc = crc32(0, nullptr, 0);
  for (qsizetype from = 0; z.total_in < out.size || from == 0;) {
    const qsizetype n = std::min(kStep, data.size() - from);
    const auto* bytes = reinterpret_cast<const Bytef*>(data.constData() + from);
    crc = crc32(crc, bytes, uInt(n));
    z.next_in = const_cast<Bytef*>(bytes);
    z.avail_in = uInt(n);
    from += n;
    const int flush = from >= data.size() ? Z_FINISH : Z_NO_FLUSH;
    int state = Z_OK;
    do {
      const qsizetype was = out.bytes.size();
      out.bytes.resize(was + kStep / 4);
      z.next_out = reinterpret_cast<Bytef*>(out.bytes.data() + was);
      z.avail_out = uInt(kStep / 4);
      state = deflate(&z, flush);
      out.bytes.resize(was + kStep / 4 - qsizetype(z.avail_out));
    } while (z.avail_in > 0 || (flush == Z_FINISH && state != Z_STREAM_END));
    if (flush == Z_FINISH) break;
  }
  deflateEnd(&z);
  out.crc = uint32_t(crc);
  return out;
}

bool add_packed(zip_t* zip, const PackedFile& file) {
  auto* reader = new Reader{&file, 0, {}};
  zip_error_init(&reader->error);
  zip_source_t* source = zip_source_function(zip, serve, reader);
  if (source == nullptr) {
    delete reader;
    return false;
  }
  const zip_int64_t index = zip_file_add(zip, file.name.constData(), source, ZIP_FL_ENC_UTF_8);
  if (index < 0) {
    zip_source_free(source);
    return false;
  }
  return zip_set_file_compression(zip, zip_uint64_t(index), ZIP_CM_DEFLATE, 1) == 0;
}

}  // namespace fortitor
