// Which pages of a file are wanted, chosen by their pictures.
#pragma once

#include <QDialog>
#include <memory>
#include <string>
#include <vector>

#include "jobs/worker.h"

class QListWidget;

namespace inselberg::app {

class PagesDialog : public QDialog {
  Q_OBJECT

 public:
  PagesDialog(const QString& name, std::shared_ptr<const std::string> bytes, int pages, QWidget* parent = nullptr);
  ~PagesDialog() override;
  // From 1, in order.
  std::vector<int> chosen() const;

 private:
  QListWidget* list_;
  Worker worker_;
};

}  // namespace inselberg::app
