#include "card/line_card.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "base/error.h"
#include "base/quantity.h"
#include "card/rows.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using ground::Breakline;
using project::Feature;
using project::FeatureKind;

// Levels along the line, seen from the side.
class Profile : public QWidget {
 public:
  explicit Profile(QWidget* parent) : QWidget(parent) { setFixedHeight(70); }
  void setLine(std::optional<Breakline> line) {
    line_ = std::move(line);
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::paper());
    painter.setPen(theme::rule());
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    if (!line_ || line_->vertices.size() < 2) return;
    const auto stations = ground::chainage(*line_);
    double low = 1e300, high = -1e300;
    for (const auto& v : line_->vertices) {
      if (!std::isnan(v.z)) low = std::min(low, v.z), high = std::max(high, v.z);
    }
    if (low > high || !(stations.back() > 0)) return;
    const double span = std::max(high - low, 1e-3);
    QPolygonF line;
    for (std::size_t i = 0; i < line_->vertices.size(); ++i) {
      const double z = line_->vertices[i].z;
      if (std::isnan(z)) continue;
      line << QPointF(8 + (width() - 16) * stations[i] / stations.back(),
                      height() - 10 - (height() - 24) * (z - low) / span);
    }
    painter.setPen(QPen(theme::loam(), 1.6));
    painter.drawPolyline(line);
    painter.setBrush(theme::paper());
    painter.setPen(QPen(theme::ink(), 1));
    for (const QPointF& p : line) painter.drawEllipse(p, 2.2, 2.2);
    painter.setPen(theme::muted());
    QFont font = painter.font();
    font.setPixelSize(theme::pixels(10));
    painter.setFont(font);
    painter.drawText(rect().adjusted(5, 2, -5, 0), Qt::AlignTop | Qt::AlignLeft, lengths::number(high, 2));
    painter.drawText(rect().adjusted(5, 0, -5, -1), Qt::AlignBottom | Qt::AlignLeft, lengths::number(low, 2));
  }

 private:
  std::optional<Breakline> line_;
};

}  // namespace

LineCard::LineCard(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(7);
  heading_ = new QLabel(this);
  heading_->setObjectName("lineHeading");
  heading_->setProperty("heading", true);
  heading_->setWordWrap(true);
  layout->addWidget(heading_);
  about_ = new QLabel(this);
  about_->setProperty("quiet", true);
  about_->setWordWrap(true);
  layout->addWidget(about_);

  makeShaping(*layout);
  layout->addWidget(ruleLine(this));
  makeLevels(*layout);
  connectShaping();
  connectLevels();
}

void LineCard::makeShaping(QVBoxLayout& layout) {
  auto* grid = new QGridLayout;
  grid->setSpacing(5);
  reverse_ = addButton("lineReverse", tr("Reverse"), tr("Let the line run the other way; its first vertex is round"));
  close_ = addButton("lineClose", tr("Close"), tr("Join the last vertex to the first, or open the ring"));
  join_ = addButton("lineJoin", tr("Join"), tr("Two chosen lines become one, at the ends that lie nearest"));
  trim_ = addButton("lineTrim", tr("Trim to…"), tr("Click the line to cut back to, on the side of the end that goes"));
  extend_ = addButton("lineExtend", tr("Extend to…"), tr("Click the line to prolong to, near the end that grows"));
  grid->addWidget(reverse_, 0, 0);
  grid->addWidget(close_, 0, 1);
  grid->addWidget(join_, 0, 2);
  grid->addWidget(trim_, 1, 0);
  grid->addWidget(extend_, 1, 1, 1, 2);
  offsetBy_ = addField("lineOffsetBy");
  offset_ =
      addButton("lineOffset", tr("Offset"), tr("A parallel line this far to the left (minus: right), as a new line"));
  radius_ = addField("lineRadius");
  round_ =
      addButton("lineRound", tr("Round corners"), tr("An arc of this radius in every corner that has room for it"));
  angle_ = addField("lineAngle", tr("degrees"));
  turn_ = addButton("lineTurn", tr("Turn"), tr("Turn about the middle, clockwise"));
  by_ = addField("lineBy");
  shift_ = addButton("lineShift", tr("Move"), tr("Move by so much east and north: 2.5 -1"));
  int row = 2;
  for (const auto& [edit, push] : std::initializer_list<std::pair<QLineEdit*, QPushButton*>>{
           {offsetBy_, offset_}, {radius_, round_}, {angle_, turn_}, {by_, shift_}}) {
    grid->addWidget(edit, row, 0);
    grid->addWidget(push, row++, 1, 1, 2);
  }
  layout.addLayout(grid);
}

