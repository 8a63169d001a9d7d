#include "app/plan/day_board.h"

#include "app/theme/parts.h"
#include "store/book_plan.h"

namespace fortitor {

using parts::qs;

DayBoard::DayBoard(Workbench* bench, QObject* parent) : QObject(parent), bench_(bench) {
  beat_.setInterval(10000);
  connect(&beat_, &QTimer::timeout, this, [this] { emit minute(now().toString("yyyy-MM-dd'T'HH:mm")); });
  beat_.start();
}

// Reading a hundred records takes as long as planning them: both happen beside the window, by a reader of its own.
void DayBoard::ask() {
  const QDateTime at = now();
  struct Made {
    Outcome<agenda::Input> input = agenda::Input{};
    agenda::Agenda agenda;
  };
  if (task_) bench_->tasks().cancel(task_);
  auto made = std::make_shared<Made>();
  const std::string day = at.date().toString(Qt::ISODate).toStdString(),
                    now = at.toString("yyyy-MM-dd'T'HH:mm").toStdString();
  task_ = bench_->tasks().run(
      "Planning the day", this,
      [made, day, now, path = bench_->book()->path(), who = bench_->book()->operator_name()](Task& task) {
        auto reader = Book::open_read_only(path);
        if (!reader) {
          made->input = reader.error();
          return;
        }
        (*reader)->set_operator(who);
        made->input = agenda_input(**reader, day, now);
        if (made->input && !task.stopped()) made->agenda = agenda::plan(*made->input);
      },
      [this, made] {
        if (!made->input) return bench_->say(qs(made->input.error().message));
        input_ = std::move(*made->input);
        agenda_ = std::make_shared<const agenda::Agenda>(std::move(made->agenda));
        emit planned();
      });
}

Outcome<Done> DayBoard::pin(Id specimen, const std::string& step, const std::string& at) {
  return change_pin(specimen, step, [&](agenda::Pin& p) { p.at = at; });
}

Outcome<Done> DayBoard::set_minutes(Id specimen, const std::string& step, int minutes) {
  return change_pin(specimen, step, [&](agenda::Pin& p) { p.minutes = minutes; });
}

Outcome<Done> DayBoard::change_pin(Id specimen, const std::string& step,
                                   const std::function<void(agenda::Pin&)>& change) {
  std::vector<agenda::Pin> pins = plan_pins(*bench_->book());
  auto at = std::find_if(pins.begin(), pins.end(),
                         [&](const agenda::Pin& p) { return p.specimen == specimen && p.step == step; });
  if (at == pins.end()) at = pins.insert(pins.end(), {specimen, step});
  change(*at);
  if (at->at.empty() && at->minutes == 0) pins.erase(at);
  const std::string before = bench_->book()->setting(kPlanPins).value_or("[]"), after = agenda::pins_to_json(pins);
  const auto keep = [this](const std::string& json) -> Outcome<Done> {
    const auto kept = bench_->book()->set_setting(kPlanPins, json);
    if (kept) ask();
    return kept;
  };
  if (const auto kept = keep(after); !kept) return kept;
  bench_->push_step("the plan", [this, keep, before, after](bool back, const QString&) -> Outcome<Done> {
    if (bench_->book()->setting(kPlanPins).value_or("[]") != (back ? after : before))
      return InputError{"The plan was changed since in another way: nothing was undone.", {}};
    return keep(back ? before : after);
  });
  return Done{};
}

Outcome<Done> DayBoard::keep_hours(const agenda::Hours& hours) {
  if (const auto fine = agenda::check(hours); !fine) return fine.error();
  const auto kept = bench_->book()->set_setting(kPlanHours, agenda::hours_to_json(hours));
  if (!kept) return kept.error();
  ask();
  return Done{};
}

}  // namespace fortitor
