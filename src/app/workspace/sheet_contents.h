// What stands on the plan sheets that are shown, read in the background: to snap to and to take.
#pragma once

#include <QObject>
#include <map>
#include <memory>
#include <vector>

#include "jobs/worker.h"
#include "project/project.h"
#include "sheet/sheet_lines.h"

namespace inselberg::app {

class SheetContents : public QObject {
  Q_OBJECT

 public:
  explicit SheetContents(QObject* parent = nullptr);
  ~SheetContents() override;

  // Reads what is not known yet of the project's sheets; those that are hidden are left out.
  void follow(const project::Project& project);
  // Of the sheets that are shown and read, the lowest first.
  const std::vector<std::shared_ptr<const sheet::SheetLines>>& shown() const { return shown_; }
  // Null for one that is hidden or not read yet.
  std::shared_ptr<const sheet::SheetLines> of(const project::PlanSheet& sheet) const;
  bool reading() const { return !worker_.idle(); }

 signals:
  void changed();

 private:
  // What is read is the same wherever the sheet lies.
  struct Page {
    Hash file;
    int number = 0;
    auto operator<=>(const Page&) const = default;
  };
  struct Placed {
    Page page;
    sheet::Placement placement;
    std::shared_ptr<const sheet::SheetLines> lines;
  };
  struct Read {
    std::vector<std::pair<Page, std::shared_ptr<const sheet::Content>>> contents;
    std::vector<std::pair<project::SheetId, Placed>> placed;
  };
  void place(const Read& read);

  std::vector<project::PlanSheetPtr> sheets_;
  std::map<Page, std::shared_ptr<const sheet::Content>> contents_;
  std::map<project::SheetId, Placed> placed_;
  std::vector<std::shared_ptr<const sheet::SheetLines>> shown_;
  Worker worker_;  // last: it ends before what it fills
};

}  // namespace inselberg::app
