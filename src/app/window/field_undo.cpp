#include "window/field_undo.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>

namespace inselberg::app {

FieldUndo::FieldUndo(QObject* parent) : QObject(parent) {
  qApp->installEventFilter(this);
}

// A field claims these keys whether it can do something with them or not.
bool FieldUndo::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::ShortcutOverride) return false;
  const auto* field = qobject_cast<const QLineEdit*>(watched);
  if (!field) return false;
  const auto& key = *static_cast<const QKeyEvent*>(event);
  const bool toProject = (key.matches(QKeySequence::Undo) && !field->isUndoAvailable()) ||
                         (key.matches(QKeySequence::Redo) && !field->isRedoAvailable());
  if (toProject) event->ignore();
  return toProject;
}

}  // namespace inselberg::app
