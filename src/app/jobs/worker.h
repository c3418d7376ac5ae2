// A background thread that does the latest thing asked of it.
#pragma once

#include <atomic>
#include <condition_variable>
#include <functional>
#include <mutex>
#include <new>
#include <string>
#include <thread>
#include <utility>

#include "base/progress.h"

namespace inselberg::app {

// One task waits at most: a newer one takes its place. The running task can ask whether it has been superseded, and
// decides itself when to give up. Tasks hand results to the window with QMetaObject::invokeMethod.
class Worker {
 public:
  // What a task may ask, from any thread.
  class Token {
   public:
    bool superseded() const { return worker_.waiting_ != nullptr || worker_.leaving_; }
    bool leaving() const { return worker_.leaving_; }

   private:
    friend class Worker;
    explicit Token(const Worker& worker) : worker_(worker) {}
    const Worker& worker_;
  };
  using Task = std::function<void(const Token&)>;

  // Told on the worker's thread what a task could not go on from; a task that was stopped is not told.
  using Failed = std::function<void(const std::string& what)>;

  explicit Worker(Failed failed) : failed_(std::move(failed)), thread_([this] { run(); }) {}
  ~Worker() {
    {
      std::lock_guard lock(mutex_);
      leaving_ = true;
    }
    wake_.notify_all();
    thread_.join();
  }

  void post(Task task) {
    {
      std::lock_guard lock(mutex_);
      next_ = std::move(task);
      waiting_ = this;
    }
    wake_.notify_all();
  }

  // Waits until nothing is waiting or running.
  void finish() const {
    std::unique_lock lock(mutex_);
    done_.wait(lock, [&] { return !next_ && !running_; });
  }

  bool idle() const {
    std::lock_guard lock(mutex_);
    return !next_ && !running_;
  }

 private:
  void run() {
    while (true) {
      Task task;
      {
        std::unique_lock lock(mutex_);
        running_ = false;
        done_.notify_all();
        wake_.wait(lock, [&] { return leaving_ || next_; });
        if (leaving_) return;
        task = std::exchange(next_, nullptr);
        waiting_ = nullptr;
        running_ = true;
      }
      doNow(task);
    }
  }

  // Nothing a task throws ends the program.
  void doNow(const Task& task) {
    try {
      task(Token(*this));
    } catch (const Cancelled&) {
    } catch (const std::bad_alloc&) {
      failed_("There is not enough memory for this. Use a smaller part of the data.");
    } catch (const std::exception& e) {
      failed_(e.what());
    } catch (...) {
      failed_("an unknown fault");
    }
  }

  const Failed failed_;
  mutable std::mutex mutex_;
  std::condition_variable wake_;
  mutable std::condition_variable done_;
  Task next_;
  std::atomic<const void*> waiting_ = nullptr;  // not null while next_ is set
  bool running_ = false;
  std::atomic<bool> leaving_ = false;
  std::thread thread_;
};

}  // namespace inselberg::app
