#include "app/theme/theme.h"

#include <QBasicTimer>
#include <QFontDatabase>
#include <QMainWindow>
#include <QPalette>
#include <QPointer>
#include <QStyleFactory>
#include <QTimerEvent>
#include <QToolTip>
#include <QWidget>
#include <vector>

#include "app/theme/spoken.h"

namespace fortitor::theme {
namespace {

bool dark_on = false, strong_on = false, calm_on = false;
double text_scale = 1.0;

struct Pair {
  const char *light, *dark;
};

Pair token(Ink ink) {
  switch (ink) {
    case Ink::background: return {"#F3F0E8", "#171D23"};
    case Ink::docket: return {"#E8E4D8", "#1C242B"};
    case Ink::sheet: return {"#FBFAF6", "#212A32"};
    case Ink::hairline: return {"#DAD4C6", "#36424C"};
    case Ink::ink: return {"#22303C", "#E9E5DA"};
    case Ink::quiet: return {"#58626B", "#9AA4AD"};
    case Ink::action: return {"#2F5D8A", "#6FA3D0"};
    case Ink::bar: return {"#22303C", "#10161B"};
    case Ink::bar_text: return {"#F3F0E8", "#E9E5DA"};
    case Ink::bar_field: return {"#30414F", "#212A32"};
    case Ink::callout: return {"#22303C", "#10161B"};
    case Ink::meets: return {"#266B4D", "#58B48A"};
    case Ink::near: return {"#87590B", "#DDA94B"};
    case Ink::fails: return {"#A63B27", "#E88A74"};
    case Ink::void_test: return {"#58626B", "#9AA4AD"};
    case Ink::window: return {"#E0B84C", "#E0B84C"};
    case Ink::grid: return {"#E9E5DA", "#2C363F"};
    case Ink::on_colour: return {"#FFFFFF", "#10161B"};
    case Ink::selected: return {"#EFEBDF", "#2A353E"};
  }
  return {"#000000", "#ffffff"};
}

// The same by meaning, told apart from further off: 7 to 1 for words, lines that are seen.
Pair strong_token(Ink ink) {
  switch (ink) {
    case Ink::background:
    case Ink::docket:
    case Ink::sheet: return {"#FFFFFF", "#000000"};
    case Ink::hairline: return {"#3C4650", "#B8C0C8"};
    case Ink::ink: return {"#000000", "#FFFFFF"};
    case Ink::quiet:
    case Ink::void_test: return {"#2A343D", "#DCE2E7"};
    case Ink::action: return {"#003A75", "#9CCBFF"};
    case Ink::bar:
    case Ink::callout: return {"#000000", "#000000"};
    case Ink::bar_text: return {"#FFFFFF", "#FFFFFF"};
    case Ink::bar_field: return {"#1E2730", "#1E2730"};
    case Ink::meets: return {"#00472B", "#7CF0B8"};
    case Ink::near: return {"#5A3A00", "#FFD36B"};
    case Ink::fails: return {"#8A1200", "#FFA590"};
    case Ink::grid: return {"#C4C9CE", "#4A545D"};
    case Ink::selected: return {"#FFF0B5", "#163A63"};
    case Ink::on_colour: return {"#FFFFFF", "#000000"};
    default: return token(ink);
  }
}

QString px(double v) {
  return QString::number(qRound(v * text_scale)) + "px";
}

QString style_sheet() {
  auto c = [](Ink i) { return color(i).name(); };
  QString s = R"(
* { font-family: "Inter"; font-size: %13; color: %ink; }
QMainWindow, #bench, QDialog, #page { background: %bg; }
QToolTip { background: %ink; color: %sheet; border: 0; padding: 4px 8px; }
#docket, #docket QWidget { background: %docket; }
#sheet { background: %sheet; border: 1px solid %line; border-radius: 4px; }
#sheet QLabel, #plain QLabel { background: transparent; }
QLabel#title { font-weight: 600; }
QLabel#quiet, QLabel#hint { color: %quiet; }
QLabel#hint { font-size: %12; }
QLabel#caution { color: %near; }
QLabel#meets { color: %meets; }
QLabel#error { color: %fails; font-weight: 500; }
QLabel#mono { font-family: "JetBrains Mono"; font-weight: 700; }
QLabel#whenNow, QLabel#whenToday, QLabel#whenSoon, QLabel#whenLater { font-family: "JetBrains Mono"; font-weight: 700; }
QLabel#whenNow, QLabel#wordFails { color: %fails; }
QLabel#whenToday, QLabel#wordNear { color: %near; }
QLabel#whenSoon { color: %action; }
QLabel#whenLater { color: %quiet; }
QLabel#wordMeets { color: %meets; }
#hairline { background: %line; }
QLabel#heading { font-size: %18; font-weight: 600; }
QPushButton { background: %sheet; border: 1px solid %edge; border-radius: 4px; padding: 5px 11px; font-weight: 500; min-height: 16px; }
QPushButton::menu-indicator { image: none; width: 0; }
QPushButton:hover { border-color: %ink; }
QPushButton:focus { border: 2px solid %action; padding: 4px 10px; }
QPushButton:disabled { color: %quiet; border-color: %line; }
QPushButton:checked { background: %ink; color: %sheet; border-color: %ink; }
QLabel#practiceTag { border: 2px dashed %near; border-radius: 4px; padding: 4px 9px; font-weight: 600; color: %near; }
QPushButton#primary { background: %action; color: %on_colour; border-color: %action; font-weight: 600; }
QPushButton#primary:disabled { background: %line; color: %quiet; border-color: %line; }
QPushButton#danger { background: %fails; color: %on_colour; border-color: %fails; font-weight: 600; }
QPushButton#row { border: 0; background: transparent; padding: 5px 10px; text-align: left; }
QPushButton#row:hover { background: %docket; }
QPushButton#row:focus { border: 2px solid %action; padding: 3px 8px; }
QPushButton#row:checked { background: %ink; color: %sheet; }
QPushButton#flat { border: 0; background: transparent; color: %action; padding: 4px 6px; text-align: left; }
QPushButton#flat:focus { border: 2px solid %action; padding: 2px 4px; }
QLineEdit, QPlainTextEdit, QComboBox { background: %sheet; border: 1px solid %line; border-radius: 4px; padding: 4px 7px; selection-background-color: %action; selection-color: %on_colour; min-height: 17px; }
QLineEdit#reading, QLineEdit#number { font-family: "JetBrains Mono"; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border: 2px solid %action; padding: 3px 6px; }
QLineEdit[bad="true"] { border: 2px solid %fails; padding: 3px 6px; }
QLineEdit:read-only { background: transparent; }
QComboBox::drop-down { border: 0; width: 22px; }
QComboBox::down-arrow { image: url(:/icons/down.svg); width: 11px; height: 11px; }
QComboBox QAbstractItemView { background: %sheet; border: 1px solid %line; selection-background-color: %selected; selection-color: %ink; }
QCheckBox { spacing: 8px; background: transparent; padding: 2px; }
QCheckBox::indicator { width: 16px; height: 16px; border: 1px solid %edge; border-radius: 3px; background: %sheet; }
QCheckBox::indicator:checked { background: %action; border-color: %action; image: url(:/icons/check.svg); }
QCheckBox::indicator:focus { border: 2px solid %action; }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: 0; }
QScrollBar:vertical { background: transparent; width: 9px; } QScrollBar:horizontal { background: transparent; height: 9px; }
QScrollBar::handle { background: %edge; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QListWidget, QTableWidget, QTreeWidget { background: %sheet; border: 0; outline: 0; }
QListWidget#offer { background: %sheet; border: 1px solid %line; border-radius: 4px; }
QListWidget#offer::item { padding: 4px 6px; }
QListWidget::item:selected, QTableWidget::item:selected { background: %selected; color: %ink; }
QHeaderView::section { background: %bg; border: 0; border-bottom: 1px solid %line; padding: 4px 6px; color: %quiet; }
QTableWidget { gridline-color: %line; }
QFrame#callout { background: %callout; border-radius: 4px; }
QFrame#callout QLabel, QWidget#calloutKeys { background: transparent; }
QLabel#calloutQuiet { color: #B9C3CC; }
QLabel#calloutStop { font-family: "JetBrains Mono"; font-weight: 700; }
QLabel#calloutAlarm { color: #F0A58F; font-weight: 600; }
QFrame#calloutField { background: #324150; border-radius: 4px; }
QLineEdit#calloutEntry { background: transparent; border: 0; color: #FFFFFF; font-family: "JetBrains Mono"; font-size: %34; font-weight: 700; padding: 4px 0; }
QLineEdit#calloutEntry:focus { border: 0; padding: 4px 0; }
QPushButton#calloutKey { background: transparent; border: 0; color: #B9C3CC; padding: 2px 0; font-size: %12; text-align: left; font-weight: 500; min-height: 15px; }
QPushButton#calloutKey:hover { color: #FFFFFF; }
QMenu { background: %sheet; border: 1px solid %line; } QMenu::item { padding: 5px 18px; } QMenu::item:selected { background: %selected; }
)";
  const std::pair<const char*, QString> names[] = {{"%selected", c(Ink::selected)},
                                                   {"%docket", c(Ink::docket)},
                                                   {"%action", c(Ink::action)},
                                                   {"%sheet", c(Ink::sheet)},
                                                   {"%line", c(Ink::hairline)},
                                                   {"%quiet", c(Ink::quiet)},
                                                   {"%fails", c(Ink::fails)},
                                                   {"%near", c(Ink::near)},
                                                   {"%meets", c(Ink::meets)},
                                                   {"%edge", dark_on ? "#4A5864" : "#BDB5A3"},
                                                   {"%ink", c(Ink::ink)},
                                                   {"%on_colour", c(Ink::on_colour)},
                                                   {"%bg", c(Ink::background)},
                                                   {"%callout", c(Ink::callout)},
                                                   {"%34", px(34)},
                                                   {"%12", px(12)},
                                                   {"%13", px(13)},
                                                   {"%18", px(18)}};
  for (const auto& [name, value] : names) s.replace(name, value);
  return s;
}

// Every widget that a style sheet reaches is laid out anew when the sheet changes: all of a window at once takes a
// second and more. So the sheet hangs on parts of the window, and on a change they follow one a turn of the event loop,
// what is seen first. Windows of their own (dialogs, lists that drop down) get it when they are shown.
class Dresser : public QObject {
 public:
  explicit Dresser(QObject* parent) : QObject(parent), sheet_(style_sheet()) { one_ = this; }
  /// Null without an application (install()).
  static Dresser* self() { return one_; }
  void add(QWidget* part) {
    parts_.push_back({part, -1});
    dress(parts_.back());
  }
  void begin() {
    ++now_;
    sheet_ = style_sheet();
    turn_.start(0, this);
  }
  void finish() {
    while (one_more()) {
    }
    turn_.stop();
  }
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() == QEvent::Show && object->isWidgetType()) {
      auto* widget = static_cast<QWidget*>(object);
      for (Part& p : parts_)
        if (p.widget == widget) dress(p);
      if (widget->isWindow() && qobject_cast<QMainWindow*>(widget) == nullptr && widget->styleSheet() != sheet_)
        widget->setStyleSheet(sheet_);
    }
    return false;
  }

 protected:
  void timerEvent(QTimerEvent*) override {
    if (!one_more()) turn_.stop();
  }

 private:
  struct Part {
    QPointer<QWidget> widget;
    int dressed = -1;  ///< by which sheet
  };
  void dress(Part& p) {
    if (p.widget.isNull() || p.dressed == now_) return;
    p.dressed = now_;
    p.widget->setStyleSheet(sheet_);
    for (QWidget* w : p.widget->findChildren<QWidget*>()) w->update();
  }
  bool one_more() {
    std::erase_if(parts_, [](const Part& p) { return p.widget.isNull(); });
    for (const bool seen : {true, false})
      for (Part& p : parts_)
        if (p.dressed != now_ && p.widget->isVisible() == seen) {
          dress(p);
          return true;
        }
    return false;
  }
  static inline QPointer<Dresser> one_;
  std::vector<Part> parts_;
  QString sheet_;
  int now_ = 0;
  QBasicTimer turn_;
};

