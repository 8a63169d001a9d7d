#include "app/today/welcome.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

enum class Way { files, job, practice };

// What the way looks like, in lines and temper colours.
class Drawing : public QWidget {
 public:
  explicit Drawing(Way way) : way_(way) { setFixedHeight(int(210 * std::min(1.4, theme::scale()))); }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double unit = height() / 170.0;
    p.translate(width() / 2.0, height() / 2.0);
    p.scale(unit, unit);
    if (way_ == Way::files) file(p);
    if (way_ == Way::job) job(p);
    if (way_ == Way::practice) frame(p);
  }

 private:
  static QPen line(double w, const QColor& c = theme::color(theme::Ink::ink)) {
    return QPen(c, w, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
  }

  // A sheet with a curve on it falls onto the bench.
  static void file(QPainter& p) {
    p.setPen(line(1.6));
    p.setBrush(theme::color(theme::Ink::sheet));
    QPainterPath sheet;
    sheet.moveTo(-46, -72);
    sheet.lineTo(28, -72);
    sheet.lineTo(46, -54);
    sheet.lineTo(46, 34);
    sheet.lineTo(-46, 34);
    sheet.closeSubpath();
    p.drawPath(sheet);
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{{28, -72}, {28, -54}, {46, -54}});
    p.setPen(line(1.2, theme::color(theme::Ink::quiet)));
    p.drawPolyline(QPolygonF{{-32, -50}, {-32, 20}, {34, 20}});
    p.setPen(line(2.4, theme::temper(5)));
    QPainterPath curve;
    curve.moveTo(-32, 20);
    curve.lineTo(-16, -22);
    curve.lineTo(-10, -19);
    curve.cubicTo(0, -42, 18, -46, 30, -28);
    p.drawPath(curve);
    p.setPen(line(2.2, theme::temper(1)));
    p.drawLine(QPointF(0, 42), QPointF(0, 62));
    p.drawPolyline(QPolygonF{{-7, 55}, {0, 62}, {7, 55}});
    p.setPen(line(2.4));
    p.drawLine(QPointF(-86, 72), QPointF(86, 72));
  }

  // A docket of pieces with their seven stages.
  static void job(QPainter& p) {
    p.setPen(line(1.6));
    p.setBrush(theme::color(theme::Ink::sheet));
    p.drawRoundedRect(QRectF(-74, -66, 148, 132), 5, 5);
    p.setPen(line(2.6));
    p.drawLine(QPointF(-58, -46), QPointF(8, -46));
    for (int row = 0; row < 4; ++row) {
      const double y = -22 + 22 * row;
      p.setPen(line(1.8, theme::color(theme::Ink::quiet)));
      p.drawLine(QPointF(-58, y), QPointF(-26, y));
      p.setPen(Qt::NoPen);
      for (int k = 0; k < 7; ++k) {
        p.setBrush(k <= 5 - 2 * row + 1 ? theme::temper(k) : theme::color(theme::Ink::hairline));
        p.drawRect(QRectF(-12 + 11 * k, y - 5, 8, 10));
      }
    }
  }

  // A frame with a bar between its grips.
  static void frame(QPainter& p) {
    p.setPen(line(2.2));
    p.setBrush(theme::color(theme::Ink::hairline));
    p.drawRect(QRectF(-62, -74, 124, 14));
    p.drawRect(QRectF(-62, 58, 124, 16));
    p.setPen(line(4));
    p.drawLine(QPointF(-48, -60), QPointF(-48, 58));
    p.drawLine(QPointF(48, -60), QPointF(48, 58));
    p.setPen(line(2));
    p.drawRect(QRectF(-54, -38, 108, 12));
    for (double y : {-26.0, 22.0}) {
      p.setBrush(theme::color(theme::Ink::sheet));
      p.drawPolygon(QPolygonF{{-13, y}, {13, y}, {9, y + 16}, {-9, y + 16}});
    }
    p.drawRect(QRectF(-16, 38, 32, 20));
    p.setPen(Qt::NoPen);
    p.setBrush(theme::temper(1));
    QPainterPath bar;
    bar.moveTo(-6, -10);
    bar.cubicTo(-6, 0, -3, 0, -3, 6);
    bar.cubicTo(-3, 12, -6, 12, -6, 22);
    bar.lineTo(6, 22);
    bar.cubicTo(6, 12, 3, 12, 3, 6);
    bar.cubicTo(3, 0, 6, 0, 6, -10);
    bar.closeSubpath();
    p.drawPath(bar);
  }

  Way way_;
};

QWidget* card(Way way, const QString& title, const QString& words, QPushButton* act) {
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 22, 10);
  layout->addWidget(new Drawing(way));
  layout->addSpacing(6);
  layout->addWidget(parts::label(title, "heading"));
  auto* text = parts::label(words, "quiet");
  text->setWordWrap(true);
  layout->addWidget(text);
  layout->addStretch();
  layout->addSpacing(10);
  layout->addWidget(act, 0, Qt::AlignLeft);
  return sheet;
}

}  // namespace

Welcome::Welcome(QWidget* parent) : QWidget(parent) {
  setObjectName("plain");
  auto* outer = parts::column(this, 0, 14);
  outer->addStretch(1);
  auto* head = new QHBoxLayout;
  head->addWidget(parts::label("An empty book. Three ways in.", "heading"), 1);
  auto* tour = parts::button("A tour of three minutes", "welcome-tour");
  head->addWidget(tour);
  outer->addLayout(head);
  auto* row = new QHBoxLayout;
  row->setSpacing(14);
  auto* files = parts::button("Choose files…", "welcome-files", "primary");
  auto* job = parts::button("New job…", "welcome-job");
  auto* practice = parts::button("Practice…", "welcome-practice");
  row->addWidget(card(Way::files, "Drop a machine's file",
                      "Anywhere in this window, several at once or a folder. The method is found from its columns, the "
                      "curve and the first numbers stand there at once.",
                      files),
                 1);
  row->addWidget(
      card(Way::job, "Start a job",
           "Pieces of a series with what holds for all of them, from the stamp on the bar to the signature.", job),
      1);
  row->addWidget(card(Way::practice, "Practise on a stand-in",
                      "A simulated machine and a piece to measure. Something will go wrong; nothing of it is taken for "
                      "a test.",
                      practice),
                 1);
  outer->addLayout(row);
  outer->addWidget(parts::label(
      "To look around first, start “fortitor --demo look.fortitor”: a laboratory at work, in a book of its own.",
      "hint"));
  outer->addStretch(1);
  connect(files, &QPushButton::clicked, this, &Welcome::files_wanted);
  connect(job, &QPushButton::clicked, this, &Welcome::job_wanted);
  connect(practice, &QPushButton::clicked, this, &Welcome::practice_wanted);
  connect(tour, &QPushButton::clicked, this, &Welcome::tour_wanted);
}

}  // namespace fortitor
