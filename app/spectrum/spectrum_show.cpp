// What the spectrum desk shows: week, window, picture of the step, ledger and findings.
#include <QInputDialog>
#include <cmath>

#include "app/spectrum/spectrum_desk.h"
#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using spectrum::ChainStep;
using theme::Ink;

void SpectrumDesk::show_week(int week) {
  parts::clear(weeks_);
  week_at_ = std::clamp(week, 0, std::max(0, int(overviews_.size()) - 1));
  if (overviews_.empty()) return;
  for (size_t k = 0; k < overviews_.size() && overviews_.size() > 1; ++k) {
    const QString name = now_ && k < now_->weeks.size() ? qs(now_->weeks[k].name) : "week " + QString::number(k + 1);
    auto* b = parts::button(name, "spectrum-week-" + QString::number(k + 1));
    b->setCheckable(true);
    b->setChecked(int(k) == week_at_);
    connect(b, &QPushButton::clicked, this, [this, k] {
      show_week(int(k));
      if (step_ == int(ChainStep::chain)) show_picture();
    });
    weeks_->addWidget(b);
  }
  const auto& kept = overviews_[size_t(week_at_)];
  const QString name = now_ && size_t(week_at_) < now_->weeks.size() ? qs(now_->weeks[size_t(week_at_)].name)
                                                                     : "week " + QString::number(week_at_ + 1);
  week_->show_week(kept, "strain, µε, " + name + ": slide the window, wheel zooms");
  show_window();
}

void SpectrumDesk::show_window() {
  if (!now_ || size_t(week_at_) >= now_->weeks.size())
    return window_->show_nothing(task_ ? "The weeks are being read." : "");
  const spectrum::Week& w = now_->weeks[size_t(week_at_)];
  const double rate = w.signal->rate();
  const uint64_t from = uint64_t(std::max(0.0, week_->from() * rate));
  const size_t count = size_t(week_->length() * rate) + 1;
  const auto look = fatigue::look_at(*w.signal, w.drift, now_->settings.cut, from, count);
  if (!look) return window_->show_nothing(qs(look.error().message));
  Figure f;
  f.id = "window";
  f.title = "strain in the window";
  Panel p;
  p.name = "Window";
  const int day = int(double(from) / rate / 86400) + 1, minutes = int(std::fmod(double(from) / rate, 86400) / 60);
  p.x = {"seconds, day " + std::to_string(day) + " " +
             QString("%1:%2").arg(minutes / 60, 2, 10, QChar('0')).arg(minutes % 60, 2, 10, QChar('0')).toStdString(),
         Dimension::none};
  p.y = {"strain", Dimension::microstrain};
  p.x.from = 0;
  p.x.to = week_->length();
  p.caption = now_->settings.cut > 0
                  ? "pale: as measured, levelled · blue: smoothed · rings: turning points that stay after the cut"
                  : "levelled · rings: turning points that stay after the cut";
  const size_t n = look->levelled.size(), bucket = std::max<size_t>(1, n / 1500);
  Trace measured, smooth, rings;
  measured.tone = 6;
  measured.pale = true;
  measured.weight = 1;
  measured.outlier = true;
  smooth.tone = 5;
  for (size_t i = 0; i < n; i += bucket) {
    // Least and largest of what falls on a pixel: no peak is lost to the drawing.
    double least = HUGE_VAL, largest = -HUGE_VAL;
    for (size_t k = i; k < std::min(n, i + bucket); ++k)
      if (std::isfinite(look->levelled[k]))
        least = std::min(least, look->levelled[k]), largest = std::max(largest, look->levelled[k]);
    const double t = double(i) / rate;
    if (least > largest) least = largest = NAN;
    measured.x.push_back(t);
    measured.y.push_back(least * 1e-6);
    if (bucket > 1) measured.x.push_back(t), measured.y.push_back(largest * 1e-6);
    smooth.x.push_back(t);
    smooth.y.push_back(look->smooth[i] * 1e-6);
  }
  rings.kind = Trace::Kind::points;
  rings.tone = 2;
  const double gate = std::isfinite(w.omission_level) ? w.omission_level : now_->settings.gate;
  // Only what lies near the window: sliding must not wait for the week.
  constexpr std::ptrdiff_t kAround = 400;
  const auto before = [](const fatigue::Extreme& e, uint64_t at) { return e.at < at; };
  const auto first = std::lower_bound(w.turning.begin(), w.turning.end(), from, before),
             last = std::lower_bound(first, w.turning.end(), from + n, before);
  const std::vector<fatigue::Extreme> near(first - std::min(kAround, first - w.turning.begin()),
                                           last + std::min(kAround, w.turning.end() - last));
  for (const fatigue::Extreme& e : fatigue::turning_points(near, gate)) {
    if (e.at < from || e.at >= from + n) continue;
    rings.x.push_back(double(e.at - from) / rate);
    rings.y.push_back(e.value * 1e-6);
    rings.hollow.push_back(1);
  }
  if (now_->settings.cut > 0) p.traces.push_back(std::move(measured));
  p.traces.push_back(std::move(smooth));
  if (!rings.x.empty()) p.traces.push_back(std::move(rings));
  f.panels.push_back(std::move(p));
  window_->show_figure(f, bench_->units());
}

