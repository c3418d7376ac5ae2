// The desktop program: inselberg [FILE...]
#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QScreen>
#include <QSettings>
#include <QTimer>
#include <csignal>

#include "base/error.h"
#include "theme/theme.h"
#include "window/main_window.h"

namespace {

constexpr auto kPlace = "window";  // a setting: where the window was left, and how large

// As it was left. At first it fills a screen on which it would not stand whole with its title bar.
void showAsLeft(inselberg::app::MainWindow& window) {
  if (!window.restoreGeometry(QSettings().value(kPlace).toByteArray())) {
    constexpr int kTitleBar = 48;
    const QSize room = window.screen()->availableSize(), needed = window.size() + QSize(0, kTitleBar);
    if (room.width() < needed.width() || room.height() < needed.height())
      window.setWindowState(window.windowState() | Qt::WindowMaximized);
  }
  window.show();
}

}  // namespace

int main(int argc, char** argv) {
  std::signal(SIGXFSZ, SIG_IGN);  // a file that may not grow is told as an error of writing it
  QApplication app(argc, argv);
  QCoreApplication::setApplicationName("inselberg");
  QCoreApplication::setOrganizationName("inselberg");
  QCoreApplication::setApplicationVersion(INSELBERG_VERSION);
  QGuiApplication::setDesktopFileName("inselberg");
  QApplication::setWindowIcon(QIcon::fromTheme("inselberg"));
  QCommandLineParser parser;
  parser.setApplicationDescription("Earthworks for a site, from survey to balanced ground");
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument("FILE", "A project to open (.inselberg), or files to bring in", "[FILE...]");
  parser.process(app);
  namespace theme = inselberg::app::theme;
  theme::choose(theme::remembered());
  try {
    inselberg::app::MainWindow window;
    showAsLeft(window);
    QObject::connect(&app, &QApplication::aboutToQuit, &window,
                     [&window] { QSettings().setValue(kPlace, window.saveGeometry()); });
    QTimer::singleShot(0, &window, [&] {
      window.offerRecovery();
      if (!window.workspace().unsaved()) window.take(parser.positionalArguments());
    });
    return app.exec();
  } catch (const inselberg::Error& e) {
    qCritical("inselberg: %s", e.what());
    return 1;
  }
}
