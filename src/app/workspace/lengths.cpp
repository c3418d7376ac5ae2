#include "workspace/lengths.h"

#include <QInputDialog>
#include <atomic>

#include "base/quantity.h"

namespace inselberg::app::lengths {
namespace {

std::atomic<bool> imperial = false;

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

}  // namespace

void use(const Measures& measures) {
  imperial = measures.imperial;
}

Measures measures() {
  return {.imperial = imperial};
}

QString unit() {
  return unitOf(Quantity::length, measures());
}

double inMetres() {
  return lengthUnit(measures());
}

double inUnit(double metres) {
  return metres / inMetres();
}

QString number(double metres, int decimals) {
  return text(lengthNumber(metres, decimals, measures()));
}

QString told(double metres, int decimals) {
  return text(shownLength(metres, decimals, measures()));
}

QString area(double squareMetres, int decimals) {
  return text(shownArea(squareMetres, decimals, measures()));
}

QString area(double squareMetres) {
  return area(squareMetres, squareMetres < 100 ? 2 : 0);
}

QString exact(double metres) {
  return QString("%1 %2").arg(inLengthUnit(metres, inMetres())).arg(unit());
}

double nudge(double metres) {
  return imperial ? round(metres) : metres;
}

double round(double wanted) {
  return roundLength(wanted, measures());
}

QString told(const std::string& sentence) {
  return text(toldIn(sentence, measures()));
}

std::optional<double> typed(const QString& text, std::optional<double> current) {
  return parseLength(text.toStdString(), current, inMetres());
}

std::optional<double> ask(QWidget* parent, const QString& title, const QString& what, double now, double least,
                          double most) {
  bool given = false;
  const double value =
      QInputDialog::getDouble(parent, title, QString("%1, %2").arg(what, unit()), std::round(inUnit(now) * 100) / 100,
                              inUnit(least), inUnit(most), 3, &given);
  return given ? std::optional(value * inMetres()) : std::nullopt;
}

}  // namespace inselberg::app::lengths
