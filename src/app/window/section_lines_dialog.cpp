#include "window/section_lines_dialog.h"

#include <QDialogButtonBox>
#include <QInputDialog>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "base/free_name.h"
#include "works/graded_line.h"

namespace inselberg::app {

SectionLinesDialog::SectionLinesDialog(Workspace& workspace, ViewState& state, QWidget* parent)
    : QDialog(parent), workspace_(workspace), state_(state) {
  setObjectName("sectionLinesDialog");
  setWindowTitle(tr("Kept section lines"));
  resize(380, 320);
  auto* layout = new QVBoxLayout(this);
  list_ = new QListWidget(this);
  list_->setObjectName("sectionLines");
  list_->setAccessibleName(windowTitle());
  layout->addWidget(list_, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  show_ = buttons->addButton(tr("Show"), QDialogButtonBox::AcceptRole);
  show_->setObjectName("sectionLineShow");
  rename_ = buttons->addButton(tr("Rename…"), QDialogButtonBox::ActionRole);
  rename_->setObjectName("sectionLineRename");
  remove_ = buttons->addButton(tr("Remove"), QDialogButtonBox::DestructiveRole);
  remove_->setObjectName("sectionLineRemove");
  layout->addWidget(buttons);
  const auto show = [this] {
    if (const auto& lines = workspace_.project()->sectionLines; marked() < lines.size())
      state_.takeSection(lines[marked()].line);
    accept();
  };
  connect(show_, &QPushButton::clicked, this, show);
  connect(list_, &QListWidget::itemActivated, this, show);
  connect(rename_, &QPushButton::clicked, this, &SectionLinesDialog::rename);
  connect(remove_, &QPushButton::clicked, this, &SectionLinesDialog::remove);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  refresh();
}

std::size_t SectionLinesDialog::marked() const {
  const std::size_t count = workspace_.project()->sectionLines.size();
  return list_->currentRow() < 0 ? count : std::min(count, static_cast<std::size_t>(list_->currentRow()));
}

void SectionLinesDialog::refresh() {
  const int row = std::max(0, list_->currentRow());
  list_->clear();
  for (const project::SectionLine& line : workspace_.project()->sectionLines) {
    list_->addItem(tr("%1   %2").arg(QString::fromStdString(line.name),
                                     workspace_.told(works::lengthOf(line.line, false), Quantity::length)));
  }
  list_->setCurrentRow(std::min(row, list_->count() - 1));
  const bool any = list_->count() > 0;
  show_->setEnabled(any);
  for (QPushButton* b : {rename_, remove_}) b->setEnabled(any && !workspace_.readOnly());
}

void SectionLinesDialog::rename() {
  auto lines = workspace_.project()->sectionLines;
  project::SectionLine& line = lines.at(marked());
  bool given = false;
  const QString typed = QInputDialog::getText(this, tr("Rename"), tr("Name of the line"), QLineEdit::Normal,
                                              QString::fromStdString(line.name), &given)
                            .trimmed();
  if (!given || typed.isEmpty() || typed.toStdString() == line.name) return;
  line.name = freeName(typed.toStdString(), [&](const std::string& name) { return project::lineNamed(lines, name); });
  workspace_.commit(project::withSectionLines(*workspace_.project(), std::move(lines)), tr("rename a section line"));
  refresh();
}

void SectionLinesDialog::remove() {
  auto lines = workspace_.project()->sectionLines;
  const auto line = lines.begin() + static_cast<std::ptrdiff_t>(marked());
  const QString name = QString::fromStdString(line->name);
  lines.erase(line);
  workspace_.commit(project::withSectionLines(*workspace_.project(), std::move(lines)),
                    tr("remove the section line %1").arg(name));
  refresh();
}

}  // namespace inselberg::app
