// Undo as a list of project values.
#pragma once

#include <string>
#include <vector>

#include "project/project.h"

namespace inselberg::project {

class History {
 public:
  explicit History(ProjectPtr start) : now_(std::move(start)) {}

  const ProjectPtr& now() const { return now_; }

  // Makes `next` the present, undoable under `what` ("move corner of Silo pad"). Forgets what was undone.
  void commit(ProjectPtr next, std::string what) {
    past_.push_back({std::move(now_), std::move(what)});
    now_ = std::move(next);
    future_.clear();
  }

  bool canUndo() const { return !past_.empty(); }
  bool canRedo() const { return !future_.empty(); }
  // Empty where there is nothing to undo, to redo.
  std::string undoText() const { return past_.empty() ? std::string() : past_.back().what; }
  std::string redoText() const { return future_.empty() ? std::string() : future_.back().what; }

  void undo() { step(past_, future_); }
  void redo() { step(future_, past_); }

 private:
  struct Step {
    ProjectPtr project;
    std::string what;
  };
  void step(std::vector<Step>& from, std::vector<Step>& to) {
    if (from.empty()) return;
    to.push_back({std::move(now_), from.back().what});
    now_ = std::move(from.back().project);
    from.pop_back();
  }

  ProjectPtr now_;
  std::vector<Step> past_, future_;
};

}  // namespace inselberg::project
