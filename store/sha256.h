// SHA-256 (FIPS 180-4) by the processor's own instructions, through OpenSSL: what a book seals is hashed at every
// opening.
#pragma once

#include <openssl/evp.h>
#include <QByteArray>
#include <memory>

namespace fortitor {

class Sha256 {
 public:
  Sha256() : context_(EVP_MD_CTX_new(), EVP_MD_CTX_free) {
    if (context_ == nullptr || EVP_DigestInit_ex(context_.get(), EVP_sha256(), nullptr) != 1)
      qFatal("this machine has no SHA-256");
  }
  void addData(const QByteArray& data) { EVP_DigestUpdate(context_.get(), data.constData(), size_t(data.size())); }
  /// 32 bytes; once.
  QByteArray result() {
    QByteArray out(32, Qt::Uninitialized);
    EVP_DigestFinal_ex(context_.get(), reinterpret_cast<unsigned char*>(out.data()), nullptr);
    return out;
  }
  static QByteArray of(const QByteArray& data) {
    Sha256 hash;
    hash.addData(data);
    return hash.result();
  }

 private:
  std::unique_ptr<EVP_MD_CTX, void (*)(EVP_MD_CTX*)> context_;
};

}  // namespace fortitor
