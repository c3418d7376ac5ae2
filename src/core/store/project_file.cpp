#include "store/project_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "base/database.h"
#include "base/error.h"
#include "base/whole_file.h"
#include "exchange/text_file.h"
#include "plane/places_json.h"
#include "store/bulk.h"
#include "store/item_json.h"
#include "store/stages_json.h"
#include "works/section_json.h"

namespace inselberg::store {
namespace {

using nlohmann::json;

// Puts items into a database, and the bulk data they name where it is not there yet.
class Items {
 public:
  explicit Items(Database& db)
      : item_(db, "INSERT INTO item VALUES(?,?,?,?)"),
        known_(db, "SELECT 1 FROM bulk WHERE hash=?"),
        bulk_(db, "INSERT INTO bulk VALUES(?,?)") {}

  void put(std::uint64_t id, const char* kind, std::size_t position, const json& j) {
    item_.bind(1, static_cast<std::int64_t>(id))
        .bind(2, kind)
        .bind(3, static_cast<std::int64_t>(position))
        .bind(4, j.dump(-1, ' ', false, json::error_handler_t::replace));
    item_.step();
    item_.reset();
  }
  // `pack` gives the bytes; it is asked only when they are wanted.
  template <class Pack>
  void putBulk(const std::string& hash, Pack&& pack) {
    if (!known_.bind(1, hash).step()) {
      bulk_.bind(1, hash).bindBlob(2, pack()).step();
      bulk_.reset();
    }
    known_.reset();
  }