void apply(QApplication& app) {
  QPalette palette;
  palette.setColor(QPalette::Window, color(Ink::background));
  palette.setColor(QPalette::WindowText, color(Ink::ink));
  palette.setColor(QPalette::Base, color(Ink::sheet));
  palette.setColor(QPalette::Text, color(Ink::ink));
  palette.setColor(QPalette::Button, color(Ink::sheet));
  palette.setColor(QPalette::ButtonText, color(Ink::ink));
  palette.setColor(QPalette::PlaceholderText, color(Ink::quiet));
  palette.setColor(QPalette::Highlight, color(Ink::action));
  app.setPalette(palette);
  if (Dresser* d = Dresser::self()) d->begin();
}

}  // namespace

void dress(QWidget* part) {
  if (Dresser* d = Dresser::self()) d->add(part);
}

void settle() {
  if (Dresser* d = Dresser::self()) d->finish();
}

bool dark() {
  return dark_on;
}

void set_dark(bool on) {
  dark_on = on;
  if (auto* app = qobject_cast<QApplication*>(QCoreApplication::instance())) apply(*app);
}

bool strong() {
  return strong_on;
}

void set_strong(bool on) {
  strong_on = on;
  if (auto* app = qobject_cast<QApplication*>(QCoreApplication::instance())) apply(*app);
}

