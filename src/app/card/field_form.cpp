#include "card/field_form.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>

#include "base/error.h"
#include "card/quantity_edit.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {

using works::Measure;

FieldForm::FieldForm(const works::Kind& kind, QWidget* parent) : QWidget(parent), kind_(kind) {
  form_ = new QFormLayout(this);
  form_->setContentsMargins(0, 0, 0, 0);
  form_->setLabelAlignment(Qt::AlignLeft);
  form_->setVerticalSpacing(5);
  for (std::size_t i = 0; i < kind.fields().size(); ++i) {
    const works::Field& field = kind.fields()[i];
    if (!field.onCard || isDrawn(field.measure)) continue;
    QWidget* editor = makeEditor(i);
    editor->setObjectName("field-" + QString::fromStdString(field.name));
    if (editor->toolTip().isEmpty()) editor->setToolTip(QString::fromStdString(field.meaning));
    form_->addRow(QString::fromStdString(field.label), editor);
    rows_.push_back({i, editor});
  }
}

QWidget* FieldForm::makeEditor(std::size_t i) {
  const works::Field& field = kind_.fields()[i];
  if (isNumber(field.measure)) {
    auto* edit = new QuantityEdit(field, this);
    connect(edit, &QuantityEdit::edited, this, [this, i](double v) { Q_EMIT edited(i, v); });
    connect(edit, &QuantityEdit::refused, this, &FieldForm::refused);
    return edit;
  }
  if (field.measure == Measure::choice) {
    auto* box = new QComboBox(this);
    for (const std::string& word : field.words) box->addItem(QString::fromStdString(word));
    connect(box, &QComboBox::activated, this, [this, i](int k) { Q_EMIT edited(i, static_cast<std::size_t>(k)); });
    return box;
  }
  if (field.measure != Measure::flag) {
    auto* edit = new QLineEdit(this);
    connect(edit, &QLineEdit::editingFinished, this, [this, i, edit] {
      if (edit->isModified()) take(i, *edit);
    });
    if (field.measure == Measure::sections || field.measure == Measure::ground) offerNames(i, *edit);
    return edit;
  }
  auto* flag = new QCheckBox(this);
  connect(flag, &QCheckBox::clicked, this, [this, i](bool on) { Q_EMIT edited(i, on); });
  return flag;
}

void FieldForm::take(std::size_t i, QLineEdit& edit) {
  try {
    Q_EMIT edited(i, works::parsed(kind_.fields()[i], edit.text().toStdString(), {}, lengths::measures()));
    edit.setModified(false);
  } catch (const Error& e) {
    Q_EMIT refused(QString::fromUtf8(e.what()));
  }
}

// A list of the names there are, at the end of the line; Alt+Down opens it.
void FieldForm::offerNames(std::size_t i, QLineEdit& edit) {
  auto* list = edit.addAction(QIcon(), QLineEdit::TrailingPosition);
  theme::dressed(list, [list] { list->setIcon(theme::icon("down")); });
  const bool sections = kind_.fields()[i].measure == Measure::sections;
  list->setToolTip(sections ? tr("Choose a typical section") : tr("Choose a ground"));
  list->setShortcut(Qt::ALT | Qt::Key_Down);
  list->setShortcutContext(Qt::WidgetShortcut);
  connect(list, &QAction::triggered, this, [this, i, &edit, sections] {
    QMenu menu(&edit);
    menu.setObjectName("names");
    for (const QString& name : sections ? sections_ : grounds_) {
      connect(menu.addAction(name), &QAction::triggered, &edit, [this, i, &edit, name] {
        edit.setText(name);
        take(i, edit);
      });
    }
    if (menu.isEmpty())
      menu.addAction(sections ? tr("None yet: Edit > Typical sections…") : tr("There is no other ground"))
          ->setEnabled(false);
    menu.exec(edit.mapToGlobal(QPoint(0, edit.height())));
  });
}

void FieldForm::setNames(const QStringList& sections, const QStringList& grounds) {
  sections_ = sections, grounds_ = grounds;
}

void FieldForm::setShape(const works::Shape& shape) {
  for (const Row& row : rows_) {
    const works::Value value = shape.get(row.field);
    const bool applies = shape.applies(row.field);
    row.editor->setVisible(applies);
    form_->labelForField(row.editor)->setVisible(applies);
    if (auto* edit = qobject_cast<QuantityEdit*>(row.editor))
      edit->setValue(std::get<double>(value));
    else if (auto* box = qobject_cast<QComboBox*>(row.editor))
      box->setCurrentIndex(static_cast<int>(std::get<std::size_t>(value)));
    else if (auto* line = qobject_cast<QLineEdit*>(row.editor)) {
      if (!(line->hasFocus() && line->isModified())) {
        line->setText(QString::fromStdString(works::shown(kind_.fields()[row.field], value, lengths::measures())));
        line->home(false);
      }
    } else if (auto* flag = qobject_cast<QCheckBox*>(row.editor))
      flag->setChecked(std::get<bool>(value));
  }
}

int FieldForm::labelWidth() const {
  int width = 0;
  for (const Row& row : rows_) width = std::max(width, form_->labelForField(row.editor)->sizeHint().width());
  return width;
}

void FieldForm::setWritable(bool writable) {
  for (const Row& row : rows_) row.editor->setEnabled(writable);
}

}  // namespace inselberg::app
