// The guide, shipped with the program: F1 opens the part that is about where one is.
#pragma once

#include <QTextBrowser>

#include "app/frame/desk.h"
#include "app/guide/guide_parts.h"
#include "core/evaluation/evaluation.h"

class QListWidget;

namespace fortitor {

class GuideDesk : public Desk {
  Q_OBJECT

 public:
  explicit GuideDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "guide"; }
  QString title() const override { return "Guide"; }
  Docket::Place place() const override { return Docket::Place::today; }
  bool wants_room() const override { return true; }
  bool of_the_book() const override { return false; }
  std::vector<Doable> doable() override { return {opens("Guide", "F1 opens the part about where you are", 0, 0)}; }
  /// "How do I type a number": the parts whose headings have what was typed, questions left out.
  std::vector<Doable> found(const QString& typed) override;
  /// `detail`: number of the part.
  void open(Id what, int detail) override;

 private:
  void show_part(size_t part);
  /// Under a finding: a piece on which it is raised, made and evaluated beside the window.
  void show_case(const QString& code);
  void put_case(const QString& code, const Evaluation& e, const QString& piece);
  class Pages;
  QListWidget* parts_;
  Pages* pages_;
  Workbench* bench_;
  TaskPtr making_;  ///< a case
};

}  // namespace fortitor
