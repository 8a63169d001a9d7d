#include "app/series/series_columns.h"

#include <QMenu>
#include <QTableWidget>
#include <algorithm>

#include "app/series/series_view.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/series/series.h"
#include "store/own.h"

namespace fortitor::series_columns {

using parts::qs;

namespace {

QString cell(const Method& method, const std::string& key) {
  return qs(method.id) + "/" + qs(key);
}

// Numbers that some piece has, in the order of its ledger.
std::vector<ResultSpec> offered(const std::vector<Evaluation>& pieces) {
  std::vector<ResultSpec> out;
  for (const Evaluation& e : pieces)
    for (const ResultValue& r : e.results)
      if (!r.is_text() && std::none_of(out.begin(), out.end(), [&](const auto& s) { return s.key == r.spec.key; }))
        out.push_back(r.spec);
  return out;
}

}  // namespace

std::vector<std::string> of(const Method& method) {
  std::vector<std::string> out;
  const QString head = qs(method.id) + "/";
  for (const QString& one : own::of(own::series_columns))
    if (one.startsWith(head))
      if (std::string key = one.mid(head.size()).toStdString(); method.result(key)) out.push_back(std::move(key));
  return out;
}

void keep(const Method& method, const std::vector<std::string>& keys) {
  QStringList all = own::of(own::series_columns);
  const QString head = qs(method.id) + "/";
  all.removeIf([&](const QString& one) { return one.startsWith(head); });
  for (const std::string& key : keys) all << cell(method, key);
  own::keep(own::series_columns, all);
}

void fill(QMenu* menu, const Method& method, const std::vector<Evaluation>& pieces, const std::string& looked_at,
          const std::function<void()>& changed) {
  menu->clear();
  const auto shown = of(method);
  for (const ResultSpec& spec : offered(pieces)) {
    if (spec.key == looked_at) continue;
    QAction* a = menu->addAction(spoken(qs(plain_symbol(spec.symbol)) + "   " + qs(spec.name)));
    a->setCheckable(true);
    a->setChecked(std::find(shown.begin(), shown.end(), spec.key) != shown.end());
    QObject::connect(a, &QAction::toggled, menu, [&method, pieces, key = spec.key, changed](bool on) {
      const auto was = of(method);
      std::vector<std::string> now;
      for (const ResultSpec& s : offered(pieces))
        if (s.key == key ? on : std::find(was.begin(), was.end(), s.key) != was.end()) now.push_back(s.key);
      keep(method, now);
      changed();
    });
  }
}

void show(QTableWidget* table, int from, const Method& method, const std::vector<TestRecord>& records,
          const std::vector<Evaluation>& pieces, UnitSet units, const std::string& looked_at) {
  std::vector<std::string> keys = of(method);
  std::erase(keys, looked_at);
  table->setColumnCount(from + int(keys.size()));
  for (size_t k = 0; k < keys.size(); ++k) {
    const int column = from + int(k);
    table->setHorizontalHeaderItem(column, new QTableWidgetItem(qs(plain_symbol(method.result(keys[k])->symbol))));
    for (size_t i = 0; i < pieces.size(); ++i) {
      const ResultValue* r = pieces[i].find(keys[k]);
      auto* item = new QTableWidgetItem(r == nullptr ? QString("–")
                                                     : spoken(piece_words({&records[i], &pieces[i]}, keys[k], units)));
      item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      item->setFont(theme::numbers(12.5));
      item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (r != nullptr && r->verdict != Verdict::none) item->setForeground(theme::verdict_color(r->verdict));
      table->setItem(int(i), column, item);
    }
  }
}

}  // namespace fortitor::series_columns
