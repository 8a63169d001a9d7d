// Sign off: the certificate as it will print, what is still open, the exports.
#pragma once

#include "app/laboratory/entry_host.h"
#include "app/stages/stage_page.h"
#include "app/theme/widgets.h"

namespace fortitor {

class SignOffStage : public StagePage {
  Q_OBJECT

 public:
  explicit SignOffStage(Workbench* bench, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;
  /// Writes the certificate; the ending says as what. Used by the button and by tests.
  Outcome<Done> write_certificate(const QString& path);

 private:
  void sign();
  void release();
  void show_hands();
  void render();
  void save(const char* ending);

  QLabel *preview_, *state_;
  QPushButton *sign_, *release_;
  QLineEdit* passphrase_;
  QLabel* missing_;       ///< what a document of the job will lack
  QVBoxLayout* lacking_;  ///< one field to type the first of it in
  EntryHost* paper_;
  QVBoxLayout* open_;
};

}  // namespace fortitor
