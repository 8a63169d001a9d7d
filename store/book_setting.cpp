#include "store/book_setting.h"

#include "core/json/json.h"

namespace fortitor {

std::vector<SettingCells> rows_of_setting(const std::string& json) {
  std::vector<SettingCells> out;
  const auto all = Json::read(json);
  if (!all.is_array()) return out;
  for (const auto& row : all) {
    if (!row.is_object()) continue;
    SettingCells cells;
    for (const auto& [name, value] : row.items()) {
      if (value.is_string())
        cells[name] = value.get<std::string>();
      else if (value.is_boolean())
        cells[name] = value.get<bool>();
      else if (value.is_number_integer())
        cells[name] = value.is_number_unsigned() ? int64_t(value.get<uint64_t>()) : value.get<int64_t>();
      else if (value.is_number())
        cells[name] = value.get<double>();
    }
    out.push_back(std::move(cells));
  }
  return out;
}

std::string setting_of_rows(const std::vector<SettingCells>& rows) {
  Json all = Json::array();
  for (const SettingCells& row : rows) {
    Json j = Json::object();
    for (const auto& [name, cell] : row) std::visit([&, key = name](const auto& v) { j[key] = v; }, cell);
    all.push_back(std::move(j));
  }
  // What was typed may hold bytes that are no text.
  return all.dump();
}

}  // namespace fortitor
