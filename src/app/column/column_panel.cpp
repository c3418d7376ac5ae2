#include "column/column_panel.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "base/quantity.h"
#include "project/stage_place.h"
#include "report/ledger.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

constexpr int kMargin = 10, kBand = 44, kRow = 24, kSeam = 46, kLine = 16, kMark = 20;

// The marks at the right end of a row, counted from there.
QRect markIn(const QRect& row, int place) {
  return {row.right() - 24 - place * kMark, row.top() + 2, kMark, kMark};
}

}  // namespace

ColumnPanel::ColumnPanel(Workspace& workspace, ViewState& state, QWidget* parent)
    : QWidget(parent), workspace_(workspace), state_(state) {
  setObjectName("columnPanel");
  setAttribute(Qt::WA_StyledBackground);
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  for (const auto signal : {&Workspace::projectChanged, &Workspace::evaluationChanged, &Workspace::selectionChanged}) {
    connect(&workspace_, signal, this, [this] {
      layOut();
      update();
    });
  }
  connect(&state_, &ViewState::changed, this, qOverload<>(&QWidget::update));
  layOut();
}

void ColumnPanel::layOut() {
  items_.clear();
  int y = 32;
  const int w = width() - 2 * kMargin;
  const auto& column = workspace_.project()->column;
  seams_ = workspace_.project()->seams();
  for (std::size_t i = column.size(); i-- > 0;) {
    const project::Ground& g = *column[i];
    items_.push_back({Item::band, QRect(kMargin, y, w, kBand), g.id, {}, i});
    y += kBand;
    for (std::size_t k = 0; k < g.works.size(); ++k) {
      items_.push_back({Item::row, QRect(kMargin, y, w, kRow), g.id, g.works[k]->id, k});
      y += kRow;
    }
    const auto addStages = [&](project::Role role, const auto& list) {
      for (std::size_t k = 0; g.role == role && k < list.size(); ++k) {
        items_.push_back({Item::stage, QRect(kMargin, y, w, kRow), g.id, list[k].id, k});
        y += kRow;
      }
    };
    const project::Stages& stages = workspace_.project()->stages;
    addStages(project::Role::stripped, stages.strips);
    addStages(project::Role::undercut, stages.undercuts);
    addStages(project::Role::formation, stages.buildUps);
    for (std::size_t k = 0; k < seams_.size(); ++k) {
      if (seams_[k].to != g.id) continue;
      const auto* measured = seamOf(seams_[k]);
      const bool missing =
          measured && measured->volume && !report::unmeasuredText(measured->volume->unmeasured()).empty();
      const int height = kSeam + (isPlain(seams_[k], i) ? 0 : kLine) + (missing ? kLine : 0);
      items_.push_back({Item::seam, QRect(kMargin, y, w, height), g.id, {}, k});
      y += height;
    }
  }
  // A column that is taller than its place is scrolled.
  height_ = y + (workspace_.project()->sources.empty() ? 110 : 16);
  setMinimumHeight(height_);
  updateGeometry();
}

const project::Seam* ColumnPanel::seamOf(const project::Between& between) const {
  for (const project::Seam& seam : workspace_.evaluation()->seams) {
    if (static_cast<const project::Between&>(seam) == between) return &seam;
  }
  return nullptr;
}

bool ColumnPanel::isPlain(const project::Between& between, std::size_t to) const {
  return between.counted && to > 0 && workspace_.project()->column[to - 1]->id == between.from;
}

const ColumnPanel::Item* ColumnPanel::itemAt(QPoint p) const {
  for (const Item& item : items_) {
    if (item.rect.contains(p)) return &item;
  }
  return nullptr;
}

QRect ColumnPanel::bandOf(GroundId id) const {
  for (const Item& item : items_) {
    if (item.kind == Item::band && item.ground == id) return item.rect;
  }
  return {};
}

const ColumnPanel::Item* ColumnPanel::entryOf(WorksId id) const {
  for (const Item& item : items_) {
    if ((item.kind == Item::row || item.kind == Item::stage) && item.works == id) return &item;
  }
  return nullptr;
}

QRect ColumnPanel::rowOf(WorksId id) const {
  const Item* item = entryOf(id);
  return item ? item->rect : QRect();
}

QRect ColumnPanel::seamRectOf(const project::Between& between) const {
  for (const Item& item : items_) {
    if (item.kind == Item::seam && seams_[item.index] == between) return item.rect;
  }
  return {};
}

QRect ColumnPanel::eyeOf(WorksId id) const {
  const Item* item = entryOf(id);
  return item && item->kind == Item::row ? markIn(item->rect, 0) : QRect();
}