 private:
  Statement item_, known_, bulk_;
};

json projectJson(const project::Project& project, const std::string& session) {
  json accepted = json::array();
  for (const auto& a : project.accepted)
    accepted.push_back({{"kind", ground::name(a.kind)}, {"where", {a.where.x, a.where.y}}, {"reason", a.reason}});
  json compared = json::array();
  for (const auto& b : project.compared) compared.push_back({b.from.value, b.to.value});
  json sections = json::array();
  for (const works::NamedSection& s : project.sections)
    sections.push_back({{"name", s.name}, {"legs", works::toJson(s.legs)}});
  json labelLines = json::array();
  for (const auto& line : project.labelLines) labelLines.push_back(plane::placesToJson(line));
  json sectionLines = json::array();
  for (const project::SectionLine& line : project.sectionLines)
    sectionLines.push_back({{"name", line.name}, {"line", plane::placesToJson(line.line)}});
  json layouts = json::array();
  for (const project::Layout& layout : project.layouts) layouts.push_back(toJson(layout));
  return {{"name", project.name},
          {"origin", {project.origin.easting, project.origin.northing}},
          {"has_origin", project.hasOrigin},
          {"system", project.system},
          {"label_lines", labelLines},
          {"section_lines", sectionLines},
          {"next_id", project.nextId},
          {"accepted", accepted},
          {"sections", sections},
          {"stages", toJson(project.stages)},
          {"limits",
           {{"steepest_cut", project.limits.steepestCut},
            {"steepest_fill", project.limits.steepestFill},
            {"least_fall_percent", project.limits.leastFall},
            {"freeboard", project.limits.freeboard},
            {"beside_buildings", project.limits.besideBuildings}}},
          {"measures", {{"imperial", project.measures.imperial}, {"round_to", project.measures.roundTo}}},
          {"compared", compared},
          {"layouts", layouts},
          {"session", session}};
}

// The items, and the bulk data that is not there yet, into a database without items.
void writeItems(Database& db, const project::Project& project, const std::string& session, const Progress& progress) {
  Items items(db);
  items.put(0, "project", 0, projectJson(project, session));
  for (std::size_t i = 0; i < project.sources.size(); ++i) {
    const project::Source& s = *project.sources[i];
    const std::string hash = nameOf(*s.data).hex();
    items.put(s.id.value, "source", i,
              {{"name", s.name},
               {"file", s.file},
               {"data", hash},
               {"takes", s.takes},
               {"report", s.report},
               {"reading", s.reading},
               {"hidden", s.hidden},
               {"locked", s.locked},
               {"colour", s.colour}});
    progress.report("saving", static_cast<double>(i) / static_cast<double>(project.sources.size()));
    items.putBulk(hash, [&] { return pack(*s.data); });
  }
  for (std::size_t i = 0; i < project.kept.size(); ++i) {
    const project::KeptResult& kept = *project.kept[i];
    const std::string hash = Hasher().text(kept.picture).finish().hex();
    items.put(kept.id, "kept", i, toJson(kept, hash));
    items.putBulk(hash, [&]() -> const std::string& { return kept.picture; });
  }
  for (std::size_t i = 0; i < project.sheets.size(); ++i) {
    const project::PlanSheet& sheet = *project.sheets[i];
    items.put(sheet.id.value, "sheet", i, toJson(sheet));
    items.putBulk(sheet.hash.hex(), [&]() -> const std::string& { return *sheet.bytes; });
  }
  for (std::size_t i = 0; i < project.column.size(); ++i) {
    const project::Ground& g = *project.column[i];
    items.put(g.id.value, "ground", i, toJson(g));
    for (std::size_t k = 0; k < g.works.size(); ++k) items.put(g.works[k]->id.value, "works", k, toJson(*g.works[k]));
  }
}

void write(const project::Project& project, const std::string& path, const std::string& session,
           const Progress& progress) {
  Database db(path, Database::Mode::create);
  db.run("PRAGMA journal_mode=OFF; PRAGMA synchronous=OFF");  // the file is not yet anybody's: the rename makes it so
  db.run(fmt::format("PRAGMA application_id={}; PRAGMA user_version={}", kApplicationId, kVersion).c_str());
  db.run(
      "BEGIN; CREATE TABLE item(id INTEGER PRIMARY KEY, kind TEXT NOT NULL, position INTEGER NOT NULL, json TEXT NOT "
      "NULL);"
      "CREATE TABLE bulk(hash TEXT PRIMARY KEY, data BLOB NOT NULL)");
  writeItems(db, project, session, progress);
  db.run("COMMIT");
}

// Before version 3 the column's order said what a ground was: the first built from a survey was the surveyed one, the
// last on another ground the finished one, and each ground was compared with the next.
void giveRoles(project::Project& project) {
  const auto give = [&](std::size_t i, project::Role role) {
    auto ground = std::make_shared<project::Ground>(*project.column[i]);
    ground->role = role;
    project.column[i] = std::move(ground);
  };
  const auto isSurvey = [&](const project::Ground& g) {
    const auto* base = std::get_if<project::FromSources>(&g.base);
    if (!base) return false;
    // A frozen ground was one model of its own that came from no file.
    const project::Source* only = base->sources.size() == 1 ? project.source(base->sources.front()) : nullptr;
    return !only || !only->file.empty() || only->data->modelTriangles.empty();
  };
  std::size_t surveyed = 0, finished = project.column.size();
  while (surveyed + 1 < project.column.size() && !isSurvey(*project.column[surveyed])) ++surveyed;
  for (std::size_t i = 0; i < project.column.size(); ++i) {
    if (i != surveyed && std::holds_alternative<project::OnGround>(project.column[i]->base)) finished = i;
  }
  if (project.column.empty()) return;
  if (finished == project.column.size())  // taken out, as it could be then
    project.column.push_back(std::make_shared<project::Ground>(
        project::Ground{GroundId{project.nextId++}, "finished", project::OnGround{project.column[surveyed]->id}, {}}));
  give(surveyed, project::Role::surveyed);
  give(finished, project::Role::finished);
  for (std::size_t i = 0; i + 1 < project.column.size(); ++i) {
    const project::Between between{project.column[i]->id, project.column[i + 1]->id};
    if (i != surveyed || i + 1 != finished) project.compared.push_back(between);
  }
}

// Throws Error unless each stage is there at most once, the surveyed and the finished ground are, and what is compared
// is.
void requireRoles(const project::Project& project) {
  for (const auto& [role, word] : project::kRoleWords) {
    const auto is = [r = role](const auto& g) { return g->role == r; };
    const auto n = std::count_if(project.column.begin(), project.column.end(), is);
    const bool needed = role == project::Role::surveyed || role == project::Role::finished;
    if (project::isStage(role) && (n > 1 || (needed && n == 0)))
      throw Error(fmt::format("the file has {} {} grounds", n, word), "the file is damaged");
  }
  for (const auto& b : project.compared) {
    if (!project.ground(b.from) || !project.ground(b.to))
      throw Error("a ground that is compared is not there", "the file is damaged");
  }
}

}  // namespace

void update(const project::Project& project, const std::string& path, const std::string& session) {
  Database db(path, Database::Mode::write);
  db.run("PRAGMA journal_mode=DELETE; BEGIN IMMEDIATE; DELETE FROM item");
  writeItems(db, project, session, {});
  db.run(
      "DELETE FROM bulk WHERE hash NOT IN (SELECT json_extract(json, '$.data') FROM item WHERE kind IN ('source', "
      "'kept', 'sheet'))");
  db.run("COMMIT");
}

void rollBack(const std::string& path) {
  Database db(path, Database::Mode::write);
  db.number("SELECT count(*) FROM sqlite_master");  // the first look puts back what was begun
}

void save(const project::Project& project, const std::string& path, const std::string& session, const WriteRules& rules,
          const Progress& progress) {
  const auto fill = [&](const std::string& part) {
    try {
      write(project, part, session, progress);
    } catch (const Error& e) {
      throw Error(e.happened(), {path}, e.hint());
    }
  };
  writeBeside(path, "", fill, rules);
}

namespace {

// A project being read; `at` says where, for what goes wrong.
class Reading {
 public:
  Reading(Database& db, works::Kinds kinds, const Progress& progress) : db_(db), kinds_(kinds), progress_(progress) {}

