// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/headless.h"
#include "app/main_window.h"
#include "app/measure_start.h"
#include "app/widgets/theme.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QSettings>
#include <QTimer>
#include <algorithm>
#include <string_view>

int main(int argc, char** argv) {
    using namespace syntonon;
    const bool headless = std::any_of(
        argv, argv + argc, [](const char* a) { return std::string_view(a) == "--headless"; });
    if (headless) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
    }
    QApplication application(argc, argv);
    QApplication::setApplicationName("syntonon");
    QApplication::setApplicationDisplayName("Syntonon");
    QApplication::setApplicationVersion(SYNTONON_VERSION);
    QApplication::setDesktopFileName("syntonon");
    QApplication::setWindowIcon(QIcon(":/icons/syntonon.svg"));

    QCommandLineParser parser;
    parser.setApplicationDescription("Designs audio filters against a target.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("study", "The study to open (.syntonon).", "[study]");
    parser.addOption({"headless", "Without a display: pictures, verdict and exports of the study "
                                  "into the folder given with --out."});
    parser.addOption({"out", "The folder for --headless.", "folder"});
    parser.addOption(
        {"measure-start",
         "Print what starting costs (time to the first paint, memory, CPU while idle) and quit."});
    parser.process(application);
    const QString study = parser.positionalArguments().value(0);

    if (headless) {
        use_theme(application, ThemeName::paper);
        if (study.isEmpty() || !parser.isSet("out")) {
            qCritical("--headless: a study and --out FOLDER are needed");
            return 2;
        }
        return run_headless(study, parser.value("out"));
    }
    use_theme(application, QSettings().value("theme").toString() == "night" ? ThemeName::night
                                                                            : ThemeName::paper);
    MainWindow window;
    if (parser.isSet("measure-start")) {
        new StartMeasure(window);
    }
    window.show();
    if (!study.isEmpty()) {
        window.open_study(study);
    }
    QTimer::singleShot(0, &window, &MainWindow::offer_recovery);
    return QApplication::exec();
}
