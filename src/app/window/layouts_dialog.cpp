#include "window/layouts_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/error.h"
#include "card/quantity_edit.h"
#include "report/layout_page.h"
#include "theme/theme.h"
#include "window/drawing_scale.h"
#include "window/layout_preview.h"
#include "window/print_pages.h"

namespace inselberg::app {

LayoutsDialog::LayoutsDialog(Workspace& workspace, Now now, QWidget* parent)
    : QDialog(parent), workspace_(workspace), now_(std::move(now)), worker_([this](const std::string& what) {
        QMetaObject::invokeMethod(this, [this, what] { preview_->say(QString::fromStdString(what)); });
      }) {
  setObjectName("layoutsDialog");
  setWindowTitle(tr("Layouts"));
  resize(1180, 720);
  auto* all = new QVBoxLayout(this);
  auto* parts = new QHBoxLayout;
  parts->addWidget(makeList());
  parts->addWidget(makeForm());
  preview_ = new LayoutPreview(this);
  parts->addWidget(preview_, 1);
  all->addLayout(parts, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  const auto button = [&](const char* name, const QString& text) {
    auto* made = buttons->addButton(text, QDialogButtonBox::ActionRole);
    made->setObjectName(name);
    made->setAutoDefault(false);
    return made;
  };
  print_ = button("layoutPrint", tr("Print…"));
  write_ = button("layoutWrite", tr("Write…"));
  writeAll_ = button("layoutWriteAll", tr("Write all…"));
  all->addWidget(buttons);
  connect(print_, &QPushButton::clicked, this, &LayoutsDialog::print);
  connect(write_, &QPushButton::clicked, this, [this] { write(false); });
  connect(writeAll_, &QPushButton::clicked, this, [this] { write(true); });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(list_, &QListWidget::currentRowChanged, this, [this] { showMarked(); });
  connect(&workspace_, &Workspace::projectChanged, this, [this] { refresh(); });
  connect(&workspace_, &Workspace::evaluationChanged, this, [this] { preview(); });
  connect(preview_, &LayoutPreview::planMoved, this, [this](plane::Vec2 by) {
    const project::Layout* layout = marked();
    if (!layout || workspace_.readOnly()) return;
    const auto frame = report::frameOf(*workspace_.evaluation(), *layout);
    alter(tr("move the plan on a layout"),
          [&](project::Layout& l) { l.centre = frame.centre - (frame.scale / 1000) * by; });
  });
  refresh();
}

LayoutsDialog::~LayoutsDialog() = default;

QWidget* LayoutsDialog::makeList() {
  auto* left = new QWidget(this);
  left->setFixedWidth(170);
  auto* column = new QVBoxLayout(left);
  column->setContentsMargins(0, 0, 0, 0);
  list_ = new QListWidget(left);
  list_->setObjectName("layoutList");
  list_->setAccessibleName(tr("Layouts"));
  column->addWidget(list_, 1);
  const auto button = [&](const char* name, const QString& text, auto run) {
    auto* made = new QPushButton(text, left);
    made->setObjectName(name);
    made->setAutoDefault(false);
    column->addWidget(made);
    connect(made, &QPushButton::clicked, this, run);
    return made;
  };
  auto* add = button("layoutAdd", tr("New"), [this] {
    auto layouts = workspace_.project()->layouts;
    layouts.push_back(report::startedLayout(*workspace_.project()));
    commit(std::move(layouts), tr("make a layout"), static_cast<int>(workspace_.project()->layouts.size()));
  });
  add->setEnabled(!workspace_.readOnly());
  copy_ = button("layoutCopy", tr("Copy"), [this] {
    auto layouts = workspace_.project()->layouts;
    project::Layout copy = *marked();
    copy.name = report::startedLayout(*workspace_.project()).name;
    const int at = list_->currentRow() + 1;
    layouts.insert(layouts.begin() + at, std::move(copy));
    commit(std::move(layouts), tr("copy a layout"), at);
  });
  remove_ = button("layoutRemove", tr("Remove"), [this] {
    auto layouts = workspace_.project()->layouts;
    const int at = list_->currentRow();
    layouts.erase(layouts.begin() + at);
    commit(std::move(layouts), tr("remove a layout"), std::max(0, at - 1));
  });
  return left;
}

QWidget* LayoutsDialog::makeForm() {
  auto* scroll = new QScrollArea(this);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidgetResizable(true);
  scroll->setFixedWidth(300);
  auto* inner = new QWidget(scroll);
  auto* form = new QFormLayout(inner);
  form->setContentsMargins(6, 0, 6, 0);
  makePaper(*form, inner);
  makeContent(*form, inner);
  fields_ = new QTableWidget(0, 2, inner);
  fields_->setObjectName("layoutFields");
  fields_->setAccessibleName(tr("Fields of the title block"));
  fields_->setHorizontalHeaderLabels({tr("Title block"), tr("says")});
  fields_->verticalHeader()->hide();
  fields_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  fields_->setMinimumHeight(210);
  form->addRow(fields_);
  connect(fields_, &QTableWidget::itemChanged, this, [this] { takeFields(); });
  says_ = new QLabel(inner);
  says_->setObjectName("layoutSays");
  says_->setWordWrap(true);
  form->addRow(says_);
  scroll->setWidget(inner);
  // On the dialog's own paper.
  scroll->viewport()->setAutoFillBackground(false);
  inner->setAutoFillBackground(false);
  return scroll;
}

void LayoutsDialog::makePaper(QFormLayout& form, QWidget* parent) {
  name_ = new QLineEdit(parent);
  name_->setObjectName("layoutName");
  form.addRow(tr("Name"), name_);
  connect(name_, &QLineEdit::editingFinished, this, &LayoutsDialog::rename);
  paper_ = new QComboBox(parent);
  paper_->setObjectName("layoutPaper");
  for (const drawing::Paper& paper : drawing::kPapers) paper_->addItem(paper.name);
  upright_ = new QCheckBox(tr("upright"), parent);
  upright_->setObjectName("layoutUpright");
  auto* paper = new QHBoxLayout;
  paper->addWidget(paper_, 1);
  paper->addWidget(upright_);
  form.addRow(tr("Paper"), paper);
  connect(paper_, &QComboBox::activated, this, [this](int at) {
    alter(tr("change the paper"), [&](project::Layout& l) { l.paper = static_cast<std::size_t>(at); });
  });
  connect(upright_, &QCheckBox::toggled, this,
          [this](bool on) { alter(tr("turn the paper"), [&](project::Layout& l) { l.upright = on; }); });
  ground_ = new QComboBox(parent);
  ground_->setObjectName("layoutGround");
  form.addRow(tr("Ground"), ground_);
  connect(ground_, &QComboBox::activated, this, [this](int at) {
    const GroundId id{ground_->itemData(at).toULongLong()};
    alter(tr("show another ground"), [&](project::Layout& l) { l.ground = id; });
  });
  scale_ = new QComboBox(parent);
  scale_->setObjectName("layoutScale");
  scale_->setEditable(true);
  scale_->setInsertPolicy(QComboBox::NoInsert);
  scale_->addItem(tr("as fits"));
  for (const double scale : drawingScales()) scale_->addItem(scaleText(scale));
  form.addRow(tr("Scale"), scale_);
  const auto takeScale = [this] {
    const QString text = scale_->currentText();
    const auto scale = text == scale_->itemText(0) ? std::optional(0.0) : scaleFrom(text);
    if (!scale) return says_->setText(noScaleText(text));
    alter(tr("change the scale of a layout"), [&](project::Layout& l) { l.scale = *scale; });
  };
  connect(scale_, &QComboBox::activated, this, takeScale);
  connect(scale_->lineEdit(), &QLineEdit::editingFinished, this, takeScale);
  centre_ = new QPushButton(tr("Centre on what the plan shows"), parent);
  centre_->setObjectName("layoutCentre");
  centre_->setAutoDefault(false);
  form.addRow(centre_);
  connect(centre_, &QPushButton::clicked, this,
          [this] { alter(tr("move the plan on a layout"), [&](project::Layout& l) { l.centre = now_.centre; }); });
}

void LayoutsDialog::makeContent(QFormLayout& form, QWidget* parent) {
  const auto number = [&](const char* name, const QString& label, const QString& what, double project::Layout::*member,
                          const char* meaning) {
    works::Field field;
    field.measure = works::Measure::length, field.least = 0, field.most = 1000, field.step = 0.5;
    field.meaning = meaning;
    auto* edit = new QuantityEdit(std::move(field), parent);
    edit->setObjectName(name);
    form.addRow(label, edit);
    connect(edit, &QuantityEdit::edited, this,
            [this, what, member](double value) { alter(what, [&](project::Layout& l) { l.*member = value; }); });
    connect(edit, &QuantityEdit::refused, this, [this](const QString& why) { says_->setText(why); });
    return edit;
  };
  interval_ = number("layoutInterval", tr("Contours every"), tr("change the contours of a layout"),
                     &project::Layout::interval, "0: as the relief of the ground suggests.");
  depths_ = number("layoutDepths", tr("Depths every"), tr("change the depths of a layout"), &project::Layout::depths,
                   "Cut and fill written so far apart; 0: not at all.");
  const auto check = [&](const char* name, const QString& text, bool project::Layout::*member) {
    auto* box = new QCheckBox(text, parent);
    box->setObjectName(name);
    form.addRow(box);
    connect(box, &QCheckBox::toggled, this, [this, member](bool on) {
      alter(tr("change what a layout shows"), [&](project::Layout& l) { l.*member = on; });
    });
    return box;
  };
  shade_ = check("layoutShade", tr("Cut and fill in colours"), &project::Layout::shade);
  sheets_ = check("layoutSheets", tr("Plan sheets beneath"), &project::Layout::sheets);
  grid_ = check("layoutGrid", tr("Grid of coordinates"), &project::Layout::grid);
  legend_ = check("layoutLegend", tr("Legend"), &project::Layout::legend);
  figures_ = check("layoutFigures", tr("Quantities"), &project::Layout::figures);
  section_ = new QComboBox(parent);
  section_->setObjectName("layoutSection");
  form.addRow(tr("Section"), section_);
  connect(section_, &QComboBox::activated, this, [this](int row) {
    const auto i = static_cast<std::size_t>(row);
    if (i >= sections_.size()) return;
    alter(tr("change the section of a layout"), [&](project::Layout& l) { l.section = sections_[i]; });
  });
}

// None, the kept lines, the one on show, and the layout's own where it is none of these.
void LayoutsDialog::listSections(const project::Layout& layout) {
  section_->clear(), sections_.clear();
  const auto offer = [&](const QString& name, const std::vector<plane::Vec2>& line) {
    if (std::find(sections_.begin(), sections_.end(), line) != sections_.end()) return;
    section_->addItem(name);
    sections_.push_back(line);
  };
  offer(tr("None"), {});
  for (const project::SectionLine& kept : workspace_.project()->sectionLines)
    offer(QString::fromStdString(kept.name), kept.line);
  if (now_.section.size() > 1) offer(tr("Along the line of now"), now_.section);
  offer(tr("Along a line of its own"), layout.section);
  section_->setCurrentIndex(
      static_cast<int>(std::find(sections_.begin(), sections_.end(), layout.section) - sections_.begin()));
}

const project::Layout* LayoutsDialog::marked() const {
  const auto& layouts = workspace_.project()->layouts;
  const auto row = static_cast<std::size_t>(list_->currentRow());
  return row < layouts.size() ? &layouts[row] : nullptr;
}

void LayoutsDialog::commit(std::vector<project::Layout> layouts, const QString& what, int mark) {
  workspace_.commit(project::withLayouts(*workspace_.project(), std::move(layouts)), what);
  list_->setCurrentRow(mark);
}

void LayoutsDialog::alter(const QString& what, const std::function<void(project::Layout&)>& change) {
  if (refreshing_ || !marked()) return;
  auto layouts = workspace_.project()->layouts;
  project::Layout& layout = layouts[static_cast<std::size_t>(list_->currentRow())];
  change(layout);
  if (layout != *marked()) commit(std::move(layouts), what, list_->currentRow());
}

void LayoutsDialog::rename() {
  const std::string name = name_->text().trimmed().toStdString();
  if (refreshing_ || !marked() || name == marked()->name) return;
  const auto& layouts = workspace_.project()->layouts;
  const bool taken =
      std::any_of(layouts.begin(), layouts.end(), [&](const project::Layout& l) { return l.name == name; });
  if (name.empty() || taken) {
    showMarked();
    says_->setText(name.empty() ? tr("A layout needs a name.") : tr("Another layout has that name."));
    return;
  }
  alter(tr("rename a layout"), [&](project::Layout& l) { l.name = name; });
}

// What is typed into the last row, which is empty, becomes a field; one without name or text goes.
void LayoutsDialog::takeFields() {
  std::vector<project::LayoutField> fields;
  for (int row = 0; row < fields_->rowCount(); ++row) {
    const auto cell = [&](int column) {
      const QTableWidgetItem* item = fields_->item(row, column);
      return item ? item->text().trimmed().toStdString() : std::string();
    };
    if (!cell(0).empty() || !cell(1).empty()) fields.push_back({cell(0), cell(1)});
  }
  if (refreshing_) return;
  if (fields.size() > project::kMostLayoutFields) fields.resize(project::kMostLayoutFields);
  // Not while the table is still closing its editor.
  QMetaObject::invokeMethod(
      this, [this, fields] { alter(tr("fill in the title block"), [&](project::Layout& l) { l.fields = fields; }); },
      Qt::QueuedConnection);
}

void LayoutsDialog::refresh() {
  refreshing_ = true;
  const int row = std::max(0, list_->currentRow());
  list_->clear();
  for (const project::Layout& layout : workspace_.project()->layouts)
    list_->addItem(QString::fromStdString(layout.name));
  list_->setCurrentRow(std::min(row, list_->count() - 1));
  refreshing_ = false;
  showMarked();
}

void LayoutsDialog::showMarked() {
  if (refreshing_) return;
  refreshing_ = true;
  const project::Layout none, *layout = marked();
  const bool may = layout && !workspace_.readOnly();
  for (QWidget* w :
       std::initializer_list<QWidget*>{copy_, remove_, name_, paper_, upright_, ground_, scale_, centre_, interval_,
                                       depths_, shade_, sheets_, grid_, legend_, figures_, fields_})
    w->setEnabled(may);
  for (QPushButton* b : {print_, write_, writeAll_}) b->setEnabled(layout != nullptr);
  const project::Layout& l = layout ? *layout : none;
  listSections(l);
  section_->setEnabled(may && section_->count() > 1);
  section_->setToolTip(section_->count() > 1 ? QString() : tr("Draw a section on the plan first (X)."));
  name_->setText(QString::fromStdString(l.name));
  paper_->setCurrentIndex(static_cast<int>(l.paper));
  upright_->setChecked(l.upright);
  ground_->clear();
  for (const project::GroundPtr& g : workspace_.project()->column)
    ground_->addItem(QString::fromStdString(g->name), QVariant::fromValue<qulonglong>(g->id.value));
  const GroundId shown = workspace_.project()->ground(l.ground) ? l.ground : workspace_.project()->finished();
  ground_->setCurrentIndex(ground_->findData(QVariant::fromValue<qulonglong>(shown.value)));
  scale_->setCurrentText(l.scale > 0 ? scaleText(l.scale) : scale_->itemText(0));
  interval_->setValue(l.interval);
  depths_->setValue(l.depths);
  shade_->setChecked(l.shade);
  sheets_->setChecked(l.sheets);
  grid_->setChecked(l.grid);
  legend_->setChecked(l.legend);
  figures_->setChecked(l.figures);
  const bool more = layout && l.fields.size() < project::kMostLayoutFields;
  fields_->setRowCount(static_cast<int>(l.fields.size()) + (more ? 1 : 0));
  for (int row = 0; row < fields_->rowCount(); ++row) {
    const auto i = static_cast<std::size_t>(row);
    const project::LayoutField field = i < l.fields.size() ? l.fields[i] : project::LayoutField{};
    fields_->setItem(row, 0, new QTableWidgetItem(QString::fromStdString(field.name)));
    fields_->setItem(row, 1, new QTableWidgetItem(QString::fromStdString(field.text)));
  }
  says_->setText(layout ? tr("Drag the plan on the sheet to where it should be.") : QString());
  refreshing_ = false;
  preview();
}

void LayoutsDialog::preview() {
  if (refreshing_) return;
  ++asked_;
  const project::Layout* layout = marked();
  if (!layout)
    return preview_->say(
        tr("No layout yet. New makes a sheet of the finished ground with title block, legend and quantities."));
  const project::EvaluationPtr evaluation = workspace_.evaluation();
  worker_.post([this, evaluation, layout = *layout, number = asked_](const Worker::Token& token) {
    const Progress progress([&] { return token.superseded() || token.leaving(); });
    drawing::Page page = report::layoutPage(*evaluation, layout, progress);
    const plane::Box frame = report::frameOf(*evaluation, layout).at;
    QMetaObject::invokeMethod(this, [this, page = std::move(page), frame, number]() mutable {
      if (number == asked_) preview_->showPage(std::move(page), frame);
    });
  });
}

std::vector<drawing::Page> LayoutsDialog::pagesOf(const std::vector<project::Layout>& layouts) {
  // The one of now: the window goes on evaluating meanwhile.
  const project::EvaluationPtr evaluation = workspace_.evaluation();
  std::vector<drawing::Page> pages;
  try {
    workspace_.doLong(tr("Laying out"), [&](const Progress& progress) {
      for (const project::Layout& layout : layouts) pages.push_back(report::layoutPage(*evaluation, layout, progress));
    });
  } catch (const Cancelled&) {
    pages.clear();
  } catch (const Error& e) {
    says_->setText(QString::fromStdString(e.what()));
    pages.clear();
  }
  return pages;
}

void LayoutsDialog::print() {
  const std::vector<drawing::Page> pages = pagesOf({*marked()});
  if (pages.empty()) return;
  try {
    printPages(this, QString::fromStdString(marked()->name), pages);
  } catch (const Error& e) {
    says_->setText(QString::fromUtf8(e.what()));
  }
}

void LayoutsDialog::write(bool all) {
  const QString name = QString::fromStdString(all ? workspace_.project()->name : marked()->name);
  const auto pages = pagesOf(all ? workspace_.project()->layouts : std::vector{*marked()});
  if (!pages.empty()) Q_EMIT writeWanted(name, pages);
}

}  // namespace inselberg::app