void LineCard::makeLevels(QVBoxLayout& layout) {
  auto* levelRow = new QGridLayout;
  levelRow->setSpacing(5);
  levels_ = new QComboBox(this);
  levels_->setObjectName("lineLevels");
  levels_->addItems({tr("One level"), tr("Straight between its ends"), tr("From the first at a grade"),
                     tr("From the ground, plus"), tr("From another line, plus")});
  level_ = addField("lineLevel");
  apply_ = addButton("lineApply", tr("Set levels"), tr("Give the chosen lines these levels"));
  levelRow->addWidget(levels_, 0, 0, 1, 2);
  levelRow->addWidget(level_, 1, 0);
  levelRow->addWidget(apply_, 1, 1);
  layout.addLayout(levelRow);
  profile_ = new Profile(this);
  layout.addWidget(profile_);
  table_ = new QTableWidget(0, 2, this);
  table_->setObjectName("lineTable");
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(21);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->setMinimumHeight(120);
  layout.addWidget(table_, 1);
  layout.addStretch(0);
}

void LineCard::connectShaping() {
  connect(reverse_, &QPushButton::clicked, this, [this] { change(ground::reversed, tr("reverse")); });
  connect(close_, &QPushButton::clicked, this, [this] {
    change(
        [](Breakline line) {
          if (line.vertices.size() > 2) line.closed = !line.closed;
          return line;
        },
        tr("close or open"));
  });
  connect(join_, &QPushButton::clicked, this, [this] {
    const auto chosen = workspace_.chosenFeatures();
    const auto& project = *workspace_.project();
    const auto line = ground::joined(*project::shapeOf(project, chosen[0]), *project::shapeOf(project, chosen[1]));
    if (!line) return;
    workspace_.chooseFeatures({});
    edit(
        [&](const project::Project& p) {
          return project::withoutFeatures(*project::withShape(p, chosen[0], *line), {chosen[1]});
        },
        tr("join"));
  });
  connect(offset_, &QPushButton::clicked, this, [this] {
    const auto distance = typed(*offsetBy_, tr("how far"));
    const auto line = only();
    if (!distance || !line) return;
    const auto beside = ground::offset(*line, *distance);
    if (!beside) {
      Q_EMIT workspace_.message(
          tr("Nothing is left of the line at that distance. Take a smaller one, or the other side."), true);
      return;
    }
    const Feature f = workspace_.chosenFeatures().front();
    edit([&](const project::Project& p) { return project::withFeature(p, f.source, f.kind, *beside); }, tr("offset"));
  });
  connect(round_, &QPushButton::clicked, this, [this] {
    if (const auto r = typed(*radius_, tr("a radius")))
      change([r = *r](const Breakline& line) { return ground::rounded(line, r); }, tr("round corners"));
  });
  connect(turn_, &QPushButton::clicked, this, [this] {
    const auto degrees = typed(*angle_, tr("an angle"), false);
    if (!degrees) return;
    plane::Box box;
    for (const Feature& f : workspace_.chosenFeatures()) {
      const auto shape = project::shapeOf(*workspace_.project(), f);
      for (const auto& v : shape->vertices) box.add(v.plan());
    }
    change([about = box.centre(),
            angle = -*degrees * M_PI / 180](const Breakline& line) { return ground::turned(line, about, angle); },
           tr("turn"));
  });
  connect(shift_, &QPushButton::clicked, this, [this] {
    const QStringList parts = by_->text().replace(',', '.').split(' ', Qt::SkipEmptyParts);
    const auto e = parts.size() == 2 ? parseNumber(parts[0].toStdString()) : std::nullopt;
    const auto n = parts.size() == 2 ? parseNumber(parts[1].toStdString()) : std::nullopt;
    if (!e || !n) {
      Q_EMIT workspace_.message(tr("Write how far east and north: 2.5 -1"), true);
      return;
    }
    change([d = plane::Vec3{*e * lengths::inMetres(), *n * lengths::inMetres(), 0}](
               const Breakline& line) { return ground::moved(line, d); },
           tr("move"));
  });
  for (auto* b : {trim_, extend_}) {
    connect(b, &QPushButton::clicked, this, [this, b] {
      const auto line = only();
      if (!line) return;
      const bool trims = b == trim_;
      Q_EMIT otherWanted(
          trims ? tr("Click the line to trim to, on the side that goes.") : tr("Click the line to extend to."),
          [this, trims](const Feature& other, plane::Vec2 place) {
            const auto mine = only();
            const auto to = project::shapeOf(*workspace_.project(), other);
            if (!mine || !to) return;
            replaceOnly(trims ? ground::trimmedTo(*mine, *to, place) : ground::extendedTo(*mine, *to, place),
                        trims ? tr("trim") : tr("extend"), tr("The two lines do not meet there."));
          });
    });
  }
}