// Pictures are drawn up beside the window: a week has millions of cycles. What is there stays until the new one is.
void SpectrumDesk::show_picture() {
  if (!now_) return picture_->show_nothing(task_ ? "The weeks are being read." : "Pictures come with the numbers.");
  const bool driven = !now_->drive.values.empty();
  drive_->setEnabled(driven);
  study_->setEnabled(driven);
  if (drawing_) bench_->tasks().cancel(drawing_);
  const auto figure = std::make_shared<Figure>();
  const SpectrumPtr of = now_;
  drawing_ = bench_->tasks().run(
      "Drawing the signal", this,
      [=, life = life_, step = step_, week = size_t(week_at_), record = record_](Task&) {
        if (life) {
          *figure = spectrum::life_figure(*of, record);
          return;
        }
        auto figures = figures_of(*of, ChainStep(step), week);
        if (!figures.empty()) *figure = std::move(figures.front());
      },
      [=, this] {
        drawing_.reset();
        if (figure->empty()) return picture_->show_nothing("Nothing is left to draw at this step.");
        picture_->show_figure(*figure, bench_->units());
        picture_->highlight(open_how_.toStdString());
        emit drawn();
      });
}

void SpectrumDesk::show_ledger() {
  if (!now_) {
    ledger_->setText(spoken("<span>Results stand here when the weeks are read.</span>"));
    used_->clear();
    parts::clear(findings_);
    return;
  }
  const UnitSet set = bench_->units();
  const QString quiet = theme::color(Ink::quiet).name(), ink = theme::color(Ink::ink).name();
  auto shown = [&](const ResultValue& r) {
    if (r.spec.figures != 9) return qs(spectrum::shown(r, set));
    return r.value >= 1e6 ? QString::number(r.value / 1e6, 'f', 2) + " M" : QString::number(r.value, 'f', 0);
  };
  auto sure = [&](const ResultValue& r) {
    if (r.spec.figures == 9 && r.value >= 1e6 && r.standard_uncertainty > 0)
      return "± " + QString::number(r.expanded() / 1e6, 'g', 2) + " M";
    return qs(spectrum::shown_uncertainty(r, set));
  };
  std::vector<Evaluation> weeks;
  if (now_->weeks.size() > 1)
    for (const spectrum::Week& w : now_->weeks) weeks.push_back(evaluation_of_week(*now_, w));
  QString html = "<table width='100%' cellspacing='0' cellpadding='3'>";
  for (const ResultValue& r : evaluation_.results) {
    if (!r.spec.headline) continue;
    const QString key = qs(r.spec.key);
    html += QString(
                "<tr><td><a href='%1' style='color:%2;text-decoration:none'>%3</a></td><td align='right' "
                "style=\"font-family:'JetBrains Mono';font-weight:700;color:%4\">%5</td>"
                "<td style='color:%2;font-size:%6px'>%7</td></tr>")
                .arg(key, quiet, qs(r.spec.name).toHtmlEscaped(), ink, shown(r).toHtmlEscaped())
                .arg(qRound(11 * theme::scale()))
                .arg(sure(r));
    QString under;
    if (!weeks.empty() && weeks.size() <= 6 && r.spec.figures != 3) {
      for (const Evaluation& w : weeks)
        if (const ResultValue* one = w.find(r.spec.key))
          under += (under.isEmpty() ? "" : ", ") + shown(*one).section(' ', 0, one->censored ? 1 : 0);
      if (!under.isEmpty()) under = "by week: " + under;
    }
    if (open_how_ == key)
      for (const Step& s : r.how)
        under += (under.isEmpty() ? "" : "<br>") + qs(s.expression).toHtmlEscaped() +
                 (s.with.empty() ? "" : "<br>" + qs(s.with).toHtmlEscaped()) +
                 (s.source.empty() ? "" : "<br><i>" + qs(s.source).toHtmlEscaped() + "</i>");
    if (!under.isEmpty())
      html += QString("<tr><td colspan='3' style='color:%1;font-size:%2px'>%3</td></tr>")
                  .arg(quiet)
                  .arg(qRound(11 * theme::scale()))
                  .arg(under);
  }
  ledger_->setText(spoken(html + "</table>"));
  double samples = 0;
  for (const spectrum::Week& w : now_->weeks) samples += double(w.raw.samples);
  used_->setText(spoken(QString::number(samples / 1e6, 'f', 1) + " million samples in " +
                        QString::number(now_->weeks.size()) + (now_->weeks.size() == 1 ? " week" : " weeks") +
                        ". An observation on these weeks: codes and the designer rate a detail."));
  if (faults_ != nullptr) faults_->setText(spoken(faults_html()));
  show_findings();
}

