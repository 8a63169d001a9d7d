#include "app/series/common_page.h"

#include <QPointer>

#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/bench/common.h"
#include "core/bench/material.h"
#include "core/series/series.h"

namespace fortitor {

using parts::qs;

CommonPage::CommonPage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  const DeskFrame frame(this, "");
  auto* head = frame.head();
  title_ = frame.name();
  title_->setWordWrap(true);
  head->setStretchFactor(title_, 1);
  auto* back = parts::button("Numbers of the series", "common-numbers");
  connect(back, &QPushButton::clicked, this, [this] { emit desk_wanted("series", series_, -1); });
  head->addWidget(back);
  sheets_ = frame.row();
  frame.whole()->addWidget(
      parts::label("A piece takes this over when it is begun and follows when it is changed here. A piece may "
                   "differ: it is marked there. Signed pieces stay as they were signed.",
                   "hint"));
  connect(bench, &Workbench::units_changed, this, [this] {
    if (isVisible()) rebuild();
  });
}

void CommonPage::open(Id series, int) {
  series_ = series;
  rebuild();
}

void CommonPage::rebuild() {
  parts::clear(sheets_);
  forms_.clear();
  of_series_ = nullptr;
  const auto settings = bench_->book()->series_record(series_);
  if (!settings) return say(qs(settings.error().message));
  settings_ = *settings;
  settings_.shelf = bench_->shelf();
  method_ = methods::find(settings_.method.substr(settings_.method.find('/') + 1));
  if (method_ == nullptr) return;
  title_->setText(spoken("What holds for “" + qs(settings_.series) + "”"));
  auto sheet_of = [&](int stretch, double least) {
    auto* sheet = parts::sheet();
    auto* column = parts::column(sheet, 14, 8);
    auto* area = parts::scroller(sheet);
    area->setMinimumWidth(int(least * std::min(1.3, theme::scale())));
    sheets_->addWidget(area, stretch);
    return column;
  };
  auto form = [&](QVBoxLayout* into, const QString& heading, int columns, auto wanted) {
    std::vector<const FieldSpec*> shown;
    for (const FieldSpec* f : common::fields_of(*method_))
      if (!f->brought && f->path.rfind("equipment.", 0) != 0 && wanted(*f)) shown.push_back(f);
    if (shown.empty()) return;
    into->addWidget(parts::label(heading, "heading"));
    forms_.push_back(new FieldForm(this));
    forms_.back()->show_fields(shown, columns);
    into->addWidget(forms_.back());
  };
  QVBoxLayout* left = sheet_of(3, 230);
  form(left, "The pieces", 1,
       [](const FieldSpec& f) { return f.stage == Stage::prepare && f.path.rfind("settings.", 0) != 0; });
  usual_ = parts::label("", "hint");
  left->addWidget(usual_);
  form(left, "Shape and lengths", 1, [](const FieldSpec& f) { return f.stage == Stage::measure; });
  left->addStretch();
  QVBoxLayout* middle = sheet_of(4, 290);
  equipment_ = new EquipmentPanel(bench_, this);
  equipment_->show_slots(*method_, std::nullopt);
  middle->addWidget(equipment_);
  form(middle, "Speed and stops", 2, [](const FieldSpec& f) { return f.stage == Stage::set_up; });
  middle->addStretch();
  QVBoxLayout* right = sheet_of(4, 370);
  right->addWidget(parts::label("What they must meet", "heading"));
  limits_ = new LimitsForm(this, Limitable::pieces_of(*method_));
  right->addWidget(limits_);
  const std::string looked_at = series_key(*method_, settings_);
  if (const auto spec = method_->result(looked_at)) {
    right->addWidget(parts::label("What the series must meet: " + qs(spec->name), "title"));
    of_series_ = new LimitsForm(this, Limitable::series_under(*method_, looked_at));
    right->addWidget(of_series_);
  }
  form(right, "How they are judged", 2, [](const FieldSpec& f) {
    return f.stage == Stage::evaluate || (f.stage == Stage::prepare && f.path.rfind("settings.", 0) == 0);
  });
  right->addSpacing(8);
  right->addWidget(parts::label("The pieces now", "title"));
  pieces_ = new QVBoxLayout;
  pieces_->setSpacing(4);
  right->addLayout(pieces_);
  right->addStretch();
  refresh();
}

