// A button in the head of a view.
#pragma once

#include <QToolButton>

namespace inselberg::app {

// `tip` also names it for those who do not see it.
inline QToolButton* viewButton(QWidget* parent, const char* name, const QString& text, const QString& tip) {
  auto* made = new QToolButton(parent);
  made->setObjectName(name);
  made->setText(text);
  made->setToolTip(tip);
  made->setAccessibleName(tip);
  made->setAutoRaise(true);
  made->setFocusPolicy(Qt::NoFocus);
  return made;
}

}  // namespace inselberg::app
