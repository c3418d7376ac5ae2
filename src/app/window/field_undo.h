// Undo and redo in a field that has nothing of its own to take back reach the project: what was typed there and taken
// over is the project's.
#pragma once

#include <QObject>

namespace inselberg::app {

class FieldUndo : public QObject {
 public:
  // For all fields, as long as it lives.
  explicit FieldUndo(QObject* parent);

  bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace inselberg::app
