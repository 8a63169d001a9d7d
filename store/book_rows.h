// What a job book gives to whoever asks: its rows, as values.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

using Id = int64_t;

struct JobRow {
  Id id = 0;
  std::string code, title, due;
};

struct SeriesRow {
  Id id = 0, job = 0;
  std::string title, method;
};

/// A specimen with what the Docket shows of it.
struct SpecimenRow {
  Id id = 0, series = 0;
  std::string code;
  std::string stages = "0000000";  ///< one character a stage: 0 open, 1 begun, 2 done
  std::string verdict = "none";
  int open_judgements = 0;
  bool signed_off = false;
};

struct SeriesOutline {
  SeriesRow series;
  std::vector<SpecimenRow> specimens;
};
/// A spectrum of a job.
struct SpectrumRow {
  Id id = 0, job = 0;
  std::string title;
};
struct JobOutline {
  JobRow job;
  std::vector<SeriesOutline> series;
  std::vector<SpectrumRow> spectra = {};
};

/// A specimen that was looked for, with where it belongs.
struct FoundRow {
  Id specimen = 0;
  std::string code;
  Id series = 0;
  std::string series_title;
  Id job = 0;
  std::string job_code, job_title;
};

/// A specimen that an item of the Kit was used for.
struct ItemUse {
  Id specimen = 0;
  std::string code, tested_at;
};

/// A time that runs for a specimen: cure, conditioning. Times as the book writes them.
struct TimerRow {
  Id id = 0, specimen = 0;
  std::string code, label, started_at, ends_at;
  bool acknowledged = false;  ///< its end has been seen
};

struct LogEntry {
  Id id = 0;
  std::string at, who, what, specimen, detail, previous, hash;
};

/// Which lines of the logbook are asked for; what is empty asks for nothing.
struct LogQuery {
  std::string words = {};          ///< in what, detail, specimen or who; every one of them
  std::string who = {};            ///< exactly
  std::string job = {};            ///< number of a job: lines of its specimens, or that name it
  std::string from = {}, to = {};  ///< times as the book writes them, from included, to not
};

/// What the store knows of a stored run.
struct RunRow {
  Id id = 0, specimen = 0;
  std::string segment;  ///< "" for the usual run without a name
  std::string started_at, closed_at, source, stopped;
  int64_t rows = 0;
  bool interrupted = false;  ///< closed by the next opening, not by the run's own end
};

/// A run that came to its own end, and the method it was of.
struct RunSpan {
  std::string method, source, started_at, closed_at;
};

/// Summary of a specimen's state, saved with its record.
struct Summary {
  std::string stages = "0000000", verdict = "none";
  int open_judgements = 0;
};

/// Signature under a specimen's results, with the hashes of what was signed (empty in books before version 3).
struct SignOff {
  std::string by, at, verdict;
  Id record_version = 0;
  std::string record_sha256, run_sha256, evaluation_sha256;
  Id id = 0;
};

/// What saving a record came to. `overtaken`: another process had saved a version meanwhile; both are kept.
/// `waits`: it lies in the journal of this bench until the server is back, and has no number yet.
struct Saved {
  Id version = 0;
  std::optional<Id> overtaken = {};
  bool waits = false;
};

/// A version of a record in the book.
struct VersionRow {
  Id version = 0;
  std::string saved_at;
};

/// End of the logbook's chain: its newest hash and the number of lines that lead to it.
struct ChainHead {
  int64_t lines = 0;
  std::string hash;
};

/// What the server of a shared book would not take of what was confirmed while it was away, and why.
struct RefusedChange {
  std::string what, who, at, why;
};

/// One damaged thing found by verify().
struct Damage {
  std::string what;
};

}  // namespace fortitor