QRect ColumnPanel::partOf(WorksId id) const {
  const Item* item = entryOf(id);
  return item ? markIn(item->rect, item->kind == Item::row ? 1 : 0) : QRect();
}

void ColumnPanel::paintSeam(QPainter& painter, const Item& item, double greatest) {
  const auto& e = *workspace_.evaluation();
  const QRect r = item.rect;
  painter.setPen(QPen(theme::rule(), 1));
  painter.drawLine(r.left(), r.top(), r.left(), r.bottom());
  painter.drawLine(r.right(), r.top(), r.right(), r.bottom());
  const project::Project& project = *workspace_.project();
  const project::Between between = seams_.at(item.index);
  const project::Between told = state_.depthsBetween();
  if (state_.shown().mode == PlanMode::depth && told.from == between.from && told.to == between.to) {
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::faded(theme::amber(), 70));
    painter.drawRect(r.adjusted(1, 1, 0, 0));
  }
  const auto* seam = seamOf(between);
  if (!seam || !seam->volume) {
    painter.setPen(theme::muted());
    const auto waitsFor = [&](GroundId id) { return e.ground(id) && !e.ground(id)->problem.empty(); };
    const bool waits = waitsFor(between.from) || waitsFor(between.to);
    painter.drawText(r, Qt::AlignCenter, waits ? tr("no volume yet") : tr("measuring…"));
    return;
  }
  const quantity::Volume& v = *seam->volume;
  const int left = r.left() + 8, right = r.right() - 8, text = 66;
  int top = r.top();
  std::size_t to = 0;
  while (project.column[to]->id != between.to) ++to;
  if (!isPlain(between, to)) {
    // Which ground it is measured from, where that is not the one below.
    const QString name = QString::fromStdString(project.ground(between.from)->name);
    const QString from = between.counted ? tr("from %1").arg(name) : tr("compared with %1").arg(name);
    painter.setPen(theme::muted());
    painter.drawText(QRect(left, top + 3, right - left, kLine), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(from, Qt::ElideRight, right - left));
    top += kLine;
  }
  const auto bar = [&](int y, const QString& name, double amountOf, const QColor& colour) {
    painter.setPen(theme::muted());
    painter.drawText(QRect(left, y, 26, 16), Qt::AlignLeft | Qt::AlignVCenter, name);
    const int room = right - text - 6 - (left + 30);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::rule());
    painter.drawRect(left + 30, y + 5, room, 6);
    painter.setBrush(colour);
    painter.drawRect(left + 30, y + 5, static_cast<int>(room * std::min(1.0, amountOf / greatest)), 6);
    painter.setPen(workspace_.upToDate() ? theme::ink() : theme::muted());
    painter.drawText(QRect(right - text, y, text, 16), Qt::AlignRight | Qt::AlignVCenter,
                     QString::fromStdString(shownNumber(amountOf, Quantity::volume, project.measures)));
  };
  bar(top + 6, tr("cut"), v.cut, theme::cut());
  bar(top + 23, tr("fill"), v.fill, theme::fill());
  painter.setPen(theme::error());
  painter.drawText(QRect(left, top + 42, right - left, kLine), Qt::AlignRight | Qt::AlignVCenter,
                   QString::fromStdString(report::unmeasuredText(v.unmeasured(), project.measures)));
}

void ColumnPanel::paintBand(QPainter& painter, const Item& item) {
  const QRect r = item.rect;
  const project::Project& project = *workspace_.project();
  const auto& e = *workspace_.evaluation();
  const project::Ground& g = *project.ground(item.ground);
  const int count = static_cast<int>(project.column.size());
  const bool chosen = workspace_.chosenGround() == g.id;
  painter.setPen(QPen(chosen ? theme::amber() : theme::rule(), chosen ? 2 : 1));
  painter.setBrush(theme::groundTint(static_cast<int>(item.index), count));
  painter.drawRoundedRect(QRectF(r).adjusted(1, 1, -1, -1), 3, 3);
  // A borehole log's grain: short strokes along the left edge.
  painter.setPen(QPen(theme::faded(theme::ink(), 70), 1));
  for (int k = 0; k < 5; ++k)
    painter.drawLine(r.left() + 5 + (k % 2) * 3, r.top() + 7 + k * 7, r.left() + 10 + (k % 2) * 3, r.top() + 7 + k * 7);
  QFont bold = font();
  bold.setBold(true);
  painter.setFont(bold);
  painter.setPen(theme::ink());
  painter.drawText(r.adjusted(20, 4, -8, -20), Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(g.name));
  painter.setFont(font());
  const auto* made = e.ground(g.id);
  QString note = tr("being built…");
  if (made && made->tin) {
    note = tr("%1 to %2").arg(lengths::number(made->tin->minLevel(), 1), lengths::told(made->tin->maxLevel(), 1));
  } else if (made && !made->problem.empty()) {
    note = tr("nothing yet");
  }
  painter.drawText(r.adjusted(20, 22, -8, -4), Qt::AlignLeft | Qt::AlignVCenter, note);
  if (made && std::any_of(made->doubts.begin(), made->doubts.end(),
                          [&](const auto& d) { return !workspace_.project()->acceptance(d); })) {
    painter.setPen(QPen(theme::error(), 1.4));
    painter.setBrush(theme::paper());
    const QRectF mark(r.right() - 24, r.top() + 6, 16, 16);
    painter.drawEllipse(mark);
    painter.drawText(mark, Qt::AlignCenter, "?");
  }
}