// Where the logger failed, each a link that takes the window there.
QString SpectrumDesk::faults_html() const {
  QString out;
  if (!now_) return out;
  int listed = 0, more = 0;
  auto add = [&](size_t week, uint64_t at, const QString& what) {
    if (listed >= 12) return void(++more);
    ++listed;
    const double seconds = double(at) / now_->weeks[week].signal->rate();
    out += QString("<a href='%1:%2' style='color:%3'>%4, day %5 %6:%7</a>  %8<br>")
               .arg(week)
               .arg(seconds, 0, 'f', 1)
               .arg(theme::color(Ink::action).name(), qs(now_->weeks[week].name).toHtmlEscaped())
               .arg(int(seconds / 86400) + 1)
               .arg(int(std::fmod(seconds, 86400) / 3600), 2, 10, QChar('0'))
               .arg(int(std::fmod(seconds, 3600) / 60), 2, 10, QChar('0'))
               .arg(what);
  };
  auto lasting = [](double s) {
    return s < 120 ? QString::number(s, 'f', 1) + " s" : QString::number(s / 60, 'f', 1) + " min";
  };
  for (size_t k = 0; k < now_->weeks.size(); ++k) {
    const spectrum::Week& w = now_->weeks[k];
    for (uint64_t at : w.smooth.spikes) add(k, at, "spike");
    for (const fatigue::Stretch& s : w.smooth.stuck)
      add(k, s.from, "stuck for " + lasting(double(s.count) / w.signal->rate()));
    for (const fatigue::Stretch& g : w.raw.gaps)
      add(k, g.from, "gap of " + lasting(double(g.count) / w.signal->rate()));
  }
  return more > 0 ? out + "and " + QString::number(more) + " more" : out;
}

void SpectrumDesk::show_findings() {
  parts::clear(findings_);
  for (const Finding& f : evaluation_.findings) {
    const bool open = f.severity == Severity::check && !f.answer;
    findings_->addWidget(parts::label(qs(f.message), open ? "caution" : "quiet"));
    if (f.answer)
      findings_->addWidget(parts::label("Answered: “" + qs(f.answer->reason) + "” (" + qs(f.answer->by) + ")", "hint"));
    if (!open) continue;
    auto* row = new QWidget;
    auto* layout = new FlowLayout(6, row);
    for (const Remedy& r : f.remedies) {
      auto* b = parts::button(qs(r.label), qs("spectrum-remedy:" + f.code + ":" + r.id));
      connect(b, &QPushButton::clicked, this, [this, f, r] {
        if (!r.wants_reason) return answer(f, r, {});
        bool ok = false;
        const QString reason =
            QInputDialog::getText(this, spoken("Reason"), spoken(qs(r.label)), QLineEdit::Normal, {}, &ok).trimmed();
        if (ok && !reason.isEmpty()) answer(f, r, reason);
      });
      layout->addWidget(b);
    }
    findings_->addWidget(row);
  }
}

}  // namespace fortitor
