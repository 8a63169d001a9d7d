// What came in: files of machines dropped anywhere in the window, each specimen with its curve and first numbers, the
// one thing that is missing asked, kept with one press.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include "app/figures/figure_view.h"
#include "app/frame/desk.h"
#include "core/bench/arrival.h"

namespace fortitor {

class ArrivalsDesk : public Desk {
  Q_OBJECT

 public:
  explicit ArrivalsDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "arrivals"; }
  QString title() const override { return "What came in"; }
  Docket::Place place() const override { return Docket::Place::jobs; }
  bool wants_room() const override { return true; }
  void open(Id, int) override;
  void dress() override;
  /// Reads files (and those in folders) beside the window and shows them when they are read.
  void take(const QStringList& paths) override;
  /// `shown`: index of the one in hand.
  size_t count() const { return all_.size(); }

 signals:
  /// All files of a drop are shown.
  void arrived();
  void kept();

 private:
  struct Came {
    Arrival arrival;
    Evaluation evaluation;
    QString refused;  ///< why it could not be kept; it stays
  };
  void fill_list();
  void show_one();
  void read_again(const Method& as);
  void take_typed();
  void keep();
  /// Evaluates the n-th beside the window, then shows it.
  void evaluate(size_t n);
  void go_to_next_missing();
  QString state_of(const Came& one) const;
  int shown() const { return list_->currentRow(); }

  Workbench* bench_;
  std::vector<Came> all_;
  QStringList paths_;
  QListWidget* list_;
  QLabel *head_, *of_file_, *numbers_, *asked_, *problem_, *columns_;
  QComboBox *method_, *into_;
  QLineEdit *mark_, *size_;
  FigureView* figure_;
  QPushButton* keep_;
  bool filling_ = false;
  quint64 drop_ = 0;  ///< counts what came in: an answer for an earlier drop is late
};

}  // namespace fortitor