void ColumnPanel::paintRow(QPainter& painter, const Item& item) {
  const project::Project& project = *workspace_.project();
  if (item.kind == Item::row) {
    const works::Works& w = *project.ground(item.ground)->works[item.index];
    paintEntry(painter, item,
               {QString::fromStdString(w.shape.kind().name), QString::fromStdString(w.name), w.leftOut, w.held,
                workspace_.chosenWorks() == w.id, w.hidden});
    return;
  }
  const auto at = project::placeOf(project.stages, item.works);
  if (!at) return;
  const char* icon = at->kind == project::StageKind::strip      ? "strip"
                     : at->kind == project::StageKind::undercut ? "undercut"
                                                                : "buildup";
  project::withListOf(project.stages, at->kind, [&](const auto& list) {
    paintEntry(painter, item,
               {icon,
                QString::fromStdString(list[at->place].name),
                list[at->place].leftOut,
                false,
                workspace_.chosenStage() == item.works,
                {}});
  });
}

void ColumnPanel::paintEntry(QPainter& painter, const Item& item, const Entry& entry) {
  const QRect r = item.rect;
  const bool pointed = r.contains(hover_);
  painter.setPen(QPen(theme::rule(), 1));
  painter.drawLine(r.left(), r.top(), r.left(), r.bottom());
  painter.drawLine(r.right(), r.top(), r.right(), r.bottom());
  if (entry.chosen || pointed) {
    painter.setPen(Qt::NoPen);
    painter.setBrush(entry.chosen ? theme::faded(theme::amber(), 70) : theme::faded(theme::paper(), 120));
    painter.drawRect(r.adjusted(1, 0, 0, 0));
  }
  painter.drawPixmap(r.left() + 6, r.top() + 3, theme::icon(entry.icon).pixmap(18, 18));
  int left = r.right() - 4;  // of the marks so far
  const auto mark = [&](const QRect& at, const char* icon) {
    painter.drawPixmap(at.left() + 1, at.top() + 1, theme::icon(icon).pixmap(18, 18));
    left = at.left();
  };
  if (entry.hidden) mark(eyeOf(item.works), *entry.hidden ? "eye-shut" : "eye");
  // Works take part as a rule: the box that says so waits for the pointer.
  if (!entry.hidden || entry.leftOut || pointed) mark(partOf(item.works), entry.leftOut ? "left-out" : "takes-part");
  if (entry.held) mark(QRect(left - kMark, r.top() + 2, kMark, kMark), "held");
  painter.save();
  QFont font = painter.font();
  font.setStrikeOut(entry.leftOut);
  painter.setFont(font);
  painter.setPen(entry.leftOut || entry.hidden == true ? theme::muted() : theme::ink());
  const QRect words(r.left() + 30, r.top(), left - r.left() - 34, r.height());
  painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                   painter.fontMetrics().elidedText(entry.name, Qt::ElideRight, words.width()));
  painter.restore();
}

