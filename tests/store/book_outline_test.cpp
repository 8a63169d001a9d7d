// The docket of a book is read once and then kept as the logbook says that rows changed: whatever was done, it is what
// somebody finds who opens the book anew.
#include <gtest/gtest.h>

#include <QTemporaryDir>
#include <random>

#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "store/book.h"
#include "tests/store/shared_server.h"

namespace fortitor {
namespace {

// Everything of an outline, in words.
std::vector<std::string> words_of(const std::vector<JobOutline>& outline) {
  std::vector<std::string> out;
  for (const JobOutline& j : outline) {
    out.push_back("job " + j.job.code + " " + j.job.title + " " + j.job.due);
    for (const SpectrumRow& s : j.spectra) out.push_back("  spectrum " + s.title);
    for (const SeriesOutline& e : j.series) {
      out.push_back("  series " + e.series.title + " " + e.series.method);
      for (const SpecimenRow& s : e.specimens)
        out.push_back("    " + std::to_string(s.id) + " " + s.code + " " + s.stages + " " + s.verdict + " " +
                      std::to_string(s.open_judgements) + (s.signed_off ? " signed" : ""));
    }
  }
  return out;
}

TEST(BookOutline, IsWhatSomebodyFindsWhoOpensTheBookAnew) {
  QTemporaryDir folder;
  const std::string path = book_at(folder.filePath("a.fortitor").toStdString());
  auto opened = Book::open(path, "R. Vale");
  ASSERT_TRUE(opened) << opened.error().message;
  Book& b = **opened;
  std::mt19937 random(7);
  const auto below = [&](size_t n) { return size_t(random()) % n; };
  std::vector<Id> jobs, series, pieces;
  TestRecord plain;
  plain.method = "tension-metal";
  const auto note = [&](Id piece) {
    TestRecord r = plain;
    r.fields.set("specimen.note", std::to_string(random()));
    const char* stages[] = {"0000000", "1000000", "2210000", "2222100"};
    const char* verdicts[] = {"none", "meets", "fails"};
    EXPECT_TRUE(b.save_record(piece, 0, r, {stages[below(4)], verdicts[below(3)], int(below(3))}, "noted"));
  };
  for (int i = 0; i < 160; ++i) {
    SCOPED_TRACE(i);
    const size_t what = jobs.empty() ? 0 : series.empty() ? 1 : pieces.empty() ? 2 : below(12);
    if (what == 0) {
      jobs.push_back(*b.add_job("TC-" + std::to_string(i), "Hanger bolts", ""));
    } else if (what == 1) {
      series.push_back(*b.add_series(jobs[below(jobs.size())], "Tension " + std::to_string(i), "tension-metal"));
    } else if (what <= 4) {
      pieces.push_back(*b.add_specimen(series[below(series.size())],
                                       "HB-" + std::to_string(below(1000)) + "x" + std::to_string(i), plain));
    } else if (what <= 7) {
      note(pieces[below(pieces.size())]);
    } else if (what == 8) {
      ASSERT_TRUE(b.mark(pieces[below(pieces.size())], "AA-" + std::to_string(i)));
    } else if (what == 9) {
      const Id piece = pieces[below(pieces.size())];
      const auto record = b.record(piece);
      const Evaluation e = methods::evaluate(*record);
      ASSERT_TRUE(b.sign_off(piece, b.record_version(piece), evaluation_to_json(e, record->fields, -1), "meets"));
    } else if (what == 10) {
      ASSERT_TRUE(b.set_summary(pieces[below(pieces.size())], {"2222222", "meets", 0}));
    } else {
      // A change that is taken back leaves no trace, also of what was looked at meanwhile.
      const auto before = words_of(b.outline());
      ASSERT_FALSE(b.together([&]() -> Outcome<Done> {
        if (!b.add_specimen(series[0], "never-" + std::to_string(i), plain)) return InputError{"not made", {}};
        EXPECT_NE(words_of(b.outline()), before);
        return InputError{"taken back", {}};
      }));
      EXPECT_EQ(words_of(b.outline()), before);
    }
    if (below(3) == 0) {
      auto anew = Book::open_read_only(path);
      ASSERT_TRUE(anew) << anew.error().message;
      ASSERT_EQ(words_of(b.outline()), words_of((*anew)->outline()));
    }
  }
}

TEST(BookOutline, WhatIsLookedForStandsInPieceSeriesOrJob) {
  QTemporaryDir folder;
  auto b = Book::open(book_at(folder.filePath("b.fortitor").toStdString()), "R. Vale");
  ASSERT_TRUE(b);
  TestRecord plain;
  plain.method = "tension-metal";
  const auto job = (*b)->add_job("TC-1", "Straßen-Seile 50%_x");
  const auto series = (*b)->add_series(*job, "Zug längs", "tension-metal");
  for (const char* code : {"HB-1", "HB-2", "ÖL-3"}) ASSERT_TRUE((*b)->add_specimen(*series, code, plain));
  const auto found = [&](const std::string& typed, int most = 60) {
    std::string out;
    for (const FoundRow& f : (*b)->search(typed, most)) out += f.code + " ";
    return out;
  };
  EXPECT_EQ(found("hb-1"), "HB-1 ");
  EXPECT_EQ(found("hb tc-1 LÄNGS"), "HB-1 HB-2 ");
  EXPECT_EQ(found("öl"), "ÖL-3 ") << "letters large and small are the same in every language";
  EXPECT_EQ(found("50%_"), "HB-1 HB-2 ÖL-3 ");
  EXPECT_EQ(found("5%x"), "");
  EXPECT_EQ(found("zug", 2), "HB-1 HB-2 ");
  EXPECT_EQ(found("nothing"), "");
  ASSERT_TRUE((*b)->add_specimen(*series, "HB-9", plain));
  EXPECT_EQ(found("hb-9"), "HB-9 ");
}

}  // namespace
}  // namespace fortitor
