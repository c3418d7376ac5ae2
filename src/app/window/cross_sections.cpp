#include "window/cross_sections.h"

#include "base/error.h"
#include "card/quantity_edit.h"
#include "section/section_view.h"
#include "section/sheet.h"
#include "workspace/lengths.h"

namespace inselberg::app {

QuantityEdit* addLengthField(QFormLayout& form, const char* name, const QString& label, double least) {
  works::Field made;
  made.measure = works::Measure::length, made.least = 0.1, made.most = 10000, made.step = 5;
  auto* edit = new QuantityEdit(std::move(made), form.parentWidget());
  edit->setObjectName(name);
  edit->setValue(section::roundUp(lengths::inUnit(least)) * lengths::inMetres());
  form.addRow(label, edit);
  return edit;
}

std::vector<section::CrossLine> crossLinesAlong(const SectionView& view, const Cross& cross) {
  constexpr double kMostSections = 1000;
  if (view.section().length() / cross.spacing > kMostSections)
    throw Error("that makes more than a thousand sections", "give a wider spacing");
  return section::crossLines(view.section().line, cross.spacing, cross.width);
}

}  // namespace inselberg::app
