#include "workspace/open_sheet.h"

#include <map>

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

}  // namespace inselberg::app
