// The .inselberg file (docs/file-format.md).
#pragma once

#include <string>

#include "base/whole_file.h"
#include "project/project.h"

namespace inselberg::store {

constexpr int kApplicationId = 0x494E5342;  // "INSB"
constexpr int kVersion = 13;

// Writes the project whole or not at all: a new database beside `path` in one transaction, then renamed over it. Throws
// Error when that fails; an earlier file is then as it was. `session` (any text) is kept with it, for recovery files.
// Links, permissions and locks: base/whole_file.h. Throws Cancelled when stopped.
void save(const project::Project& project, const std::string& path, const std::string& session = {},
          const WriteRules& rules = {}, const Progress& progress = {});

// Brings a project file of our own, that nobody else writes, up to this project: only data that is not in it yet is
// packed and written. One transaction; a run that is killed leaves a journal beside the file, which `rollBack` (or the
// next update) puts back. Throws Error.
void update(const project::Project& project, const std::string& path, const std::string& session);
void rollBack(const std::string& path);

struct Opened {
  project::ProjectPtr project;
  std::string session;
};

// `kinds` are the kinds of works that are known. Throws Error for what is no Inselberg project, was written by a newer
// version, or is damaged; says where.
// Cancelled, too.
Opened open(const std::string& path, works::Kinds kinds = works::standardKinds(), const Progress& progress = {});

}  // namespace inselberg::store
