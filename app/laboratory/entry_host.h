// An entry of the laboratory as any form edits it: every field is kept as it is left.
#pragma once

#include <QObject>

#include "app/model/field_host.h"
#include "app/model/workbench.h"
#include "store/papers.h"

namespace fortitor {

class EntryHost : public QObject, public FieldHost {
  Q_OBJECT

 public:
  explicit EntryHost(Workbench* bench, QObject* parent = nullptr) : QObject(parent), bench_(bench) {}
  void take(const lab::Entry& entry);
  const lab::Entry& entry() const { return entry_; }
  /// Fields that a form shows, in their order.
  std::vector<const FieldSpec*> shown() const;

  const TestRecord& record() const override { return draft_; }
  UnitSet units() const override { return bench_->units(); }
  std::string today() const override { return bench_->today(); }
  void edit(const QString& what, const std::function<void(TestRecord&)>& change) override;
  void say(const QString& sentence) override { bench_->say(sentence); }

 signals:
  void changed();

 private:
  Workbench* bench_;
  lab::Entry entry_;
  TestRecord draft_;
};

}  // namespace fortitor