void LineCard::connectLevels() {
  connect(apply_, &QPushButton::clicked, this, &LineCard::applyLevels);
  connect(levels_, &QComboBox::currentIndexChanged, this, [this](int index) {
    level_->setEnabled(index != 1);
    tellUnits();
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int vertex, int column) {
    if (!filling_ && column == 1) levelTyped(vertex);
  });
}

QPushButton* LineCard::addButton(const char* id, const QString& text, const QString& tip) {
  auto* b = new QPushButton(text, this);
  b->setObjectName(id);
  b->setToolTip(tip);
  return b;
}

QLineEdit* LineCard::addField(const char* id, const QString& placeholder) {
  auto* f = new QLineEdit(this);
  f->setObjectName(id);
  f->setPlaceholderText(placeholder);
  return f;
}

std::optional<Breakline> LineCard::only() const {
  const auto& chosen = workspace_.chosenFeatures();
  if (chosen.size() != 1 || chosen.front().kind == FeatureKind::point) return std::nullopt;
  return project::shapeOf(*workspace_.project(), chosen.front());
}

void LineCard::edit(const std::function<project::ProjectPtr(const project::Project&)>& work, const QString& what) {
  if (workspace_.readOnly()) return;
  try {
    workspace_.commit(work(*workspace_.project()), what);
  } catch (const Error& e) {
    Q_EMIT workspace_.message(QString::fromUtf8(e.what()), true);
  }
}

void LineCard::change(const Change& work, const QString& what) {
  const auto chosen = workspace_.chosenFeatures();
  edit([&](const project::Project& p) { return project::withShapes(p, chosen, work); }, what);
}

void LineCard::replaceOnly(const std::optional<Breakline>& shape, const QString& what, const QString& otherwise) {
  if (!shape) {
    Q_EMIT workspace_.message(otherwise, true);
    return;
  }
  change([&](const Breakline&) { return *shape; }, what);
}

std::optional<double> LineCard::typed(QLineEdit& field, const QString& what, bool length) {
  const QString plain = "=" + field.text().remove('+');
  const auto value = length ? lengths::typed(plain) : parseLength(plain.toStdString(), std::nullopt);
  if (!value) Q_EMIT workspace_.message(tr("Write %1 first, as a number.").arg(what), true);
  return value;
}

void LineCard::applyLevels() {
  const int how = levels_->currentIndex();
  if (how == 1) {
    change([](const Breakline& line) { return ground::levelledBetween(line, 0, line.vertices.size() - 1); },
           tr("set levels"));
    return;
  }
  const bool plus = how >= 3;
  if (plus && level_->text().trimmed().isEmpty()) level_->setText("0");
  const auto value = typed(*level_, how == 2 ? tr("a grade") : tr("a level"), how != 2);
  if (!value) return;
  if (how == 0) {
    change([z = *value](const Breakline& line) { return ground::atLevel(line, z); }, tr("set levels"));
  } else if (how == 2) {
    change([g = *value / 100](const Breakline& line) { return ground::levelledByGrade(line, 0, g); }, tr("set levels"));
  } else if (how == 3) {
    const auto* ground = workspace_.evaluation()->ground(workspace_.chosenGround());
    if (!ground || !ground->tin) {
      Q_EMIT workspace_.message(tr("There is no ground to take levels from."), true);
      return;
    }
    change(
        [tin = ground->tin, z = *value](const Breakline& line) {
          return ground::levelledFrom(
              line, [&](plane::Vec2 p) { return tin->levelAt(p); }, z);
        },
        tr("set levels"));
  } else {
    Q_EMIT otherWanted(
        tr("Click the line to take the levels from."), [this, z = *value](const Feature& other, plane::Vec2) {
          const auto from = project::shapeOf(*workspace_.project(), other);
          if (from)
            change([&](const Breakline& line) { return ground::levelledFromLine(line, *from, z); }, tr("set levels"));
        });
  }
}

void LineCard::levelTyped(int row) {
  auto line = only();
  const auto index = static_cast<std::size_t>(row);
  if (!line || index >= line->vertices.size()) return;
  const double now = line->vertices[index].z;
  const auto z = lengths::typed(table_->item(row, 1)->text(), std::isnan(now) ? std::nullopt : std::optional(now));
  if (!z) {
    Q_EMIT workspace_.message(tr("Write a level like 71.5, or a change like +0.2."), true);
    refresh();
    return;
  }
  line->vertices[index].z = *z;
  replaceOnly(line, tr("set a level"), {});
}

