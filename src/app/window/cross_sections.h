// Sections square to the section's line: how far apart they stand, how wide they are.
#pragma once

#include <QFormLayout>
#include <vector>

#include "section/section.h"

namespace inselberg::app {

class QuantityEdit;
class SectionView;

struct Cross {
  double spacing = 0, width = 0;  // m
};

// A row with a length above 0.
QuantityEdit* addLengthField(QFormLayout& form, const char* name, const QString& label, double value);

// Throws Error when they are more than a thousand.
std::vector<section::CrossLine> crossLinesAlong(const SectionView& view, const Cross& cross);

}  // namespace inselberg::app
