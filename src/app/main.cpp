// The desktop program: inselberg [FILE...]
#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QTimer>
#include <csignal>

#include "base/error.h"
#include "theme/theme.h"
#include "window/main_window.h"

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
    window.show();
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
