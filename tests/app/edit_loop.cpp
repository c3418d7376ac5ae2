// A program to be killed. "edit": changes the project every 40 ms and prints the number of each edit with its time;
// "save FILE": saves two different projects to the file in turn, as fast as it can.
#include <QCoreApplication>
#include <QTimer>
#include <chrono>
#include <cstdio>
#include <cstring>

#include "store/project_file.h"
#include "workspace/workspace.h"

using namespace inselberg;

namespace {

project::ProjectPtr surveyed(std::size_t points, double level) {
  project::SourceData data;
  for (std::size_t i = 0; i < points; ++i)
    data.points.push_back(
        {static_cast<double>(i % 200), static_cast<double>(i / 200), level + static_cast<double>(i % 7)});
  const auto empty = project::emptyProject("loop");
  return project::withSource(*empty, {"survey", ""}, std::move(data), empty->column.front()->id);
}

}  // namespace

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  if (argc > 2 && std::strcmp(argv[1], "save") == 0) {
    const auto a = surveyed(20000, 10), b = surveyed(26000, 500);
    for (;;) {
      store::save(*a, argv[2]);
      std::puts("saved");
      std::fflush(stdout);
      store::save(*b, argv[2]);
    }
  }
  app::Workspace workspace;
  workspace.commit(surveyed(2000, 10), "import");
  int number = 0;
  QTimer timer;
  QObject::connect(&timer, &QTimer::timeout, [&] {
    workspace.commit(project::withName(*workspace.project(), std::to_string(++number)), "rename");
    const auto now =
        std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::steady_clock::now().time_since_epoch())
            .count();
    std::printf("%d %lld\n", number, static_cast<long long>(now));
    std::fflush(stdout);
  });
  timer.start(40);
  return app.exec();
}