  Opened all(std::int64_t version) {
    readWorks();
    readProject();
    readSources();
    readGrounds();
    readKept();
    readSheets();
    if (version < 3) giveRoles(*project_);
    requireRoles(*project_);
    return {std::move(project_), std::move(session_)};
  }
  const std::string& at() const { return at_; }

 private:
  void readWorks() {
    Statement s(db_, "SELECT id, json FROM item WHERE kind='works'");
    while (s.step()) {
      const auto id = static_cast<std::uint64_t>(s.number(0));
      at_ = fmt::format("works {}", id);
      works_[id] = std::make_shared<works::Works>(worksFromJson(WorksId{id}, json::parse(s.text(1)), kinds_));
    }
  }

  void readProject() {
    at_ = "project";
    Statement s(db_, "SELECT json FROM item WHERE kind='project'");
    if (!s.step()) throw Error("the file holds no project", "the file is damaged");
    const json j = json::parse(s.text(0));
    const auto place = [](const json& p) { return plane::Vec2{plane::finite(p.at(0)), plane::finite(p.at(1))}; };
    project_->name = j.at("name").get<std::string>();
    const plane::Vec2 origin = place(j.at("origin"));
    project_->origin = {origin.x, origin.y};
    project_->hasOrigin = j.at("has_origin").get<bool>();
    project_->system = j.value("system", std::string());  // since version 2
    for (const json& line : j.value("label_lines", json::array()))
      project_->labelLines.push_back(plane::placesFromJson(line));
    for (const json& line : j.value("section_lines", json::array()))  // since version 11
      project_->sectionLines.push_back({line.at("name").get<std::string>(), plane::placesFromJson(line.at("line"))});
    project_->nextId = j.at("next_id").get<std::uint64_t>();
    for (const json& a : j.value("accepted", json::array())) {  // since version 2
      if (const auto kind = ground::doubtKindOf(a.at("kind").get<std::string>()))
        project_->accepted.push_back({*kind, place(a.at("where")), a.at("reason").get<std::string>()});
    }
    for (const json& b : j.value("compared", json::array()))  // since version 3
      project_->compared.push_back({GroundId{b.at(0).get<std::uint64_t>()}, GroundId{b.at(1).get<std::uint64_t>()}});
    for (const json& section : j.value("sections", json::array()))  // since version 5
      project_->sections.push_back(
          {section.at("name").get<std::string>(), works::sectionFrom(JsonCursor(section.at("legs"), {}, "sections"))});
    if (const auto stages = j.find("stages"); stages != j.end()) project_->stages = stagesFromJson(*stages);
    if (const auto limits = j.find("limits"); limits != j.end()) {  // since version 7
      const auto number = [&](const char* name) { return plane::finite(limits->at(name)); };
      project_->limits = {number("steepest_cut"), number("steepest_fill"), number("least_fall_percent"),
                          number("freeboard"), number("beside_buildings")};
    }
    if (const auto measures = j.find("measures"); measures != j.end()) {  // since version 10
      project_->measures.imperial = measures->at("imperial").get<bool>();
      project_->measures.roundTo = std::clamp(plane::finite(measures->at("round_to")), 0.1, 1e6);
    }
    for (const json& layout : j.value("layouts", json::array()))  // since version 9
      project_->layouts.push_back(layoutFromJson(layout));
    session_ = j.at("session").get<std::string>();
  }

  void readSources() {
    Statement s(db_,
                "SELECT item.id, item.json, bulk.data FROM item LEFT JOIN bulk ON bulk.hash = "
                "json_extract(item.json, '$.data') "
                "WHERE kind='source' ORDER BY position");
    std::map<std::string, project::SourcePtr> unpackedBefore;  // sources may share their data
    while (s.step()) {
      progress_.report("opening", 0.5);
      const SourceId id{static_cast<std::uint64_t>(s.number(0))};
      at_ = fmt::format("source {}", id.value);
      const json j = json::parse(s.text(1));
      const std::string data = j.at("data").get<std::string>();
      project::SourcePtr& first = unpackedBefore[data];
      auto source = first ? project::makeSource(id, sourceInfo(j), first->data, first->hash)
                          : project::makeSource(id, sourceInfo(j), unpack(s.blob(2)));
      if (!first && nameOf(*source->data).hex() != data)
        throw Error("the data is not what was saved", "the file is damaged");
      if (!first) first = source;
      project_->sources.push_back(std::move(source));
    }
  }