void CommonPage::edit(const QString& what, const std::function<void(TestRecord&)>& change) {
  TestRecord now = settings_;
  change(now);
  const TestRecord was = settings_;
  settings_ = now;  // shown at once; it goes back when it cannot be kept
  refresh();
  bench_->keep_common(series_, now, "series: " + what,
                      [this, what, now, bench = bench_, page = QPointer<CommonPage>(this), series = series_,
                       was](const Outcome<Done>& done) {
                        if (done) take_back_later(bench, page, series, "series: " + what, was, now);
                        if (page.isNull() || series != series_) return;
                        if (!done) {
                          say(qs(done.error().message));
                          settings_ = was;
                        }
                        refresh();
                        emit kept();
                      });
}

// The series as it was, and the pieces that follow it, again beside the window.
void CommonPage::take_back_later(Workbench* bench, const QPointer<CommonPage>& page, Id series, const QString& what,
                                 const TestRecord& was, const TestRecord& now) {
  bench->push_step(what, [=](bool back, const QString& words) -> Outcome<Done> {
    const auto kept = bench->book()->series_record(series);
    if (!kept) return kept.error();
    const TestRecord &is = back ? now : was, &wanted = back ? was : now;
    if (!(kept->fields == is.fields) || kept->limits != is.limits)
      return InputError{"The series was changed since in another way: nothing was undone.", {}};
    bench->keep_common(series, wanted, words, [bench, page, series](const Outcome<Done>& done) {
      if (!done) return bench->say(qs(done.error().message));
      if (!page.isNull() && page->series_ == series && page->isVisible()) page->rebuild();
    });
    return Done{};
  });
}

void CommonPage::refresh() {
  for (FieldForm* f : forms_) f->refresh();
  equipment_->refresh();
  limits_->refresh();
  if (of_series_) of_series_->refresh();
  const std::string usual = material::usual_words(settings_, units());
  usual_->setText(spoken(usual.empty() ? QString() : "Usual: " + qs(usual)));
  usual_->setVisible(!usual.empty());
  refresh_pieces();
}

// Which pieces stand aside: a difference that nobody sees is a fault waiting.
void CommonPage::refresh_pieces() {
  struct Differing {
    QStringList lines;
    int same = 0, more = 0, all = 0;
  };
  const auto found = std::make_shared<Differing>();
  if (comparing_) bench_->tasks().cancel(comparing_);
  comparing_ = bench_->tasks().run(
      "Comparing the pieces with their series", this,
      [found, series = series_, settings = settings_, method = method_, path = bench_->book()->path()](Task& task) {
        const auto book = Book::open_read_only(path);
        if (!book) return;
        for (const SpecimenRow& s : (*book)->specimens(series)) {
          if (task.stopped()) return;
          ++found->all;
          const auto r = (*book)->typed_record(s.id);
          if (!r) continue;
          const auto differ = common::differences(*r, settings, *method);
          if (differ.empty()) {
            ++found->same;
          } else if (found->lines.size() >= 12) {
            ++found->more;
          } else {
            QString words = qs(s.code) + ": " + qs(differ.front());
            if (differ.size() > 1) words += " and " + QString::number(differ.size() - 1) + " more";
            found->lines << words + (s.signed_off ? " (signed)" : "");
          }
        }
      },
      [this, found] {
        parts::clear(pieces_);
        if (found->same > 0)
          pieces_->addWidget(parts::label(found->same == found->all ? QString("All as the series.")
                                                                    : QString::number(found->same) + " as the series.",
                                          "quiet"));
        for (const QString& line : found->lines) pieces_->addWidget(parts::label(line, "caution"));
        if (found->more > 0)
          pieces_->addWidget(parts::label("… and " + QString::number(found->more) + " more", "caution"));
        emit compared();
      });
}

std::vector<Doable> CommonPage::doable() {
  if (!bench_->has_specimen()) return {};
  return {opens(title(), "typed once for all pieces", bench_->book()->series_of(bench_->specimen()).id)};
}

}  // namespace fortitor
