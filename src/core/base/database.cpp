#include "base/database.h"

#include <fmt/format.h>
#include <sqlite3.h>

#include "base/error.h"

namespace inselberg {

namespace {

constexpr std::chrono::seconds kLongest{20};  // of one step of a query
constexpr int kInstructions = 100'000;        // between two looks at the clock
constexpr long kMostLooks = 20'000;           // in all
constexpr int kLargest = 2'000'000'000;       // bytes of one value, the most there can be

// The path as the name of a file that does not change while it is read.
std::string asImmutable(const std::string& path) {
  std::string uri = "file:";
  for (const char c : path) {
    const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '/' ||
                       c == '.' || c == '-' || c == '_';
    uri += plain ? std::string(1, c) : fmt::format("%{:02X}", static_cast<unsigned char>(c));
  }
  return uri + "?immutable=1";
}

}  // namespace

Database::Database(const std::string& path, Mode mode) : path_(path) {
  const bool reads = mode == Mode::read;
  const int flags = reads                  ? SQLITE_OPEN_READONLY | SQLITE_OPEN_URI
                    : mode == Mode::create ? SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE
                                           : SQLITE_OPEN_READWRITE;
  if (sqlite3_open_v2(reads ? asImmutable(path).c_str() : path.c_str(), &db_, flags | SQLITE_OPEN_NOMUTEX, nullptr) !=
      SQLITE_OK) {
    const std::string why = db_ ? sqlite3_errmsg(db_) : "out of memory";
    sqlite3_close(db_);
    throw Error("the file cannot be opened: " + why, {path}, "check the path and its permissions");
  }
  if (!reads) return;
  sqlite3_limit(db_, SQLITE_LIMIT_LENGTH, kLargest);
  for (const int off : {SQLITE_DBCONFIG_ENABLE_VIEW, SQLITE_DBCONFIG_ENABLE_TRIGGER, SQLITE_DBCONFIG_TRUSTED_SCHEMA})
    sqlite3_db_config(db_, off, 0, nullptr);
  sqlite3_progress_handler(db_, kInstructions, &Database::tooLong, this);
}

int Database::tooLong(void* self) {
  auto* database = static_cast<Database*>(self);
  database->late_ = ++database->looks_ > kMostLooks || std::chrono::steady_clock::now() > database->until_;
  return database->late_ ? 1 : 0;
}

void Database::requireTables(std::initializer_list<const char*> names) {
  for (const std::string name : names) {
    Statement table(*this, "SELECT 1 FROM sqlite_master WHERE type='table' AND name=? AND rootpage>0");
    table.bind(1, name);
    Statement computed(*this, "SELECT 1 FROM pragma_table_xinfo(?) WHERE hidden>0");
    computed.bind(1, name);
    if (!table.step() || computed.step())
      throw Error("the file has no plain table \"" + name + "\"", {path_}, "use a copy of it, or export it again");
  }
}

Database::~Database() {
  sqlite3_close(db_);
}

void Database::fail() const {
  const int code = sqlite3_errcode(db_);
  const std::string why = sqlite3_errmsg(db_);
  if (late_) throw Error("the file takes too long to answer", {path_}, "use a copy of it, or export it again");
  if (code == SQLITE_FULL) throw Error("the disk is full", {path_}, "free some space, or save in another place");
  if (code == SQLITE_NOTADB)
    throw Error("this is not an Inselberg project", {path_}, "choose a file that Inselberg saved");
  if (code == SQLITE_CORRUPT) throw Error("the project file is damaged: " + why, {path_}, "use a copy of it");
  throw Error("the project file cannot be used: " + why, {path_}, "check the disk and the permissions");
}

void Database::run(const char* sql) {
  until_ = std::chrono::steady_clock::now() + kLongest;
  if (sqlite3_exec(db_, sql, nullptr, nullptr, nullptr) != SQLITE_OK) fail();
}

std::int64_t Database::number(const char* sql) {
  Statement statement(*this, sql);
  return statement.step() ? statement.number(0) : 0;
}

Statement::Statement(Database& database, const char* sql) : database_(database) {
  if (sqlite3_prepare_v2(database.handle(), sql, -1, &statement_, nullptr) != SQLITE_OK) database.fail();
}

Statement::~Statement() {
  sqlite3_finalize(statement_);
}

Statement& Statement::bind(int at, std::int64_t value) {
  if (sqlite3_bind_int64(statement_, at, value) != SQLITE_OK) database_.fail();
  return *this;
}

Statement& Statement::bind(int at, std::string_view text) {
  if (sqlite3_bind_text64(statement_, at, text.data(), text.size(), SQLITE_TRANSIENT, SQLITE_UTF8) != SQLITE_OK)
    database_.fail();
  return *this;
}

Statement& Statement::bindBlob(int at, std::span<const char> bytes) {
  if (sqlite3_bind_blob64(statement_, at, bytes.data(), bytes.size(), SQLITE_TRANSIENT) != SQLITE_OK) database_.fail();
  return *this;
}

bool Statement::step() {
  database_.until_ = std::chrono::steady_clock::now() + kLongest;
  switch (sqlite3_step(statement_)) {
    case SQLITE_ROW:
      return true;
    case SQLITE_DONE:
      return false;
    default:
      database_.fail();
  }
}

void Statement::reset() {
  sqlite3_reset(statement_);
}

std::int64_t Statement::number(int column) {
  return sqlite3_column_int64(statement_, column);
}

std::string Statement::text(int column) {
  const auto* bytes = reinterpret_cast<const char*>(sqlite3_column_text(statement_, column));
  return bytes ? std::string(bytes, static_cast<std::size_t>(sqlite3_column_bytes(statement_, column))) : std::string();
}

std::span<const char> Statement::blob(int column) {
  const auto* bytes = static_cast<const char*>(sqlite3_column_blob(statement_, column));
  return {bytes, bytes ? static_cast<std::size_t>(sqlite3_column_bytes(statement_, column)) : 0};
}

}  // namespace inselberg
