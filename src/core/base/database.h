// A thin hold on SQLite: statements that throw Error with the file's name.
//
// A file that is read is taken for what anybody may have made of it: it is opened as one that does not change (nothing
// is written beside it), views, triggers and functions of its own are off, and a query that takes longer than any
// honest one ends.
#pragma once

#include <chrono>
#include <cstdint>
#include <initializer_list>
#include <span>
#include <string>
#include <string_view>

struct sqlite3;
struct sqlite3_stmt;

namespace inselberg {

class Database {
 public:
  enum class Mode { create, read, write };  // write: one of our own that is there
  Database(const std::string& path, Mode mode);
  ~Database();
  Database(const Database&) = delete;
  Database& operator=(const Database&) = delete;

  // Throws Error unless each of these is a plain table: no view, no virtual table, no column that is computed.
  void requireTables(std::initializer_list<const char*> names);

  void run(const char* sql);
  std::int64_t number(const char* sql);  // the single number a query gives
  [[noreturn]] void fail() const;        // the last failure as an Error
  sqlite3* handle() { return db_; }

 private:
  static int tooLong(void* self);

  std::string path_;
  sqlite3* db_ = nullptr;
  std::chrono::steady_clock::time_point until_;  // of the query that runs
  long looks_ = 0;                               // at the clock, over all queries
  bool late_ = false;
  friend class Statement;
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

}  // namespace inselberg
