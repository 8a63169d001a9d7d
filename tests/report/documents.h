#pragma once

#include <gtest/gtest.h>
#include <poppler-document.h>
#include <poppler-global.h>
#include <poppler-page.h>

#include <QTemporaryDir>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/standin/benches.h"
#include "report/document.h"

// A book with a job whose pieces come off stand-ins, signed, and documents over them; what their pages say.
namespace fortitor::documents {

inline std::vector<QString> pages_of(const QByteArray& pdf) {
  poppler::set_debug_error_function([](const std::string&, void*) {}, nullptr);
  const std::unique_ptr<poppler::document> d(poppler::document::load_from_raw_data(pdf.constData(), int(pdf.size())));
  std::vector<QString> out;
  for (int i = 0; d && i < d->pages(); ++i) {
    const std::unique_ptr<poppler::page> page(d->create_page(i));
    const poppler::byte_array words = page->text(poppler::rectf(), poppler::page::raw_order_layout).to_utf8();
    out.push_back(QString::fromUtf8(words.data(), qsizetype(words.size())));
  }
  return out;
}

inline QString all_words(const QByteArray& pdf) {
  QString out;
  for (const QString& p : pages_of(pdf)) out += p + " ";
  return out.simplified();
}

class Documents : public testing::Test {
 protected:
  void SetUp() override {
    clock_ = Clock::at(QDateTime::fromString("2026-11-26T10:00:00", Qt::ISODate));
    auto opened = Book::open(path(), "R. Vale", clock_);
    ASSERT_TRUE(opened) << opened.error().message;
    book_ = std::move(*opened);
    job_ = *book_->add_job("TC-061", "Hanger bolts");
  }
  std::string path() const { return folder_.filePath("a.fortitor").toStdString(); }
  Papers papers() { return Papers(*book_); }
  Outcome<Document> document(const DocumentRequest& request) const { return collect(*book_, request); }

  // Pieces out of the stand-in of a method, signed where nothing is left to say.
  Id add(const std::string& method, int pieces, uint64_t seed = 1,
         const std::function<void(TestRecord&)>& change = {}) {
    const Method& m = *methods::find(method);
    const Id series = *book_->add_series(job_, "QQ " + std::to_string(seed), method);
    for (int n = 1; n <= pieces; ++n) {
      standin::SimulateOptions o;
      o.method = method;
      o.seed = seed + uint64_t(n);
      TestRecord r = standin::find_bench(m.standin)->simulate(o);
      r.method = method;
      r.job = "TC-061";
      r.operator_name = "R. Vale";
      r.tested_at = "2026-11-2" + std::to_string(3 + n % 3) + "T09:00:00";
      r.fields.set("specimen.id", m.short_name.substr(0, 2) + "-" + std::to_string(n));
      r.fields.set("conditions.temperature", reading_of(*parse_quantity("21 °C", Dimension::temperature)));
      if (change) change(r);
      for (const Finding& f : methods::evaluate(r).findings)
        if (f.severity == Severity::check) r.answers.push_back({f.code, "accept", "seen", "R. Vale", "2026-11-26"});
      TestRecord first = r;
      first.run = {};
      const auto id = book_->add_specimen(series, r.specimen_id(), first);
      EXPECT_TRUE(id) << id.error().message;
      for (const Segment& s : r.run.segments) {
        if (s.samples) {
          EXPECT_TRUE(book_->store_run(*id, *s.samples, "stand-in", s.name));
        }
      }
      const auto saved = book_->save_record(*id, 0, r, {}, "tested");
      EXPECT_TRUE(saved) << (saved ? "" : saved.error().message);
      const auto stored = book_->record(*id);
      const Evaluation e = methods::evaluate(*stored);
      if (saved && e.open_judgements().empty()) {
        EXPECT_TRUE(book_->sign_off(*id, saved->version, evaluation_to_json(e, stored->fields, -1),
                                    std::string(verdict_word(e.verdict))));
      }
    }
    return series;
  }
  void papers_of_the_laboratory() {
    lab::Entry head = lab::entry_of(lab::kHead, std::string(lab::kLetterhead));
    head.fields.set("settings.laboratory", std::string("Tarnfell Laboratory"));
    head.fields.set("settings.address", std::string("Lower Station 2, Tarnfell"));
    head.fields.set("settings.accreditation", std::string("TF 0042"));
    ASSERT_TRUE(papers().save(head));
    lab::Entry customer = lab::entry_of(lab::kCustomer, "Upper Station Works");
    customer.fields.set("settings.address", std::string("Summit Road 1, Tarnfell"));
    customer.fields.set("settings.contact", std::string("M. Orr"));
    ASSERT_TRUE(papers().save(customer));
    lab::Entry job = lab::entry_of(lab::kJob, "TC-061");
    for (const auto& [key, value] : std::map<std::string, std::string>{{"customer", "Upper Station Works"},
                                                                       {"order", "US-4711"},
                                                                       {"arrived", "2026-11-20"},
                                                                       {"arrived_by", "cable car"},
                                                                       {"condition", "sound"},
                                                                       {"sampled", "2026-11-18"},
                                                                       {"sampled_by", "B. Tarn"},
                                                                       {"place", "Pylon 3"},
                                                                       {"deviations", "two pieces instead of three"},
                                                                       {"external", "spectrometry: Valley Laboratory"},
                                                                       {"opinion", "the lot is good"},
                                                                       {"remains", "scrapped"}})
      job.fields.set("settings." + key, value);
    ASSERT_TRUE(papers().save(job));
  }

  QTemporaryDir folder_;
  Clock clock_;
  std::unique_ptr<Book> book_;
  Id job_ = 0;
};

}  // namespace fortitor::documents