void ColumnPanel::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::panel());
  painter.setPen(theme::rule());
  painter.drawLine(width() - 1, 0, width() - 1, height());
  painter.setPen(theme::muted());
  painter.drawText(QRect(kMargin, 8, width() - 2 * kMargin, 18), Qt::AlignLeft | Qt::AlignVCenter, tr("Column"));
  painter.drawText(QRect(kMargin, 8, width() - 2 * kMargin, 18), Qt::AlignRight | Qt::AlignVCenter,
                   unitOf(Quantity::volume, workspace_.project()->measures));
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& e = *workspace_.evaluation();
  double greatest = 1;
  for (const auto& seam : e.seams) {
    if (seam.volume) greatest = std::max({greatest, seam.volume->cut, seam.volume->fill});
  }
  const project::Project& project = *workspace_.project();
  for (const Item& item : items_) {
    if (item.kind == Item::seam) {
      paintSeam(painter, item, greatest);
      continue;
    }
    item.kind == Item::band ? paintBand(painter, item) : paintRow(painter, item);
  }
  if (dropLine_ >= 0) {
    painter.setPen(QPen(theme::amber(), 2));
    painter.drawLine(kMargin, dropLine_, width() - kMargin, dropLine_);
  }
  if (!items_.empty() && project.sources.empty()) {
    painter.setPen(theme::muted());
    const QRect below(kMargin, items_.back().rect.bottom() + 16, width() - 2 * kMargin, 80);
    painter.drawText(below, Qt::AlignLeft | Qt::TextWordWrap,
                     tr("The column fills from below: import the survey to build the existing ground."));
  }
}

bool ColumnPanel::onMark(const Item& item, QPoint p) const {
  return item.works && (eyeOf(item.works).contains(p) || partOf(item.works).contains(p));
}

void ColumnPanel::mousePressEvent(QMouseEvent* event) {
  const QPoint p = event->position().toPoint();
  const Item* item = itemAt(p);
  if (!item || event->button() != Qt::LeftButton) return;
  pressedAt_ = p;
  if (onMark(*item, p)) {
    if (workspace_.readOnly()) return;
    const WorksId of = item->works;
    return eyeOf(of).contains(p) ? workspace_.hideOrShow(of) : workspace_.leaveOutOrTakeIn(of);
  }
  if (item->kind == Item::row) {
    dragged_ = item->works;
    workspace_.chooseWorks(item->works);
  } else if (item->kind == Item::stage) {
    workspace_.chooseStage(item->works);
  } else if (item->kind == Item::band) {
    draggedGround_ = item->ground;
    workspace_.chooseGround(item->ground);
  } else {
    // The depths between the two grounds of a seam; the same seam again puts them away.
    const project::Between between = seams_.at(item->index);
    const bool again = state_.shown().mode == PlanMode::depth && state_.shown().compared == between;
    workspace_.chooseGround(item->ground);
    again ? state_.hideDepths() : state_.showDepths(Lit::all, between);
  }
}

void ColumnPanel::mouseMoveEvent(QMouseEvent* event) {
  hover_ = event->position().toPoint();
  dropLine_ = -1;
  if (!workspace_.readOnly() && (hover_ - pressedAt_).manhattanLength() > 6) {
    if (dragged_) findDropOf(dragged_);
    if (draggedGround_) findDropOf(draggedGround_);
  }
  update();
}

// Before the first row of its ground whose middle lies below the pointer, else after the last.
void ColumnPanel::findDropOf(WorksId works) {
  const auto placed = workspace_.project()->works(works);
  if (!placed.ground) return;
  const GroundId ground = placed.ground->id;
  std::size_t own = 0;
  for (const Item& item : items_) {
    if (item.kind != Item::row || item.ground != ground) continue;
    if (item.works == works) own = item.index;
  }
  for (const Item& item : items_) {
    if (item.kind != Item::row || item.ground != ground) continue;
    const bool above = hover_.y() < item.rect.center().y();
    dropLine_ = above ? item.rect.top() : item.rect.bottom() + 1;
    dropPlace_ = above ? item.index : item.index + 1;
    if (above) break;
  }
  if (dropPlace_ > own) --dropPlace_;
}

// Above the first band whose middle lies below the pointer, else below the lowest; bands stand from the top down.
void ColumnPanel::findDropOf(GroundId ground) {
  std::size_t own = 0, above = 0;
  for (const Item& item : items_) {
    if (item.kind != Item::band) continue;
    if (item.ground == ground) own = item.index;
    if (hover_.y() < item.rect.center().y() && dropLine_ < 0) {
      dropLine_ = item.rect.top() - 2;
      above = item.index + 1;
    }
  }
  if (dropLine_ < 0) dropLine_ = items_.back().rect.bottom() + 2, above = 0;
  dropPlace_ = above > own ? above - 1 : above;
}

