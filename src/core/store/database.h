// A thin hold on SQLite: statements that throw Error with the file's name.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

struct sqlite3;
struct sqlite3_stmt;

namespace inselberg::store {

class Database {
 public:
  enum class Mode { create, read };
  Database(const std::string& path, Mode mode);
  ~Database();
  Database(const Database&) = delete;
  Database& operator=(const Database&) = delete;

  void run(const char* sql);
  std::int64_t number(const char* sql);  // the single number a query gives
  [[noreturn]] void fail() const;        // the last failure as an Error
  sqlite3* handle() { return db_; }

 private:
  std::string path_;
  sqlite3* db_ = nullptr;
};

class Statement {
 public:
  Statement(Database& database, const char* sql);
  ~Statement();
  Statement(const Statement&) = delete;
  Statement& operator=(const Statement&) = delete;

  Statement& bind(int at, std::int64_t value);
  Statement& bind(int at, std::string_view text);
  Statement& bindBlob(int at, std::span<const char> bytes);
  bool step();  // true: a row is there
  void reset();

  std::int64_t number(int column);
  std::string text(int column);
  std::span<const char> blob(int column);  // valid until the next step

 private:
  Database& database_;
  sqlite3_stmt* statement_ = nullptr;
};

}  // namespace inselberg::store