  static project::SourceInfo sourceInfo(const json& j) {
    project::SourceInfo info;
    info.name = j.at("name").get<std::string>();
    info.file = j.at("file").get<std::string>();
    info.takes = j.value("takes", info.takes);  // since version 2, as all that follows
    info.report = j.value("report", info.report);
    info.reading = j.value("reading", info.reading);
    info.hidden = j.value("hidden", false);
    info.locked = j.value("locked", false);
    info.colour = j.value("colour", std::string());
    return info;
  }

  void readKept() {  // since version 7
    Statement s(db_,
                "SELECT item.id, item.json, bulk.data FROM item LEFT JOIN bulk ON bulk.hash = "
                "json_extract(item.json, '$.data') WHERE kind='kept' ORDER BY position");
    while (s.step()) {
      const auto id = static_cast<std::uint64_t>(s.number(0));
      at_ = fmt::format("kept result {}", id);
      const auto picture = s.blob(2);
      project_->kept.push_back(std::make_shared<project::KeptResult>(
          keptFromJson(id, json::parse(s.text(1)), std::string(picture.begin(), picture.end()))));
    }
  }

  void readSheets() {  // since version 8
    Statement s(db_,
                "SELECT item.id, item.json, bulk.data FROM item LEFT JOIN bulk ON bulk.hash = "
                "json_extract(item.json, '$.data') WHERE kind='sheet' ORDER BY position");
    std::map<std::string, std::shared_ptr<const std::string>> readBefore;  // pages of one file share it
    while (s.step()) {
      progress_.report("opening", 0.8);
      const project::SheetId id{static_cast<std::uint64_t>(s.number(0))};
      at_ = fmt::format("sheet {}", id.value);
      const json j = json::parse(s.text(1));
      const std::string data = j.at("data").get<std::string>();
      auto& bytes = readBefore[data];
      if (!bytes) {
        const auto blob = s.blob(2);
        bytes = std::make_shared<const std::string>(blob.begin(), blob.end());
      }
      auto sheet = project::makePlanSheet(id, sheetFromJson(j), bytes, j.at("world").get<std::string>());
      if (sheet->hash.hex() != data) throw Error("the file of the sheet is not what was saved", "the file is damaged");
      project_->sheets.push_back(std::move(sheet));
    }
  }

  void readGrounds() {
    Statement s(db_, "SELECT id, json FROM item WHERE kind='ground' ORDER BY position");
    while (s.step()) {
      auto ground = std::make_shared<project::Ground>();
      ground->id = GroundId{static_cast<std::uint64_t>(s.number(0))};
      at_ = fmt::format("ground {}", ground->id.value);
      for (const WorksId id : groundFromJson(json::parse(s.text(1)), *ground))
        ground->works.push_back(works_.at(id.value));
      project_->column.push_back(std::move(ground));
    }
  }

  Database& db_;
  const works::Kinds kinds_;
  const Progress& progress_;
  std::string at_ = "project", session_;
  std::map<std::uint64_t, project::WorksPtr> works_;
  std::shared_ptr<project::Project> project_ = std::make_shared<project::Project>();
};

}  // namespace

Opened open(const std::string& path, works::Kinds kinds, const Progress& progress) {
  const std::string start = exchange::readBytesAhead(path, 16);  // also tells missing, folder and empty apart
  if (!start.starts_with("SQLite format 3")) {
    throw Error("this is not an Inselberg project", {path}, "choose a file that Inselberg saved");
  }
  Database db(path, Database::Mode::read);
  if (db.number("PRAGMA application_id") != kApplicationId) {
    throw Error("this is a database of another program", {path}, "choose a file that Inselberg saved");
  }
  const std::int64_t version = db.number("PRAGMA user_version");
  if (version > kVersion) {
    throw Error(
        fmt::format("the project was saved by a newer version (format {}, this program knows {})", version, kVersion),
        {path}, "open it with the newer version");
  }
  db.requireTables({"item", "bulk"});
  Reading reading(db, kinds, progress);
  try {
    return reading.all(version);
  } catch (const Error& e) {
    throw Error(e.happened(), {path, 0, reading.at()}, e.hint());
  } catch (const std::exception& e) {
    // Without the library's own number of the fault: "[json.exception...] key 'a' not found".
    const std::string why = e.what();
    throw Error("the project is damaged (" + why.substr(why.starts_with('[') ? why.find(' ') + 1 : 0) + ")",
                {path, 0, reading.at()}, "use a copy of it, or the recovery file");
  }
}

}  // namespace inselberg::store
