#include "app/frame/offer_strip.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <algorithm>

#include "app/theme/parts.h"

namespace fortitor {

using parts::qs;

OfferStrip::OfferStrip(Workbench* bench, FolderWatch* watch, QWidget* parent) : QFrame(parent), bench_(bench) {
  setObjectName("sheet");
  setAccessibleName(spoken("A file came in"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 6, 8, 6);
  row->setSpacing(8);
  words_ = parts::label("", "title");
  row->addWidget(words_, 1);
  take_ = parts::button("", "offer-take", "primary");
  look_ = parts::button("Look at it", "offer-look");
  auto* drop = parts::button("Not now", "offer-drop");
  for (QPushButton* b : {take_, look_, drop}) row->addWidget(b);
  hide();
  connect(take_, &QPushButton::clicked, this, [this] {
    const Offer o = offers_.front();
    done();
    emit run_wanted(o.piece, o.path);
  });
  connect(look_, &QPushButton::clicked, this, [this] {
    const Offer o = offers_.front();
    done();
    emit look_wanted(o.path);
  });
  connect(drop, &QPushButton::clicked, this, &OfferStrip::done);
  connect(watch, &FolderWatch::came, this, [this, watch](Id from, const QString& path) {
    const auto items = bench_->book()->kit();
    if (!items) return;
    const auto item = std::find_if(items->begin(), items->end(), [&](const kit::Item& i) { return i.id == from; });
    if (item == items->end()) return;
    Offer o{qs(item->name()), path, watch->next_piece(*item), {}};
    if (const auto of = bench_->book()->specimen(o.piece); o.piece != 0 && of) o.mark = qs(of->code);
    offers_.push_back(o);
    show_next();
  });
}

void OfferStrip::show_next() {
  setVisible(!offers_.empty());
  if (offers_.empty()) return;
  const Offer& o = offers_.front();
  words_->setText(
      spoken(o.bench + ": " + QFileInfo(o.path).fileName() + " came in." +
             (offers_.size() > 1 ? "  " + QString::number(offers_.size() - 1) + " more after it." : QString())));
  take_->setVisible(o.piece != 0);
  take_->setText(spoken("As the run of " + o.mark));
}

void OfferStrip::done() {
  if (!offers_.empty()) offers_.pop_front();
  show_next();
}

}  // namespace fortitor
