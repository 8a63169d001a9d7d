// The wires of the Kit: which item speaks where, what it said last, and how a reading comes into the field in hand.
#pragma once

#include <QObject>
#include <QPointer>
#include <deque>
#include <map>

#include "app/model/workbench.h"
#include "app/wires/wire.h"
#include "core/bench/kit.h"
#include "core/bench/wired_stop.h"
#include "core/line/quiet.h"
#include "core/standin/heard_machine.h"

class QLineEdit;

namespace fortitor {

/// An item that is listened to.
struct LiveItem {
  Id item = 0;
  std::string name, where;
  bool open = false, was_open = false;
  QString why;                         ///< why it is not open
  std::optional<line::Format> format;  ///< kept with the item, or proposed by what came
  bool proposed = false;               ///< … not kept yet
  size_t told_from = 0;                ///< lines that the proposal rests on
  bool by_button = false;              ///< a line that comes is a reading: its button was pushed
  std::optional<line::Reading> last;
  qint64 last_at = 0;
  std::map<std::string, line::Quiet> moved;  ///< how far each channel went
  size_t good = 0, bad = 0;
  std::deque<std::string> lines;  ///< the newest, for the panel

  /// The value that stands for the instrument: force or torque, else the first that is neither clock nor counter; null
  /// while it has said none.
  const line::Value* leading() const;
};

class WireBoard : public QObject {
  Q_OBJECT

 public:
  explicit WireBoard(Workbench* bench, QObject* parent = nullptr);
  ~WireBoard() override;
  /// Listens to the items of the Kit that have a wire, and no longer to others.
  void reload();
  const LiveItem* find(Id item) const;
  /// What an item sends, for a run that listens to it; null where it has no wire.
  std::shared_ptr<LineBox> box(Id item) const;
  std::vector<const LiveItem*> items() const;
  /// What these items say now and how far it moved over the settling time, by the channels of a method.
  std::vector<WiredValue> values(const std::vector<Id>& items, const Schema& schema) const;
  /// Takes the newest reading that suits the field in hand: types it there as the instrument said it, and goes on. Says
  /// why when there is none.
  void take_into(QLineEdit* field);
  /// Reads an item's lines by a format from now on, those that came last too; it is not kept yet.
  void try_format(Id item, const line::Format& format);
  /// Keeps the proposed format with the item.
  void keep_format(Id item);

 signals:
  void changed();
  /// The same for who looks: a device may speak two thousand times a second, a person reads ten.
  void to_be_shown();
  void said(const QString& sentence);

 private:
  void heard(Id item, const WireLines& lines);
  void tell(QLineEdit* field, bool in_hand) const;
  void type(QLineEdit* field, const LiveItem& item, const line::Value& value);
  const line::Value* value_for(const QLineEdit* field, const LiveItem& item) const;

  struct Line {
    LiveItem live;
    QThread* thread = nullptr;
    Wire* wire = nullptr;
    std::shared_ptr<LineBox> box = std::make_shared<LineBox>();
  };
  Workbench* bench_;
  std::map<Id, std::unique_ptr<Line>> wires_;
};

}  // namespace fortitor
