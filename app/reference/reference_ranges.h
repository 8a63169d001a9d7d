// Materials below one another, their usual ranges drawn over common axes: what is stiff, what is strong, what
// stretches.
#pragma once

#include <QWidget>

#include "app/theme/painted_parts.h"
#include "core/quantity/unit.h"
#include "core/reference/library.h"

namespace fortitor {

class ReferenceRanges : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  explicit ReferenceRanges(QWidget* parent = nullptr);
  /// Materials of one group; three of its properties are drawn.
  void show_materials(std::vector<ReferenceMaterial> materials, UnitSet units);
  void select(const std::string& name);
  const std::string& selected() const { return selected_; }
  const std::vector<ReferenceMaterial>& materials() const { return materials_; }
  /// Where a material stands, px.
  QRect row_of(const std::string& name) const;

  std::vector<PaintedPart> painted_parts() override;

 signals:
  void picked(const QString& name);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Scale {
    const ReferenceProperty* property = nullptr;
    double high = 0;  ///< of the axis, internal units; it begins at zero
    const Unit* unit = nullptr;
  };
  QString range_words(const Scale& scale, const ReferenceValue& v) const;
  int head() const;
  int row_height() const;
  QRectF column(size_t i) const;

  std::vector<ReferenceMaterial> materials_;
  std::vector<Scale> scales_;
  std::string selected_;
  UnitSet units_ = UnitSet::si;
};

}  // namespace fortitor