void ColumnPanel::mouseReleaseEvent(QMouseEvent*) {
  const WorksId id = std::exchange(dragged_, {});
  const GroundId ground = std::exchange(draggedGround_, {});
  const int line = std::exchange(dropLine_, -1);
  update();
  if (line < 0) return;
  const project::Project& project = *workspace_.project();
  if (id) {
    const auto placed = project.works(id);
    if (!placed.ground) return;
    const auto& list = placed.ground->works;
    if (dropPlace_ < list.size() && list[dropPlace_]->id != id)
      workspace_.commit(project::withWorksAt(project, id, dropPlace_),
                        tr("reorder %1").arg(QString::fromStdString(placed.works->name)));
  } else if (ground && dropPlace_ < project.column.size() && project.column[dropPlace_]->id != ground) {
    workspace_.commit(project::withGroundAt(project, ground, dropPlace_),
                      tr("move %1 in the column").arg(QString::fromStdString(project.ground(ground)->name)));
  }
}

void ColumnPanel::mouseDoubleClickEvent(QMouseEvent* event) {
  const Item* item = itemAt(event->position().toPoint());
  if (item && item->kind == Item::row && !onMark(*item, event->position().toPoint())) Q_EMIT worksShown(item->works);
}

void ColumnPanel::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Delete && workspace_.chosenStage() && !workspace_.readOnly()) {
    return workspace_.removeStage();
  }
  if (event->key() != Qt::Key_Up && event->key() != Qt::Key_Down) return QWidget::keyPressEvent(event);
  std::vector<const Item*> stops;
  std::size_t now = 0;
  for (const Item& item : items_) {
    if (item.kind == Item::seam) continue;
    const WorksId of = workspace_.chosenStage() ? workspace_.chosenStage() : workspace_.chosenWorks();
    const bool chosen = of ? item.works == of : item.kind == Item::band && item.ground == workspace_.chosenGround();
    if (chosen) now = stops.size();
    stops.push_back(&item);
  }
  const std::size_t next = event->key() == Qt::Key_Up ? (now == 0 ? 0 : now - 1) : std::min(now + 1, stops.size() - 1);
  const Item item = *stops[next];
  if (item.kind == Item::stage) return workspace_.chooseStage(item.works);
  item.works ? workspace_.chooseWorks(item.works) : workspace_.chooseGround(item.ground);
}

void ColumnPanel::resizeEvent(QResizeEvent*) {
  layOut();
}

void ColumnPanel::leaveEvent(QEvent*) {
  hover_ = {-1, -1};
  update();
}

QString ColumnPanel::tipOf(const Item& item, QPoint at) const {
  QString text;
  const auto* seam = item.kind == Item::seam ? seamOf(seams_.at(item.index)) : nullptr;
  if (seam && seam->volume) {
    const auto& v = *seam->volume;
    const Measures& measures = workspace_.project()->measures;
    const auto volume = [&](double x) {
      return QString::fromStdString(formatNumber(inUnit(x, Quantity::volume, measures), 3)) + " " +
             unitOf(Quantity::volume, measures);
    };
    const auto told = [&](double x, Quantity quantity) { return workspace_.told(x, quantity); };
    text = tr("cut %1 over %2, up to %3 deep\nfill %4 over %5, up to %6 high\n%7")
               .arg(volume(v.cut), told(v.cutArea, Quantity::area), told(v.maxCut, Quantity::length), volume(v.fill),
                    told(v.fillArea, Quantity::area), told(v.maxFill, Quantity::length),
                    QString::fromStdString(report::surplusText(v.cut, v.fill, measures))) +
           tr("\nClick to see the depths on the plan.");
    for (const auto& [area, where] : {std::pair(v.onlyFrom, tr("under the lower ground alone")),
                                      std::pair(v.onlyTo, tr("under the upper ground alone"))}) {
      if (const std::string missing = report::unmeasuredText(area, measures); !missing.empty())
        text += "\n" + QString::fromStdString(missing) + ", " + where;
    }
  } else if (eyeOf(item.works).contains(at)) {
    text = tr("Hide or show its lines; hidden works take part all the same");
  } else if (partOf(item.works).contains(at)) {
    text = tr("Leave out or take in: what is left out is not in the grounds and figures");
  } else if (item.kind == Item::row) {
    text = tr("Click to choose, drag to reorder, double-click to see");
  } else if (item.kind == Item::stage) {
    text = tr("Click to choose: its card tells what it is and what it comes to");
  } else if (item.kind == Item::band) {
    text = tr("Click to choose; drag to move it in the column, which alters no figure");
  }
  return text;
}

bool ColumnPanel::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const Item* item = itemAt(help->pos());
  QToolTip::showText(help->globalPos(), item ? tipOf(*item, help->pos()) : QString(), this);
  return true;
}

}  // namespace inselberg::app
