#include "workspace/open_sheet.h"

#include <map>

#include "base/error.h"

namespace inselberg::app {

std::shared_ptr<OpenSheet> OpenSheet::of(const project::PlanSheet& sheet) {
  static std::mutex mutex;
  static std::map<Hash, std::weak_ptr<OpenSheet>> all;
  std::lock_guard lock(mutex);
  std::erase_if(all, [](const auto& open) { return open.second.expired(); });
  std::weak_ptr<OpenSheet>& known = all[sheet.hash];
  auto open = known.lock();
  if (!open) known = open = std::make_shared<OpenSheet>(sheet.bytes, sheet.file, sheet.world);
  return open;
}

void OpenSheet::open() {
  if (cannot_) std::rethrow_exception(cannot_);
  if (document_) return;
  try {
    document_ = sheet::openDocument(bytes_, name_, world_);
  } catch (const Error&) {
    cannot_ = std::current_exception();
    throw;
  }
}

}  // namespace inselberg::app
