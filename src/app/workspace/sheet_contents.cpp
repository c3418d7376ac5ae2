#include "workspace/sheet_contents.h"

#include "base/error.h"

namespace inselberg::app {

// Pages that cannot be read are told when they are brought in.
SheetContents::SheetContents(QObject* parent) : QObject(parent), worker_([](const std::string&) {}) {}

SheetContents::~SheetContents() = default;

void SheetContents::follow(const project::Project& project) {
  if (project.sheets == sheets_) return;
  sheets_ = project.sheets;
  place({});
  std::vector<project::PlanSheetPtr> wanted;
  for (const project::PlanSheetPtr& s : sheets_) {
    if (!s->hidden && !of(*s)) wanted.push_back(s);
  }
  if (wanted.empty()) return;
  worker_.post([this, wanted, contents = contents_](const Worker::Token& token) mutable {
    Read read;
    for (const project::PlanSheetPtr& s : wanted) {
      const Page page{s->hash, s->page};
      auto& content = contents[page];
      if (!content) {
        try {
          content = std::make_shared<const sheet::Content>(
              sheet::openDocument(s->bytes, s->file, s->world)->content(s->page, Progress([&] {
                                                                          return token.leaving();
                                                                        })));
        } catch (const Error&) {
          content = std::make_shared<const sheet::Content>();
        }
        read.contents.emplace_back(page, content);
      }
      read.placed.emplace_back(
          s->id, Placed{page, s->placement, std::make_shared<const sheet::SheetLines>(content, s->placement)});
    }
    QMetaObject::invokeMethod(
        this, [this, read = std::move(read)] { place(read); }, Qt::QueuedConnection);
  });
}

std::shared_ptr<const sheet::SheetLines> SheetContents::of(const project::PlanSheet& sheet) const {
  const auto known = placed_.find(sheet.id);
  const bool right = known != placed_.end() && known->second.page == Page{sheet.hash, sheet.page} &&
                     known->second.placement == sheet.placement;
  return right && !sheet.hidden ? known->second.lines : nullptr;
}

void SheetContents::place(const Read& read) {
  for (const auto& [page, content] : read.contents) contents_[page] = content;
  for (const auto& [id, placed] : read.placed) placed_[id] = placed;
  const auto used = [&](const Page& page) {
    return std::any_of(sheets_.begin(), sheets_.end(), [&](const auto& s) { return Page{s->hash, s->page} == page; });
  };
  std::erase_if(contents_, [&](const auto& entry) { return !used(entry.first); });
  shown_.clear();
  for (const project::PlanSheetPtr& s : sheets_) {
    if (auto lines = of(*s)) shown_.push_back(std::move(lines));
  }
  std::erase_if(placed_, [&](const auto& entry) {
    return std::none_of(sheets_.begin(), sheets_.end(), [&](const auto& s) { return s->id == entry.first; });
  });
  Q_EMIT changed();
}

}  // namespace inselberg::app
