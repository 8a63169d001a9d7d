// What a part of the program keeps in the book's settings as rows of named cells: one way in and out, so that a setting
// that somebody wrote by hand is no more than rows that are left out.
#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <utility>
#include <variant>
#include <vector>

#include "store/book.h"

namespace fortitor {

using SettingCell = std::variant<std::string, double, int64_t, bool>;
using SettingCells = std::map<std::string, SettingCell>;

/// Rows out of the text of a setting; what is no row, and cells of another kind, are left out.
std::vector<SettingCells> rows_of_setting(const std::string& json);
std::string setting_of_rows(const std::vector<SettingCells>& rows);

/// Rows of a type, each cell a member of it.
template <class Row>
class SettingRows {
 public:
  using Member =
      std::variant<std::string Row::*, double Row::*, int Row::*, int64_t Row::*, uint64_t Row::*, bool Row::*>;
  SettingRows(std::string name, std::vector<std::pair<std::string, Member>> cells)
      : name_(std::move(name)), cells_(std::move(cells)) {}

  /// In the order in which they were kept. A cell that is missing, or of another kind, is what a new row has.
  std::vector<Row> of(const Book& book) const {
    std::vector<Row> out;
    for (const SettingCells& kept : rows_of_setting(book.setting(name_).value_or(""))) {
      Row row;
      for (const auto& [cell, member] : cells_)
        if (const auto it = kept.find(cell); it != kept.end())
          std::visit([&, &read = it->second](auto at) { take(row.*at, read); }, member);
      out.push_back(std::move(row));
    }
    return out;
  }

  Outcome<Done> keep(Book& book, const std::vector<Row>& rows) const {
    std::vector<SettingCells> all;
    for (const Row& row : rows) {
      SettingCells& cells = all.emplace_back();
      for (const auto& [cell, member] : cells_)
        std::visit([&, name = cell](auto at) { cells[name] = cell_of(row.*at); }, member);
    }
    return book.set_setting(name_, setting_of_rows(all));
  }

 private:
  template <class T>
  static void take(T& into, const SettingCell& cell) {
    if constexpr (std::is_same_v<T, std::string> || std::is_same_v<T, bool>) {
      if (const T* v = std::get_if<T>(&cell)) into = *v;
    } else if constexpr (std::is_same_v<T, double>) {
      if (const auto* v = std::get_if<double>(&cell)) into = *v;
      if (const auto* v = std::get_if<int64_t>(&cell)) into = double(*v);
    } else {
      if (const auto* v = std::get_if<int64_t>(&cell); v != nullptr && std::in_range<T>(*v)) into = T(*v);
      if constexpr (std::is_same_v<T, uint64_t>)
        if (const auto* v = std::get_if<int64_t>(&cell)) into = uint64_t(*v);  // as it was written
    }
  }
  template <class T>
  static SettingCell cell_of(const T& value) {
    if constexpr (std::is_integral_v<T> && !std::is_same_v<T, bool>)
      return int64_t(value);
    else
      return value;
  }
  std::string name_;
  std::vector<std::pair<std::string, Member>> cells_;
};

}  // namespace fortitor
