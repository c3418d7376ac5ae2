#define CATCH_CONFIG_RUNNER
#include <QApplication>
#include <QStandardPaths>
#include <catch2/catch.hpp>
#include <string_view>

#include "support/figures.h"

int main(int argc, char** argv) {
  // Settings and recovery files of the tests stay apart from the user's.
  const inselberg::testing::Scratch scratch;
  qputenv("XDG_STATE_HOME", (scratch / "state").c_str());
  qputenv("XDG_CONFIG_HOME", (scratch / "config").c_str());
  // Listing the tests, as the build does, needs no screen.
  for (int i = 1; i < argc; ++i) {
    if (std::string_view(argv[i]).starts_with("--list")) qputenv("QT_QPA_PLATFORM", "offscreen");
  }
  QApplication app(argc, argv);
  QCoreApplication::setApplicationName("inselberg-tests");
  QCoreApplication::setOrganizationName("inselberg-tests");
  return Catch::Session().run(argc, argv);
}
