#include "card/sections_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

#include "base/error.h"
#include "card/section_drawing.h"
#include "card/section_library.h"
#include "works/leg_handles.h"
#include "workspace/lengths.h"

namespace inselberg::app {

SectionsDialog::SectionsDialog(Workspace& workspace, QWidget* parent) : QDialog(parent), workspace_(workspace) {
  setWindowTitle(tr("Typical sections"));
  auto* all = new QVBoxLayout(this);
  auto* columns = new QHBoxLayout;
  all->addLayout(columns);
  auto* left = new QVBoxLayout;
  columns->addLayout(left);
  list_ = new QListWidget(this);
  list_->setObjectName("sectionList");
  list_->setFixedWidth(160);
  left->addWidget(list_);
  auto* add = new QPushButton(tr("New"), this);
  add->setObjectName("sectionNew");
  remove_ = new QPushButton(tr("Remove"), this);
  remove_->setObjectName("sectionRemove");
  remove_->setToolTip(tr("Works that use it keep its legs"));
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(add);
  buttons->addWidget(remove_);
  left->addLayout(buttons);
  keep_ = new QPushButton(tr("Keep in my library"), this);
  keep_->setObjectName("sectionKeep");
  keep_->setToolTip(tr("For other projects too; in place of the one of its name there"));
  left->addWidget(keep_);
  take_ = new QPushButton(tr("From my library…"), this);
  take_->setObjectName("sectionTake");
  left->addWidget(take_);
  connect(keep_, &QPushButton::clicked, this, &SectionsDialog::keepInLibrary);
  connect(take_, &QPushButton::clicked, this, &SectionsDialog::offerLibrary);
  auto* form = new QFormLayout;
  columns->addLayout(form, 1);
  name_ = new QLineEdit(this);
  name_->setObjectName("sectionName");
  form->addRow(tr("Name"), name_);
  drawing_ = new SectionDrawing(this);
  form->addRow(drawing_);
  auto* hint = new QLabel(tr("Drag the ends of legs; click beyond the last to add one; Delete takes one out."), this);
  hint->setProperty("quiet", true);
  form->addRow(hint);
  legs_ = new QLineEdit(this);
  legs_->setObjectName("sectionLegs");
  legs_->setMinimumWidth(420);
  form->addRow(tr("Legs"), legs_);
  wrong_ = new QLabel(this);
  wrong_->setProperty("alarm", true);
  wrong_->setWordWrap(true);
  form->addRow(wrong_);
  users_ = new QLabel(this);
  users_->setObjectName("sectionUsers");
  users_->setWordWrap(true);
  form->addRow(tr("Used by"), users_);
  auto* box = new QDialogButtonBox(QDialogButtonBox::Close, this);
  connect(box, &QDialogButtonBox::rejected, this, &QDialog::reject);
  all->addWidget(box);
  connect(add, &QPushButton::clicked, this, &SectionsDialog::add);
  connect(remove_, &QPushButton::clicked, this, &SectionsDialog::remove);
  connect(list_, &QListWidget::currentRowChanged, this, [this] { show(chosen()); });
  connect(name_, &QLineEdit::editingFinished, this, &SectionsDialog::rename);
  connect(legs_, &QLineEdit::editingFinished, this, &SectionsDialog::takeText);
  connect(drawing_, &SectionDrawing::dragged, this, [this] {
    legs_->setText(
        QString::fromStdString(works::shown(works::NamedOrLegs{{}, drawing_->section()}, lengths::inMetres())));
  });
  connect(drawing_, &SectionDrawing::released, this, &SectionsDialog::takeDrawing);
  refresh({});
}

std::string SectionsDialog::chosen() const {
  return list_->currentItem() ? list_->currentItem()->text().toStdString() : std::string();
}

void SectionsDialog::refresh(const std::string& choose) {
  const QSignalBlocker quiet(list_);
  list_->clear();
  for (const auto& s : workspace_.project()->sections) {
    list_->addItem(QString::fromStdString(s.name));
    if (s.name == choose) list_->setCurrentRow(list_->count() - 1);
  }
  if (!list_->currentItem() && list_->count() > 0) list_->setCurrentRow(0);
  show(chosen());
}

void SectionsDialog::show(const std::string& name) {
  const works::Section* legs = project::sectionNamed(*workspace_.project(), name);
  for (QWidget* w : std::initializer_list<QWidget*>{name_, legs_, drawing_, remove_, keep_}) w->setEnabled(legs);
  name_->setText(QString::fromStdString(name));
  wrong_->clear();
  legs_->setText(legs ? QString::fromStdString(works::shown(works::NamedOrLegs{{}, *legs}, lengths::inMetres()))
                      : QString());
  drawing_->setSection(legs ? *legs : works::Section());
  showGround(name);
  QStringList users;
  for (const std::string& user : project::usersOfSection(*workspace_.project(), name))
    users += QString::fromStdString(user);
  users_->setText(!legs             ? tr("There is no section yet. New makes one.")
                  : users.isEmpty() ? tr("no works; type its name where a works asks for a section")
                                    : users.join(", "));
}

namespace {

// Out from where a leg begins, and a little inwards: how high the ground lies above it.
std::vector<QPolygonF> groundBeside(const works::LegHandle& leg, const ground::Tin& under) {
  constexpr double kInwards = 3, kOut = 60, kStep = 0.25;  // m
  const plane::Vec2 way = plane::unit(leg.at - leg.inner);
  std::vector<QPolygonF> lines;
  bool goesOn = false;
  for (double out = -kInwards; out <= kOut; out += kStep) {
    const auto level = under.levelAt(leg.inner + out * way);
    if (level && !goesOn) lines.emplace_back();
    if (level) lines.back() << QPointF(out, *level - leg.level);
    goesOn = level.has_value();
  }
  return lines;
}

}  // namespace

void SectionsDialog::showGround(const std::string& name) {
  const project::Project& project = *workspace_.project();
  const auto uses = [&](const works::Value& value) {
    const auto* along = std::get_if<works::SectionsAlong>(&value);
    return along && !along->empty() && along->front().section.name == name;
  };
  std::vector<const project::PlacedWorks*> placed;
  for (const auto& ground : workspace_.evaluation()->grounds) {
    for (const auto& works : ground.works) {
      const bool chosen = works.works->id == workspace_.chosenWorks();
      placed.insert(chosen ? placed.begin() : placed.end(), &works);
    }
  }
  for (const project::PlacedWorks* works : placed) {
    if (!works->under || name.empty()) continue;
    try {
      const works::Shape& shape = works->works->shape;
      for (const works::LegHandle& leg :
           works::legHandlesOf(project::withSectionsOf(project, shape), *works->placement, *works->under)) {
        if (leg.leg == 0 && uses(shape.get(leg.field)))
          return drawing_->setGround(groundBeside(leg, *works->under),
                                     tr("ground beside %1").arg(QString::fromStdString(works->works->name)));
      }
    } catch (const Error&) {  // a section that it names is gone
    }
  }
  drawing_->setGround({}, {});
}

void SectionsDialog::add() {
  std::string name;
  for (int i = 1; name.empty() || project::sectionNamed(*workspace_.project(), name); ++i)
    name = tr("section %1").arg(i).toStdString();
  const works::Section legs = works::parsedSection("out 1 at 2 %; to ground 2:1").legs;
  workspace_.commit(project::withSection(*workspace_.project(), name, legs), tr("new section"));
  refresh(name);
  name_->setFocus();
  name_->selectAll();
}

void SectionsDialog::remove() {
  const std::string name = chosen();
  if (name.empty()) return;
  workspace_.commit(project::withoutSection(*workspace_.project(), name),
                    tr("remove the section %1").arg(QString::fromStdString(name)));
  refresh({});
}

void SectionsDialog::rename() {
  const std::string from = chosen(), to = name_->text().trimmed().toStdString();
  if (from.empty() || to == from) return;
  bool legs = false;
  try {
    legs = works::parsedSection(to).name != to;
  } catch (const Error&) {
    legs = true;
  }
  if (legs || project::sectionNamed(*workspace_.project(), to)) {
    wrong_->setText(legs ? tr("A name must not be empty, \"wall\", or read like a leg.")
                         : tr("Another section has this name."));
    name_->setText(QString::fromStdString(from));
    return;
  }
  workspace_.commit(project::withSectionNamed(*workspace_.project(), from, to),
                    tr("rename the section %1").arg(QString::fromStdString(from)));
  refresh(to);
}

void SectionsDialog::takeText() {
  if (!legs_->isModified()) return;
  try {
    const works::NamedOrLegs typed = works::parsedSection(legs_->text().toStdString(), lengths::inMetres());
    if (!typed.name.empty())
      throw Error("\"" + typed.name + "\" is no leg", "write legs, like \"out 1; to ground 2:1\"");
    change(typed.legs);
  } catch (const Error& e) {
    wrong_->setText(QString::fromUtf8(e.what()));
  }
}

void SectionsDialog::takeDrawing() {
  change(drawing_->section());
}

void SectionsDialog::change(const works::Section& legs) {
  const std::string name = chosen();
  const works::Section* now = project::sectionNamed(*workspace_.project(), name);
  if (!now || *now == legs) return;
  workspace_.commit(project::withSection(*workspace_.project(), name, legs),
                    tr("change the section %1").arg(QString::fromStdString(name)));
  show(name);
}

void SectionsDialog::keepInLibrary() {
  const std::string name = chosen();
  const works::Section* legs = project::sectionNamed(*workspace_.project(), name);
  if (!legs) return;
  try {
    keepSection({name, *legs});
    Q_EMIT workspace_.message(tr("%1 is in your library.").arg(QString::fromStdString(name)), false);
  } catch (const Error& e) {
    wrong_->setText(QString::fromUtf8(e.what()));
  }
}

void SectionsDialog::offerLibrary() {
  QMenu menu(take_);
  menu.setObjectName("library");
  try {
    for (const works::NamedSection& s : userSections()) {
      connect(menu.addAction(QString::fromStdString(s.name)), &QAction::triggered, this, [this, s] {
        workspace_.commit(project::withSection(*workspace_.project(), s.name, s.legs),
                          tr("take the section %1").arg(QString::fromStdString(s.name)));
        refresh(s.name);
      });
    }
  } catch (const Error& e) {
    wrong_->setText(QString::fromUtf8(e.what()));
    return;
  }
  if (menu.isEmpty()) menu.addAction(tr("It is empty: keep a section in it first"))->setEnabled(false);
  menu.exec(take_->mapToGlobal(QPoint(0, take_->height())));
}

}  // namespace inselberg::app