void LineCard::showTable(const std::optional<Breakline>& line) {
  static_cast<Profile*>(profile_)->setLine(line);
  filling_ = true;
  const auto stations = line ? ground::chainage(*line) : std::vector<double>{};
  const auto rows = line ? static_cast<int>(std::min<std::size_t>(line->vertices.size(), 2000)) : 0;
  table_->setRowCount(rows);
  for (int r = 0; r < rows; ++r) {
    const auto i = static_cast<std::size_t>(r);
    auto* along = new QTableWidgetItem(lengths::number(stations[i], 2));
    along->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    auto* level =
        new QTableWidgetItem(std::isnan(line->vertices[i].z) ? QString("–") : lengths::number(line->vertices[i].z, 3));
    for (auto* item : {along, level}) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    if (!apply_->isEnabled()) level->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    table_->setItem(r, 0, along);
    table_->setItem(r, 1, level);
  }
  filling_ = false;
}

void LineCard::tellUnits() {
  const QString unit = lengths::unit();
  offsetBy_->setPlaceholderText(tr("%1, left +").arg(unit));
  radius_->setPlaceholderText(tr("radius, %1").arg(unit));
  by_->setPlaceholderText(tr("E N, %1").arg(unit));
  level_->setPlaceholderText(levels_->currentIndex() == 2 ? tr("% up along it") : unit);
  table_->setHorizontalHeaderLabels({tr("Along, %1").arg(unit), tr("Level, %1").arg(unit)});
}

void LineCard::refresh() {
  tellUnits();
  const auto& chosen = workspace_.chosenFeatures();
  const auto& project = *workspace_.project();
  std::array<int, 5> n{};
  for (const Feature& f : chosen) {
    const auto shape = project::shapeOf(project, f);
    ++n[f.kind == FeatureKind::line && shape && shape->contour ? 4 : static_cast<std::size_t>(f.kind)];
  }
  QStringList what;
  const auto say = [&](int count, const QString& text) {
    if (count > 0) what << text;
  };
  say(n[0], n[0] == 1 ? tr("Point") : tr("%1 points").arg(n[0]));
  say(n[1], n[1] == 1 ? tr("Breakline") : tr("%1 breaklines").arg(n[1]));
  say(n[4], n[4] == 1 ? tr("Contour") : tr("%1 contours").arg(n[4]));
  say(n[2], n[2] == 1 ? tr("Boundary") : tr("%1 boundaries").arg(n[2]));
  say(n[3], n[3] == 1 ? tr("Void") : tr("%1 voids").arg(n[3]));
  heading_->setText(what.join(", "));
  const auto line = only();
  const auto* source = chosen.empty() ? nullptr : project.source(chosen.front().source);
  QString about = source ? tr("of %1").arg(QString::fromStdString(source->name)) : QString();
  if (source && source->locked) about += tr(" (locked)");
  if (line)
    about +=
        tr(", %1 long, %2 vertices").arg(lengths::told(ground::chainage(*line).back(), 2)).arg(line->vertices.size());
  if (chosen.size() == 1 && chosen.front().kind == FeatureKind::point)
    about += tr(", level %1").arg(lengths::number(project::shapeOf(project, chosen.front())->vertices[0].z, 3));
  about_->setText(about);
  const bool write = !workspace_.readOnly() && std::none_of(chosen.begin(), chosen.end(), [&](const Feature& f) {
    const auto* s = project.source(f.source);
    return s && s->locked;
  });
  const bool levelled = line && chosen.front().kind == FeatureKind::line;
  const bool lines = !chosen.empty() && std::all_of(chosen.begin(), chosen.end(),
                                                    [](const Feature& f) { return f.kind == FeatureKind::line; });
  const bool open = levelled && !line->closed;
  reverse_->setEnabled(write && lines);
  close_->setEnabled(write && lines);
  close_->setText(line && line->closed ? tr("Open") : tr("Close"));
  join_->setEnabled(write && lines && chosen.size() == 2);
  trim_->setEnabled(write && open);
  extend_->setEnabled(write && open);
  offset_->setEnabled(write && line);
  round_->setEnabled(write && !chosen.empty() && n[0] == 0);
  for (QWidget* w : std::initializer_list<QWidget*>{turn_, shift_}) w->setEnabled(write && !chosen.empty());
  apply_->setEnabled(write && (lines || (n[0] > 0 && levels_->currentIndex() != 1 && levels_->currentIndex() != 2)));
  profile_->setVisible(levelled);
  table_->setVisible(levelled);
  showTable(levelled ? line : std::nullopt);
}

}  // namespace inselberg::app
