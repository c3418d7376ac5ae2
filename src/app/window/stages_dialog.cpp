#include "window/stages_dialog.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/error.h"
#include "base/quantity.h"
#include "window/pits_dialog.h"

namespace inselberg::app {
namespace {

using project::Stages;

QString text(const std::string& s) {
  return QString::fromStdString(s);
}
QString metres(double v) {
  return text(formatNumber(v, 3)) + " m";
}
QString share(double v) {
  return text(formatNumber(100 * v, 1)) + " %";
}

QString pitsText(std::size_t pits) {
  return pits == 1 ? StagesDialog::tr("1 pit") : StagesDialog::tr("%1 pits").arg(pits);
}

// What is typed, or an Error that says what to write.
double length(const std::string& typed) {
  const auto v = parseLength(typed, std::nullopt);
  if (!v || *v < 0) throw Error("\"" + typed + "\" is no length", "write metres, like 0.3");
  return *v;
}
double shareOf(std::string typed) {
  while (!typed.empty() && (typed.back() == '%' || typed.back() == ' ')) typed.pop_back();
  const auto v = parseNumber(typed);
  if (!v || *v > 99.9 || *v < -99.9) throw Error("\"" + typed + "\" is no share", "write percent, like 25");
  return *v / 100;
}
double rate(const std::string& typed) {
  const auto v = parseNumber(typed);
  if (!v || *v < 0) throw Error("\"" + typed + "\" is no rate", "write a number, like 4.5");
  return *v;
}
std::string named(const std::string& typed) {
  if (typed.empty()) throw Error("a name is missing", "write one");
  return typed;
}

// "concrete 0.2, base 0.15"
QString layersText(const std::vector<works::Layer>& layers) {
  QStringList parts;
  for (const works::Layer& l : layers)
    parts << text(l.name + " " + formatNumber(l.thickness, 3)) +
                 (l.fromSite ? StagesDialog::tr(" from site") : QString());
  return parts.join(", ");
}
std::vector<works::Layer> layersOf(const std::string& typed) {
  std::vector<works::Layer> layers;
  for (QString part : QString::fromStdString(typed).split(',', Qt::SkipEmptyParts)) {
    part = part.trimmed();
    works::Layer layer;
    const QString site = StagesDialog::tr("from site");
    layer.fromSite = part.endsWith(site);
    if (layer.fromSite) part = part.chopped(site.size()).trimmed();
    const auto space = part.lastIndexOf(' ');
    if (space <= 0)
      throw Error("\"" + part.toStdString() + "\" is no layer",
                  "write names and thicknesses, like concrete 0.2, base 0.15");
    layer.name = part.left(space).trimmed().toStdString();
    layer.thickness = length(part.mid(space + 1).toStdString());
    layers.push_back(std::move(layer));
  }
  if (layers.empty())
    throw Error("a build-up needs a layer", "write names and thicknesses, like concrete 0.2, base 0.15");
  return layers;
}

QString worksNames(const project::Project& project, const std::vector<WorksId>& ids) {
  QStringList names;
  for (const WorksId id : ids) {
    const auto placed = project.works(id);
    names << (placed.works ? text(placed.works->name) : StagesDialog::tr("gone"));
  }
  return names.join(", ");
}

template <class Items>
void eraseRow(Items& items, std::size_t row) {
  if (row < items.size()) items.erase(items.begin() + static_cast<std::ptrdiff_t>(row));
}

}  // namespace

// What an item lies in, under or over.
QString StagesDialog::where(const std::vector<WorksId>& works, bool line) const {
  if (works.empty()) return line ? tr("its line") : tr("its outline");
  return worksNames(*workspace_.project(), works);
}

StagesDialog::List StagesDialog::strips() {
  return {"strips",
          tr("Strips"),
          tr("Strip › Outline, Site or Under works adds one: of one depth, or of the depths found at test pits."),
          {tr("Name"), tr("Inside or under"), tr("Margin"), tr("Depth"), tr("Material")},
          [this](const Stages& s) {
            std::vector<QStringList> rows;
            for (const auto& strip : s.strips)
              rows.push_back({text(strip.name), where(strip.under, false),
                              strip.under.empty() ? QString("–") : metres(strip.margin),
                              strip.pits.empty() ? metres(strip.depth) : pitsText(strip.pits.size()),
                              text(strip.material)});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            auto& strip = s.strips.at(row);
            if (column == 0) strip.name = named(typed);
            if (column == 2 && !strip.under.empty()) strip.margin = length(typed);
            if (column == 3) strip.depth = length(typed), strip.pits.clear();
            if (column == 4) strip.material = typed;
          },
          [](Stages& s, std::size_t row) { eraseRow(s.strips, row); },
          {},
          tr("Test pits…"),
          [this](Stages& s, std::size_t row) { askForPits(s.strips.at(row)); }};
}

void StagesDialog::askForPits(works::Strip& strip) {
  const plane::Origin& origin = workspace_.project()->origin;
  std::vector<plane::Vec3> pits;
  for (const plane::Vec3& p : strip.pits) pits.push_back({p.x + origin.easting, p.y + origin.northing, p.z});
  PitsDialog dialog(text(strip.name), pits, this);
  if (dialog.exec() != QDialog::Accepted) return;
  strip.pits.clear();
  for (const plane::Vec3& p : dialog.pits()) strip.pits.push_back({p.x - origin.easting, p.y - origin.northing, p.z});
}

StagesDialog::List StagesDialog::undercuts() const {
  return {
      "undercuts",
      tr("Undercuts"),
      tr("Strip › Undercut below the chosen works adds one."),
      {tr("Name"), tr("Below"), tr("Depth"), tr("Measured from"), tr("Wider"), tr("Back slope"), tr("Material")},
      [this](const Stages& s) {
        std::vector<QStringList> rows;
        for (const auto& u : s.undercuts)
          rows.push_back({text(u.name), where(u.under, true), u.byLevels ? tr("levels") : metres(u.depth),
                          u.below == works::UndercutBelow::formation ? tr("formation") : tr("stripped"),
                          metres(u.wider), text(Slope::horizontalPerVertical(u.backSlope).text()), text(u.material)});
        return rows;
      },
      [](Stages& s, std::size_t row, int column, const std::string& typed) {
        auto& u = s.undercuts.at(row);
        if (column == 0) u.name = named(typed);
        if (column == 2) u.depth = length(typed), u.byLevels = false;
        if (column == 3) {
          if (typed != "formation" && typed != "stripped")
            throw Error("nothing is dug below \"" + typed + "\"", "write formation or stripped");
          u.below = typed == "formation" ? works::UndercutBelow::formation : works::UndercutBelow::stripped;
        }
        if (column == 4) u.wider = length(typed);
        if (column == 5) {
          const auto slope = parseSlope(typed);
          if (!slope) throw Error("\"" + typed + "\" is no slope", "write it like 1:1, 100 % or 45 deg");
          u.backSlope = slope->run();
        }
        if (column == 6) u.material = typed;
      },
      [](Stages& s, std::size_t row) { eraseRow(s.undercuts, row); },
      {}};
}

StagesDialog::List StagesDialog::buildUps() const {
  return {"buildUps",
          tr("Build-ups"),
          tr("Strip › Build-up over the chosen works adds one. Layers go from the top down: concrete 0.2, base 0.15."),
          {tr("Name"), tr("Over"), tr("Part"), tr("Layers"), tr("Square to the slope")},
          [this](const Stages& s) {
            std::vector<QStringList> rows;
            for (const auto& b : s.buildUps)
              rows.push_back({text(b.name), where(b.over, false),
                              b.over.empty()                          ? QString("–")
                              : b.part == works::BuildUpPart::top     ? tr("top")
                              : b.part == works::BuildUpPart::batters ? tr("batters")
                                                                      : tr("all"),
                              layersText(b.layers), b.slopeTrue ? tr("yes") : tr("no")});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            auto& b = s.buildUps.at(row);
            if (column == 0) b.name = named(typed);
            if (column == 2 && !b.over.empty()) {
              if (typed != "top" && typed != "batters" && typed != "all")
                throw Error("works have no part \"" + typed + "\"", "write top, batters or all");
              b.part = typed == "top"       ? works::BuildUpPart::top
                       : typed == "batters" ? works::BuildUpPart::batters
                                            : works::BuildUpPart::all;
            }
            if (column == 3) b.layers = layersOf(typed);
            if (column == 4) {
              if (typed != "yes" && typed != "no") throw Error("\"" + typed + "\" is no answer", "write yes or no");
              b.slopeTrue = typed == "yes";
            }
          },
          [](Stages& s, std::size_t row) { eraseRow(s.buildUps, row); },
          {}};
}

StagesDialog::List StagesDialog::regions() const {
  return {"regions",
          tr("Regions"),
          tr("Measure › Region from the chosen outline adds one. Quantities are told for each, and elsewhere."),
          {tr("Name"), tr("Area")},
          [](const Stages& s) {
            std::vector<QStringList> rows;
            for (const auto& r : s.regions)
              rows.push_back({text(r.name), text(formatNumber(plane::area(r.area), 0)) + " m²"});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            if (column == 0) s.regions.at(row).name = named(typed);
          },
          [](Stages& s, std::size_t row) { eraseRow(s.regions, row); },
          {}};
}

StagesDialog::List StagesDialog::materials() const {
  return {"materials",
          tr("Materials"),
          tr("Works, strips and undercuts name what their cut is made of. Fill is taken in this order."),
          {tr("Name"), tr("Bulking"), tr("Shrinkage"), tr("Usable"), tr("Rate per bank m³"), tr("Haul per loose m³")},
          [](const Stages& s) {
            std::vector<QStringList> rows;
            for (const auto& m : s.materials)
              rows.push_back({text(m.name), share(m.bulking), share(m.shrinkage), share(m.usable),
                              text(formatNumber(m.cutRate, 2)), text(formatNumber(m.haulRate, 2))});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            auto& m = s.materials.at(row);
            if (column == 0) m.name = named(typed);
            if (column == 1) m.bulking = std::max(0.0, shareOf(typed));
            if (column == 2) m.shrinkage = shareOf(typed);
            if (column == 3) m.usable = typed.starts_with("100") ? 1 : std::max(0.0, shareOf(typed));
            if (column == 4) m.cutRate = rate(typed);
            if (column == 5) m.haulRate = rate(typed);
          },
          [](Stages& s, std::size_t row) { eraseRow(s.materials, row); },
          [](Stages& s) { s.materials.push_back({"material " + std::to_string(s.materials.size() + 1)}); }};
}

StagesDialog::List StagesDialog::accuracy() const {
  return {"accuracy",
          tr("Accuracy"),
          tr("Standard deviations of levels, by the file a survey came from: the ± of every volume follows."),
          {tr("File"), tr("Of each point"), tr("Of all together")},
          [](const Stages& s) {
            std::vector<QStringList> rows;
            for (const auto& a : s.accuracy) rows.push_back({text(a.source), metres(a.random), metres(a.systematic)});
            return rows;
          },
          [](Stages& s, std::size_t row, int column, const std::string& typed) {
            auto& a = s.accuracy.at(row);
            if (column == 0) a.source = named(typed);
            if (column == 1) a.random = length(typed);
            if (column == 2) a.systematic = length(typed);
          },
          [](Stages& s, std::size_t row) { eraseRow(s.accuracy, row); },
          [this](Stages& s) {
            for (const auto& source : workspace_.project()->sources) {
              const std::string file = QString::fromStdString(source->file).section('/', -1).toStdString();
              const bool known =
                  std::any_of(s.accuracy.begin(), s.accuracy.end(), [&](const auto& a) { return a.source == file; });
              if (!file.empty() && !known) return s.accuracy.push_back({file, 0.03, 0.01});
            }
            s.accuracy.push_back({"survey.csv", 0.03, 0.01});
          }};
}

StagesDialog::StagesDialog(Workspace& workspace, const QString& tab, QWidget* parent)
    : QDialog(parent), workspace_(workspace) {
  setObjectName("stagesDialog");
  setWindowTitle(tr("Stages and quantities"));
  resize(820, 380);
  auto* layout = new QVBoxLayout(this);
  tabs_ = new QTabWidget(this);
  layout->addWidget(tabs_, 1);
  lists_ = {strips(), undercuts(), buildUps(), regions(), materials(), accuracy()};
  for (const List& list : lists_) addTab(list);
  for (std::size_t i = 0; i < lists_.size(); ++i) {
    if (lists_[i].id == tab) tabs_->setCurrentIndex(static_cast<int>(i));
  }
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  layout->addWidget(buttons);
}

void StagesDialog::addTab(const List& list) {
  auto* page = new QWidget(this);
  auto* layout = new QVBoxLayout(page);
  auto* says = new QLabel(list.says, page);
  says->setProperty("quiet", true);
  says->setWordWrap(true);
  layout->addWidget(says);
  auto* table = new QTableWidget(page);
  table->setObjectName(list.id);
  table->setColumnCount(static_cast<int>(list.headings.size()));
  table->setHorizontalHeaderLabels(list.headings);
  table->verticalHeader()->hide();
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  if (workspace_.readOnly()) table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  layout->addWidget(table, 1);
  auto* row = new QHBoxLayout;
  if (list.add) {
    auto* add = new QPushButton(tr("Add"), page);
    add->setObjectName(list.id + "Add");
    row->addWidget(add);
    connect(add, &QPushButton::clicked, this, [this, list, table] {
      change(list.add, tr("add to %1").arg(list.title.toLower()));
      fill(*table, list);
    });
  }
  auto* remove = new QPushButton(tr("Remove"), page);
  remove->setObjectName(list.id + "Remove");
  row->addWidget(remove);
  if (list.more) {
    auto* more = new QPushButton(list.moreText, page);
    more->setObjectName(list.id + "More");
    row->addWidget(more);
    connect(more, &QPushButton::clicked, this, [this, list, table] {
      const int at = table->currentRow() >= 0 ? table->currentRow() : table->rowCount() - 1;
      if (at < 0) return;
      change([&](Stages& s) { list.more(s, static_cast<std::size_t>(at)); }, tr("change %1").arg(list.title.toLower()));
      fill(*table, list);
    });
  }
  row->addStretch();
  layout->addLayout(row);
  connect(remove, &QPushButton::clicked, this, [this, list, table] {
    const int at = table->currentRow();
    if (at < 0) return;
    change([&](Stages& s) { list.remove(s, static_cast<std::size_t>(at)); },
           tr("remove from %1").arg(list.title.toLower()));
    fill(*table, list);
  });
  connect(table, &QTableWidget::cellChanged, this, [this, list, table](int r, int c) {
    const std::string typed = table->item(r, c)->text().trimmed().toStdString();
    try {
      change([&](Stages& s) { list.take(s, static_cast<std::size_t>(r), c, typed); },
             tr("change %1").arg(list.title.toLower()));
    } catch (const Error& e) {
      Q_EMIT workspace_.message(QString::fromUtf8(e.what()), true);
    }
    fill(*table, list);
  });
  tabs_->addTab(page, list.title);
  fill(*table, list);
}

void StagesDialog::fill(QTableWidget& table, const List& list) {
  const QSignalBlocker quiet(&table);
  const auto rows = list.rows(workspace_.project()->stages);
  table.setRowCount(static_cast<int>(rows.size()));
  for (int r = 0; r < table.rowCount(); ++r) {
    for (int c = 0; c < table.columnCount(); ++c)
      table.setItem(r, c, new QTableWidgetItem(rows[static_cast<std::size_t>(r)].value(c)));
  }
  table.resizeColumnsToContents();
  table.horizontalHeader()->setStretchLastSection(true);
}

void StagesDialog::change(const std::function<void(Stages&)>& edit, const QString& what) {
  if (workspace_.readOnly()) return;
  Stages stages = workspace_.project()->stages;
  edit(stages);
  if (!(stages == workspace_.project()->stages))
    workspace_.commit(project::withStages(*workspace_.project(), std::move(stages)), what);
}

}  // namespace inselberg::app
