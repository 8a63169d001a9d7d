// A machine's file on its way into runs: which of its tables is looked at, what each column is, what is still missing,
// what was remembered of files like it, and what the file says of itself. Knows no window.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/record/machine_file.h"
#include "core/record/mapping.h"
#include "core/record/says.h"

namespace fortitor {

class ImportSession {
 public:
  /// A column of the table in hand.
  struct Column {
    std::string name, unit;  ///< the unit as the file has it, or as somebody typed it
    std::string channel;     ///< of the method; empty: left out
    double peak = 0;         ///< the value farthest from zero; NaN where there is none
  };

  /// Reads a file; `heard` is told the share that is read and stops it by false. May take long.
  static Outcome<std::shared_ptr<ImportSession>> read(const std::string& path,
                                                      const std::function<bool(double)>& heard = {});
  explicit ImportSession(MachineFile file);

  const MachineFile& file() const { return *file_; }
  size_t blocks() const { return file_->blocks.size(); }
  /// "HB-01 · 4,312 rows", "Table 2 · 812 rows".
  std::string block_words(size_t block) const;
  size_t block() const { return block_; }
  const CsvTable& table() const { return file_->blocks[block_].table; }

  /// Takes a table into hand: its columns are guessed by name and unit, or mapped as `remembered` says (memory() of a
  /// file like it). What cannot be read of that is no memory.
  void choose(size_t block, const Schema& schema, const std::optional<std::string>& remembered = {});
  /// Key under which the mapping of a block's columns is remembered.
  std::string signature(size_t block) const { return mapping_signature(file_->blocks[block].table.dialect); }
  std::string memory() const;
  bool as_remembered() const { return as_remembered_; }

  const std::vector<Column>& columns() const { return columns_; }
  void set_channel(size_t column, const std::string& channel) { columns_.at(column).channel = channel; }
  void set_unit(size_t column, const std::string& unit) { columns_.at(column).unit = unit; }
  std::map<std::string, ChannelSource> mapping() const;
  /// Label of a channel that a run must have and that no column is; empty when none is missing.
  std::string missing(const Schema& schema) const;

  /// What is in hand, in a sentence or two.
  std::string words() const;
  FileSays says(size_t block) const { return file_says(*file_, block); }

  /// What turns blocks into samples as the columns are mapped now, to be run on any thread. Errors come with the number
  /// of the block among those asked for.
  using Conversion = std::function<Outcome<std::vector<SamplesPtr>>()>;
  Conversion conversion(const std::vector<size_t>& blocks, const Schema& schema) const;
  size_t rows(const std::vector<size_t>& blocks) const;

 private:
  std::shared_ptr<const MachineFile> file_;
  std::vector<std::vector<double>> peaks_;  ///< of its blocks, column by column
  size_t block_ = 0;
  std::vector<Column> columns_;
  bool as_remembered_ = false;
};

}  // namespace fortitor
