#include "card/long_section.h"

#include <qcustomplot.h>

#include <QMenu>
#include <QMouseEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "card/rows.h"
#include "ground/drape.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using works::Measure;
using works::Stations;

std::optional<std::size_t> fieldOf(const works::Shape& shape, Measure measure) {
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].measure == measure && shape.applies(i)) return i;
  }
  return std::nullopt;
}

Stations stationsOf(const works::Shape& shape, Measure measure) {
  const auto field = fieldOf(shape, measure);
  return field ? std::get<Stations>(shape.get(*field)) : Stations();
}

// The line, closed where the works is.
works::Places lineOf(const works::Shape& shape) {
  auto line = works::placesOf(shape).front().points;
  const auto* run = shape.as<works::Run>();
  if (run && run->closed) line.push_back(line.front());
  return line;
}

constexpr double kGrab = 9;  // pixels

// The fields of sections along the line: a side each.
std::vector<std::size_t> sidesOf(const works::Shape& shape) {
  std::vector<std::size_t> sides;
  const auto& fields = shape.kind().fields();
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (fields[i].measure == Measure::sections && shape.applies(i)) sides.push_back(i);
  }
  return sides;
}

QString nameOf(const works::NamedOrLegs& section) {
  return section.name.empty() ? QObject::tr("section") : QString::fromStdString(section.name);
}

// Metres, from a coordinate of the plot: to hundredths of the unit that is told.
double rounded(double inUnit) {
  return std::round(inUnit * 100) / 100 * lengths::inMetres();
}

}  // namespace

LongSection::LongSection(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(plot_);
  for (int i = 0; i < 3; ++i) plot_->addGraph();
  plot_->graph(2)->setLineStyle(QCPGraph::lsNone);
  dressPlot(*plot_, [this] {
    plot_->graph(0)->setPen(QPen(theme::granite(), 1.6));
    plot_->graph(1)->setPen(QPen(theme::ink(), 2));
    plot_->graph(2)->setScatterStyle(
        QCPScatterStyle(QCPScatterStyle::ssSquare, QPen(theme::ink(), 1.2), theme::amber(), 8));
  });
  plot_->yAxis->setNumberPrecision(1);
  plot_->setToolTip(tr(
      "The ground (granite) and the grade (ink) along the line. Drag a point; double-click the grade to add one; "
      "right-click a point for its vertical curve, or to remove it, and anywhere for another section from there on."));
  plot_->installEventFilter(this);
}

bool LongSection::suits(const works::Shape& shape) {
  const auto places = works::placesOf(shape);
  return !places.empty() && !places.front().closed && fieldOf(shape, Measure::levels);
}

void LongSection::show(const works::Shape& shape, const ground::TinPtr& under) {
  shape_ = shape, under_ = under;
  levels_ = stationsOf(shape, Measure::levels), curves_ = stationsOf(shape, Measure::stations);
  replot();
}

