#include "card/sections_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>
#include <limits>

#include "base/error.h"
#include "card/section_drawing.h"
#include "card/section_library.h"
#include "works/leg_handles.h"
#include "workspace/lengths.h"

namespace inselberg::app {

SectionsDialog::SectionsDialog(Workspace& workspace, ViewState& state, QWidget* parent)
    : QDialog(parent), workspace_(workspace), state_(state) {
  setWindowTitle(tr("Typical sections"));
  setObjectName("sectionsDialog");
  auto* all = new QVBoxLayout(this);
  auto* columns = new QHBoxLayout;
  all->addLayout(columns);
  auto* left = new QVBoxLayout;
  columns->addLayout(left);
  list_ = new QListWidget(this);
  list_->setObjectName("sectionList");
  list_->setFixedWidth(160);
  left->addWidget(list_);
  add_ = new QPushButton(tr("New"), this);
  add_->setObjectName("sectionNew");
  remove_ = new QPushButton(tr("Remove"), this);
  remove_->setObjectName("sectionRemove");
  remove_->setToolTip(tr("Works that use it keep its legs"));
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(add_);
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
  auto* hint = new QLabel(tr("Drag the ends of legs, or type over their numbers; click beyond the last to add one; "
                             "Delete takes one out. The pointer on the plan shows the ground there."),
                          this);
  hint->setProperty("quiet", true);
  hint->setWordWrap(true);
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
  // Return in a line is its own.
  for (QPushButton* button : findChildren<QPushButton*>()) button->setAutoDefault(false);
  connect(add_, &QPushButton::clicked, this, &SectionsDialog::add);
  connect(remove_, &QPushButton::clicked, this, &SectionsDialog::remove);
  connect(list_, &QListWidget::currentRowChanged, this, [this] { showSection(chosen()); });
  connect(name_, &QLineEdit::editingFinished, this, &SectionsDialog::rename);
  connect(legs_, &QLineEdit::editingFinished, this, &SectionsDialog::takeText);
  connect(drawing_, &SectionDrawing::dragged, this, [this] {
    workspace_.setTransient(project::withSection(*workspace_.project(), chosen(), drawing_->section()));
  });
  connect(drawing_, &SectionDrawing::released, this, &SectionsDialog::takeDrawing);
  connect(drawing_, &SectionDrawing::givenUp, &workspace_, &Workspace::dropTransient);
  connect(drawing_, &SectionDrawing::mistyped, wrong_, &QLabel::setText);
  connectToWindow();
}

void SectionsDialog::connectToWindow() {
  connect(&workspace_, &Workspace::projectChanged, this, [this] {
    if (isVisible()) follow();
  });
  for (const auto signal : {&Workspace::evaluationChanged, &Workspace::selectionChanged}) {
    connect(&workspace_, signal, this, [this] {
      if (isVisible()) showGround(chosen());
    });
  }
  connect(new QShortcut(QKeySequence::Undo, this), &QShortcut::activated, &workspace_, &Workspace::undo);
  connect(new QShortcut(QKeySequence::Redo, this), &QShortcut::activated, &workspace_, &Workspace::redo);
  connect(&state_, &ViewState::pointed, this, [this] {
    if (!state_.pointer() || !isVisible()) return;
    near_ = state_.pointer();
    showGround(chosen());
  });
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
  showSection(chosen());
}

void SectionsDialog::showSection(const std::string& name) {
  const works::Section* legs = project::sectionNamed(*workspace_.project(), name);
  const bool free = !workspace_.readOnly();
  for (QWidget* w : std::initializer_list<QWidget*>{name_, legs_, drawing_, remove_}) w->setEnabled(legs && free);
  for (QWidget* w : {add_, take_}) w->setEnabled(free);
  keep_->setEnabled(legs);
  name_->setText(QString::fromStdString(name));
  wrong_->clear();
  legs_->setText(legs ? QString::fromStdString(works::shown(works::NamedOrLegs{{}, *legs}, lengths::inMetres()))
                      : QString());
  drawing_->setSection(legs ? *legs : works::Section());
  showGround(name);
  QStringList users;
  for (const project::WorksPtr& user : project::usersOfSection(*workspace_.project(), name))
    users += QString::fromStdString(user->name);
  users_->setText(!legs             ? tr("There is no section yet. New makes one.")
                  : users.isEmpty() ? tr("no works; type its name where a works asks for a section")
                                    : users.join(", "));
}

namespace {

// Out from where a section begins, and a little inwards: how high the ground lies above it.
std::vector<QPolygonF> groundBeside(const works::SectionStart& start, const ground::Tin& under) {
  constexpr double kInwards = 3, kOut = 60, kStep = 0.25;  // m
  std::vector<QPolygonF> lines;
  bool goesOn = false;
  for (double out = -kInwards; out <= kOut; out += kStep) {
    const auto level = under.levelAt(start.at + out * start.out);
    if (level && !goesOn) lines.emplace_back();
    if (level) lines.back() << QPointF(out, *level - start.level);
    goesOn = level.has_value();
  }
  return lines;
}

// Whether a field of sections along a crest holds one of this name.
bool names(const works::Value& value, const std::string& name) {
  const auto& along = std::get<works::SectionsAlong>(value);
  return std::any_of(along.begin(), along.end(), [&](const auto& at) { return at.section.name == name; });
}

}  // namespace

void SectionsDialog::showGround(const std::string& name) {
  const project::Project& project = *workspace_.project();
  const project::PlacedWorks* beside = nullptr;
  std::optional<works::SectionStart> start;
  double least = std::numeric_limits<double>::infinity();
  if (name.empty()) return drawing_->setGround({}, {});
  for (const project::WorksPtr& user : project::usersOfSection(project, name)) {
    const auto* placed = workspace_.evaluation()->works(user->id);
    if (!placed || !placed->under) continue;
    try {
      const works::Shape& shape = placed->works->shape;
      const auto starts =
          works::sectionStarts(project::withSectionsOf(project, shape), *placed->placement, *placed->under, near_);
      const auto isOf = [&](const works::SectionStart& s) { return names(shape.get(s.field), name); };
      // Else it is one of an edge's own.
      const bool along = std::any_of(starts.begin(), starts.end(), isOf);
      for (const works::SectionStart& s : starts) {
        if (along && !isOf(s)) continue;
        const double cost = near_ ? plane::distance(*near_, s.at) : user->id == workspace_.chosenWorks() ? 0 : 1;
        if (cost < least) least = cost, beside = placed, start = s;
      }
    } catch (const Error&) {  // a section that it names is gone
    }
  }
  if (!start) return drawing_->setGround({}, {});
  drawing_->setGround(groundBeside(*start, *beside->under),
                      tr("ground beside %1").arg(QString::fromStdString(beside->works->name)));
}

void SectionsDialog::showEvent(QShowEvent* event) {
  QDialog::showEvent(event);
  // Beside the plan rather than over it.
  const QWidget* window = parentWidget();
  move(window->mapToGlobal(QPoint(window->width() - width() - 12, window->height() - height() - 44)));
  near_ = state_.pointer();
  refresh(chosen());
}

void SectionsDialog::follow() {
  QStringList listed, there;
  for (int i = 0; i < list_->count(); ++i) listed += list_->item(i)->text();
  for (const auto& s : workspace_.project()->sections) there += QString::fromStdString(s.name);
  if (listed != there) return refresh(chosen());
  const bool typing = (name_->hasFocus() && name_->isModified()) || (legs_->hasFocus() && legs_->isModified());
  if (!typing) showSection(chosen());
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
  legs_->setModified(false);
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
  const works::Section* kept = project::sectionNamed(*workspace_.history().now(), name);
  if (!kept || *kept == legs) return workspace_.dropTransient();
  workspace_.setTransient(project::withSection(*workspace_.project(), name, legs));
  workspace_.commitTransient(tr("change the section %1").arg(QString::fromStdString(name)));
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
