// What a series has as numbers and as words, beside its figure.
#include "app/series/series_page.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;

bool is_count(const ResultValue& r) {
  return r.spec.dimension == Dimension::none && r.spec.figures == 6;
}

// Number and unit; scatter is read beside the mean, in its unit.
std::pair<std::string, std::string> number_and_unit(const ResultValue& r, const ResultValue* mean, UnitSet set) {
  if (is_count(r)) return {std::to_string(int(r.value)), ""};
  const bool beside =
      mean != nullptr && r.spec.dimension == mean->spec.dimension && r.spec.dimension != Dimension::none;
  const Unit& unit = display_unit(r.spec.dimension, set, beside ? mean->value : r.value);
  return {significant((r.value - unit.offset) / unit.factor, r.spec.figures), std::string(unit.symbol)};
}

void add_line(QVBoxLayout* to, const QString& name, const QString& value, bool big) {
  auto* row = new QHBoxLayout;
  row->addWidget(parts::label(name, "quiet"), 1);
  auto* v = parts::label(value, "mono");
  v->setWordWrap(false);
  if (big)
    v->setStyleSheet(
        QString("font-family:'JetBrains Mono';font-weight:700;font-size:%1px").arg(qRound(22 * theme::scale())));
  row->addWidget(v);
  to->addLayout(row);
}

// What the page leaves out: members of a group stand in its words, void tests have a line only when there are some, and
// the mean and s above are those of the fit where bounds are among the values.
bool left_out(const ResultValue& r) {
  const std::string& key = r.spec.key;
  return key.rfind("group_", 0) == 0 || key.rfind("ml_", 0) == 0 ||
         (is_count(r) && (r.value == 0 || key == "relation_n") && key != "n");
}

}  // namespace

void SeriesPage::fill_numbers() {
  parts::clear(numbers_);
  const Evaluation& e = view_.judged;
  const UnitSet set = bench_->units();
  const ResultValue* mean = e.find("mean");
  for (size_t i = 0; i < e.results.size(); ++i) {
    const ResultValue& r = e.results[i];
    if (r.is_text()) {
      numbers_->addSpacing(4);
      numbers_->addWidget(parts::label(qs(r.spec.name), "title"));
      numbers_->addWidget(parts::label(qs(r.text), "quiet"));
      continue;
    }
    if (left_out(r)) continue;
    auto [number, unit] = number_and_unit(r, mean, set);
    QString name = qs(r.spec.name);
    if (r.spec.key.ends_with("_low") && i + 1 < e.results.size()) {  // two ends of one interval
      number += " – " + number_and_unit(e.results[++i], mean, set).first;
      name = name.section(',', 0, 0);
    }
    if (r.censored && r.censored->above) number = "≥ " + number;
    add_line(numbers_, name, qs(number) + " " + qs(unit), r.spec.key == "mean");
    if (const std::string stands = stand_words(r, set); !stands.empty()) {
      auto* words = parts::label(qs(stands), r.verdict == Verdict::meets ? "quiet" : "caution");
      words->setAlignment(Qt::AlignRight);
      numbers_->addWidget(words);
    }
  }
}

void SeriesPage::fill_words() {
  parts::clear(words_);
  const Evaluation& e = view_.judged;
  bool any = false;
  for (const Finding& f : e.findings) {
    const bool strong = f.code == "suspect" && f.evidence.count("p") && f.evidence.at("p") < 0.05;
    words_->addWidget(parts::label(qs(f.message), strong || f.severity == Severity::check ? "caution" : "quiet"));
    any = true;
    if (f.severity != Severity::check) continue;
    if (f.answer) {
      words_->addWidget(parts::label("Stays in: “" + qs(f.answer->reason) + "” (" + qs(f.answer->by) + ")", "hint"));
      continue;
    }
    auto* stay = parts::button("It stays in because…", "series-answer");
    connect(stay, &QPushButton::clicked, this, [this, f] { answer_outlier(f); });
    words_->addWidget(stay, 0, Qt::AlignLeft);
  }
  if (!view_.method->series.suspects_path.empty() && e.finding("suspect") == nullptr)
    words_->addWidget(parts::label("Tick what was seen on a piece; the data are asked whether it matters.", "hint"));
  else if (!any)
    words_->addWidget(parts::label("Nothing out of the ordinary.", "quiet"));
}

}  // namespace fortitor