bool calm() {
  return calm_on;
}

void set_calm(bool on) {
  calm_on = on;
}

double scale() {
  return text_scale;
}

void set_scale(double value) {
  text_scale = std::clamp(value, 1.0, 2.0);
  if (auto* app = qobject_cast<QApplication*>(QCoreApplication::instance())) apply(*app);
}

namespace {

// A tip that looks like HTML is taken for it, and names come from anywhere: every tip is shown as it is written.
class PlainTips : public QObject {
 public:
  using QObject::QObject;
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() == QEvent::ToolTipChange) {
      auto* widget = static_cast<QWidget*>(object);
      const QString tip = widget->toolTip();
      if (!tip.startsWith("<qt>") && Qt::mightBeRichText(tip)) widget->setToolTip(plain_tip(tip));
    }
    return false;
  }
};

}  // namespace

QString plain_tip(const QString& text) {
  return "<qt>" + spoken(text).toHtmlEscaped().replace('\n', "<br>") + "</qt>";
}

void install(QApplication& app, double wanted_scale) {
  app.installEventFilter(new PlainTips(&app));
  for (const char* f : {"Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf", "Inter-Bold.otf",
                        "JetBrainsMono-Regular.ttf", "JetBrainsMono-Bold.ttf"})
    QFontDatabase::addApplicationFont(QString(":/fonts/") + f);
  text_scale = std::clamp(wanted_scale, 1.0, 2.0);
  app.setStyle(QStyleFactory::create("Fusion"));
  app.setFont(words(13));
  app.installEventFilter(new Dresser(&app));
  apply(app);
}

QColor color(Ink ink) {
  const Pair p = strong_on ? strong_token(ink) : token(ink);
  return QColor(dark_on ? p.dark : p.light);
}

QColor temper(int index) {
  static const std::array<QColor, 7> tones = {QColor("#E0B84C"), QColor("#CE9440"), QColor("#B0623F"),
                                              QColor("#8A4D6B"), QColor("#5F4A86"), QColor("#3D5598"),
                                              QColor("#6F9BC4")};
  const QColor c = tones[size_t(index % 7)];
  return dark_on ? c.lighter(index == 4 || index == 5 ? 150 : 115) : c;
}

QFont words(double size, int weight) {
  QFont f("Inter");
  f.setPixelSize(std::max(1, qRound(size * text_scale)));
  f.setWeight(QFont::Weight(weight));
  return f;
}

QFont numbers(double size, int weight) {
  QFont f("JetBrains Mono");
  f.setPixelSize(std::max(1, qRound(size * text_scale)));
  f.setWeight(QFont::Weight(weight));
  return f;
}

}  // namespace fortitor::theme
