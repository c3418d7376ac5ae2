// Files of plan sheets that are open, each once in the program: a large scan is read and held once, whoever looks at
// it.
#pragma once

#include <exception>
#include <memory>
#include <mutex>

#include "project/plan_sheet.h"
#include "sheet/document.h"

namespace inselberg::app {

class OpenSheet {
 public:
  // The open file of a sheet; it is closed when nobody holds it any more. From any thread.
  static std::shared_ptr<OpenSheet> of(const project::PlanSheet& sheet);

  // Calls f(document), one caller after the other. Throws Error when the file cannot be opened, and what f throws.
  template <class F>
  auto use(F&& f) {
    std::lock_guard lock(mutex_);
    open();
    return f(*document_);
  }

  OpenSheet(std::shared_ptr<const std::string> bytes, std::string name, std::string world)
      : bytes_(std::move(bytes)), name_(std::move(name)), world_(std::move(world)) {}

 private:
  void open();

  const std::shared_ptr<const std::string> bytes_;
  const std::string name_, world_;
  std::mutex mutex_;
  std::unique_ptr<sheet::Document> document_;
  std::exception_ptr cannot_;  // why it cannot be opened, once that was tried
};

}  // namespace inselberg::app
