// The rows of a card for the fields of a kind of works, made from its description.
#pragma once

#include <QStringList>
#include <QWidget>
#include <vector>

#include "works/kind.h"

class QFormLayout;
class QLineEdit;

namespace inselberg::app {

class FieldForm : public QWidget {
  Q_OBJECT

 public:
  explicit FieldForm(const works::Kind& kind, QWidget* parent = nullptr);

  // Shows a shape of the kind: the fields that apply to it.
  void setShape(const works::Shape& shape);
  void setWritable(bool writable);
  // What can be chosen where a typical section or a ground is named.
  void setNames(const QStringList& sections, const QStringList& grounds);
  // The width of the column of labels.
  int labelWidth() const;

 signals:
  void edited(std::size_t field, const inselberg::works::Value& value);
  void refused(const QString& why);

 private:
  QWidget* makeEditor(std::size_t field);
  void take(std::size_t field, QLineEdit& edit);
  void offerNames(std::size_t field, QLineEdit& edit);

  struct Row {
    std::size_t field;
    QWidget* editor;
  };
  const works::Kind& kind_;
  QFormLayout* form_;
  std::vector<Row> rows_;
  QStringList sections_, grounds_;
};

}  // namespace inselberg::app