void LongSection::replot() {
  const works::Places line = lineOf(*shape_);
  length_ = works::lengthOf(line, false);
  QVector<double> stations, grounds;
  double low = 1e300, high = -1e300;
  const auto see = [&](double level) { low = std::min(low, level), high = std::max(high, level); };
  double at = 0;
  std::vector<plane::Vec3> way;
  if (under_) way = ground::draped(*under_, line, false);
  for (std::size_t i = 0; i < way.size(); ++i) {
    if (i > 0) at += plane::distance(way[i - 1].plan(), way[i].plan());
    stations << lengths::inUnit(at), grounds << lengths::inUnit(way[i].z);
    see(way[i].z);
  }
  plot_->graph(0)->setData(stations, grounds, true);
  const works::Grades grades(levels_, curves_);
  std::vector<double> stops = grades.stops(0.01);
  stops.push_back(0), stops.push_back(length_);
  std::sort(stops.begin(), stops.end());
  QVector<double> places, levels;
  for (const double s : stops) {
    if (s < 0 || s > length_) continue;
    places << lengths::inUnit(s), levels << lengths::inUnit(grades.level(s));
    see(grades.level(s));
  }
  plot_->graph(1)->setData(places, levels, true);
  QVector<double> pointsAt, pointLevels;
  for (const works::Station& s : levels_) {
    pointsAt << lengths::inUnit(s[0]), pointLevels << lengths::inUnit(s[1]);
    see(s[1]);
  }
  plot_->graph(2)->setData(pointsAt, pointLevels, true);
  // A point under the hand stays in its place.
  if (!dragging_ && low <= high) {
    const double room = std::max(0.3, 0.12 * (high - low));
    plot_->xAxis->setRange(lengths::inUnit(-0.03 * length_), lengths::inUnit(1.03 * length_));
    plot_->yAxis->setRange(lengths::inUnit(low - room), lengths::inUnit(high + room));
  }
  markSections();
  plot_->xAxis->setLabel(tr("station, %1").arg(lengths::unit()));
  plot_->yAxis->setLabel(tr("level, %1").arg(lengths::unit()));
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

// Where one begins, its name stands at a line across.
void LongSection::markSections() {
  plot_->clearItems();
  double height = 0.02;  // of the plot, from above: the names of a side stand below those of the one before
  for (const std::size_t field : sidesOf(*shape_)) {
    const works::Value value = shape_->get(field);
    for (const works::SectionAt& s : std::get<works::SectionsAlong>(value)) {
      if (s.station <= 0) continue;
      auto* line = new QCPItemStraightLine(plot_);
      line->setPen(QPen(theme::muted(), 1, Qt::DashLine));
      line->point1->setCoords(lengths::inUnit(s.station), 0);
      line->point2->setCoords(lengths::inUnit(s.station), 1);
      auto* name = new QCPItemText(plot_);
      name->setText(nameOf(s.section));
      name->setColor(theme::muted());
      name->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
      name->position->setTypeX(QCPItemPosition::ptPlotCoords);
      name->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
      name->position->setCoords(lengths::inUnit(s.station), height);
    }
    height += 0.12;
  }
}

QPoint LongSection::at(double station, double level) const {
  return {static_cast<int>(std::lround(plot_->xAxis->coordToPixel(lengths::inUnit(station)))),
          static_cast<int>(std::lround(plot_->yAxis->coordToPixel(lengths::inUnit(level))))};
}

std::optional<std::size_t> LongSection::pointAt(QPointF mouse) const {
  for (std::size_t i = 0; i < levels_.size(); ++i) {
    const QPoint here = at(levels_[i][0], levels_[i][1]);
    if (std::hypot(here.x() - mouse.x(), here.y() - mouse.y()) <= kGrab) return i;
  }
  return std::nullopt;
}

std::optional<works::Shape> LongSection::with(const Stations& levels, const Stations& curves) {
  if (const auto why = works::Grades(levels, curves).wrong(length_)) {
    Q_EMIT refused(tr("The grade stays as it is: its line %1.").arg(QString::fromStdString(*why)));
    return std::nullopt;
  }
  works::Shape next = shape_->with(*fieldOf(*shape_, Measure::levels), levels);
  if (const auto field = fieldOf(*shape_, Measure::stations)) next = next.with(*field, curves);
  return next;
}

// A point moves between its neighbours, and takes its curve along.
void LongSection::drag(QPointF mouse) {
  const std::size_t i = *dragging_;
  constexpr double kApart = 0.1;  // m
  const double from = i > 0 ? levels_[i - 1][0] + kApart : 0;
  const double to = i + 1 < levels_.size() ? levels_[i + 1][0] - kApart : length_;
  const double was = levels_[i][0];
  Stations levels = levels_, curves = curves_;
  levels[i] = {std::clamp(rounded(plot_->xAxis->pixelToCoord(mouse.x())), from, std::max(from, to)),
               rounded(plot_->yAxis->pixelToCoord(mouse.y()))};
  for (works::Station& c : curves) {
    if (c[0] == was) c[0] = levels[i][0];
  }
  if (works::Grades(levels, curves).wrong(length_)) return;  // it stays at its last good place
  levels_ = levels, curves_ = curves;
  moved_ = true;
  shape_ = with(levels_, curves_);
  replot();
  Q_EMIT dragged(*shape_);
}

void LongSection::addPoint(QPointF mouse) {
  const double station = rounded(plot_->xAxis->pixelToCoord(mouse.x()));
  if (station <= 0 || station >= length_) return;
  Stations levels = levels_;
  const works::Station point{station, rounded(lengths::inUnit(works::Grades(levels_, curves_).level(station)))};
  levels.insert(std::upper_bound(levels.begin(), levels.end(), point), point);
  if (const auto next = with(levels, curves_)) Q_EMIT changed(*next, tr("add a grade point to %1"));
}

void LongSection::removePoint(std::size_t point) {
  Stations levels = levels_, curves = curves_;
  std::erase_if(curves, [&](const works::Station& c) { return c[0] == levels_[point][0]; });
  levels.erase(levels.begin() + static_cast<std::ptrdiff_t>(point));
  if (const auto next = with(levels, curves)) Q_EMIT changed(*next, tr("remove a grade point of %1"));
}

void LongSection::askCurve(std::size_t point) {
  const double station = levels_[point][0];
  double length = 0;
  for (const works::Station& c : curves_) {
    if (c[0] == station) length = c[1];
  }
  const auto given = lengths::ask(this, tr("Vertical curve"), tr("Its length (0: none)"),
                                  length > 0 ? length : lengths::nudge(20), 0, 1e5);
  if (!given) return;
  length = *given;
  Stations curves = curves_;
  std::erase_if(curves, [&](const works::Station& c) { return c[0] == station; });
  if (length > 0) curves.push_back({station, length});
  std::sort(curves.begin(), curves.end());
  if (const auto next = with(levels_, curves)) Q_EMIT changed(*next, tr("change a vertical curve of %1"));
}

void LongSection::dropSection(std::size_t field, double station, const QString& name) {
  works::SectionsAlong along = std::get<works::SectionsAlong>(shape_->get(field));
  std::erase_if(along, [&](const works::SectionAt& s) { return s.station == station; });
  if (!name.isEmpty()) {
    along = works::orBatter(along, {});  // goes out before it
    along.push_back({station, {name.toStdString(), {}}});
    std::ranges::sort(along, {}, &works::SectionAt::station);
  }
  Q_EMIT changed(shape_->with(field, along), tr("change a section of %1"));
}

void LongSection::showMenu(QPointF mouse, QPoint global) {
  QMenu menu(this);
  menu.setObjectName("longSectionMenu");
  if (const auto point = pointAt(mouse)) {
    const bool between = *point > 0 && *point + 1 < levels_.size();
    auto* curve = menu.addAction(tr("Vertical curve…"), this, [this, point] { askCurve(*point); });
    curve->setEnabled(between && fieldOf(*shape_, Measure::stations));
    menu.addAction(tr("Remove the point"), this, [this, point] { removePoint(*point); })
        ->setEnabled(levels_.size() > 1);
    menu.addSeparator();
  }
  // To the metre, or five feet.
  const double step = lengths::nudge(1);
  const double station =
      std::clamp(std::round(plot_->xAxis->pixelToCoord(mouse.x()) * lengths::inMetres() / step) * step, 0.0, length_);
  for (const std::size_t field : sidesOf(*shape_)) {
    const QString side = QString::fromStdString(shape_->kind().fields()[field].label);
    QMenu* from = menu.addMenu(tr("%1 from %2 on").arg(side, lengths::told(station, 0)));
    for (const QString& name : sections_)
      from->addAction(name, this, [this, field, station, name] { dropSection(field, station, name); });
    if (sections_.empty()) from->addAction(tr("None yet: Edit > Typical sections…"))->setEnabled(false);
    const works::Value value = shape_->get(field);
    for (const works::SectionAt& s : std::get<works::SectionsAlong>(value)) {
      const double apart = std::abs(at(s.station, 0).x() - mouse.x());
      if (s.station <= 0 || apart > kGrab) continue;
      menu.addAction(tr("%1: no longer %2 from %3 on").arg(side, nameOf(s.section), lengths::told(s.station, 0)), this,
                     [this, field, begins = s.station] { dropSection(field, begins, {}); });
    }
  }
  if (!menu.isEmpty()) menu.exec(global);
}

bool LongSection::eventFilter(QObject* watched, QEvent* event) {
  const auto* mouse = static_cast<QMouseEvent*>(event);
  if (!shape_ || readOnly_) return QWidget::eventFilter(watched, event);
  switch (event->type()) {
    case QEvent::MouseButtonPress:
      if (const auto point = pointAt(mouse->position())) {
        if (mouse->button() == Qt::LeftButton) dragging_ = point, moved_ = false;
      }
      if (mouse->button() == Qt::RightButton) showMenu(mouse->position(), mouse->globalPosition().toPoint());
      return true;
    case QEvent::MouseMove:
      if (dragging_) drag(mouse->position());
      return true;
    case QEvent::MouseButtonRelease:
      if (dragging_) {
        dragging_.reset();
        if (moved_) Q_EMIT released();
        replot();
      }
      return true;
    case QEvent::MouseButtonDblClick:
      if (!pointAt(mouse->position())) addPoint(mouse->position());
      return true;
    default:
      return QWidget::eventFilter(watched, event);
  }
}

}  // namespace inselberg::app
