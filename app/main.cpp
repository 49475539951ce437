// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/end_signals.h"
#include "app/headless.h"
#include "app/help/manual_window.h"
#include "app/main_window.h"
#include "app/measure_start.h"
#include "app/tour/tour.h"
#include "app/widgets/theme.h"
#include "core/base/log.h"
#include "core/base/version.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QSessionManager>
#include <QSettings>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <fmt/core.h>
#include <initializer_list>
#include <optional>
#include <string_view>
#include <utility>
#include <vector>

namespace {

using namespace syntonon;

LogLevel level_of(QtMsgType type) {
    switch (type) {
    case QtDebugMsg:
        return LogLevel::debug;
    case QtInfoMsg:
        return LogLevel::info;
    case QtWarningMsg:
        return LogLevel::warning;
    case QtCriticalMsg:
    case QtFatalMsg:
        break;
    }
    return LogLevel::error;
}

// What Qt said before the command line was read and so the log begun.
std::optional<std::vector<std::pair<LogLevel, std::string>>>& early_words() {
    static std::optional<std::vector<std::pair<LogLevel, std::string>>> words(std::in_place);
    return words;
}

constexpr int exit_wrong = 2;
constexpr auto no_display =
    "syntonon: there is no display to open a window on; start it on a desktop (or set DISPLAY or "
    "WAYLAND_DISPLAY), or use --headless with --out FOLDER";

// Whether the application object has been made.
bool& is_up() {
    static bool up = false;
    return up;
}

// Qt's own words go where ours go; what ends the program is also said on the terminal.
void log_message(QtMsgType type, const QMessageLogContext&, const QString& text) {
    if (type == QtFatalMsg && !is_up()) {
        // The one thing that stops Qt that early; its own words name plugins.
        fmt::print(stderr, "{}\n", no_display);
        std::_Exit(exit_wrong);
    }
    const LogLevel level = level_of(type);
    const std::string line = text.toStdString();
    if (early_words()) {
        early_words()->emplace_back(level, line);
    }
    log_line(level, line);
    if (level == LogLevel::error) {
        fmt::print(stderr, "{}\n", line);
    }
}

// False when an option is wrong, which has then been said.
bool start_logging(const QCommandLineParser& parser) {
    LogOptions options;
    options.on_terminal = parser.isSet("log-to-terminal");
    if (parser.isSet("log-level")) {
        const auto level = log_level_from_key(parser.value("log-level").toStdString());
        if (!level) {
            fmt::print(stderr,
                       "--log-level: “{}” is no level; use debug, info, warning, error or off\n",
                       parser.value("log-level").toStdString());
            return false;
        }
        options.level = *level;
    }
    const bool asked = options.on_terminal || parser.isSet("log-level");
    if (const auto file = start_log("syntonon", options); !file && asked) {
        fmt::print(stderr, "{}\n", to_text(file.error()));
    }
    log(LogLevel::info, "{} on {}, Qt {}", version_text("Syntonon"),
        QGuiApplication::platformName().toStdString(), qVersion());
    for (const auto& [level, line] : *early_words()) {
        log_line(level, line);
    }
    early_words().reset();
    return true;
}

bool is_asked(int argc, char** argv, std::initializer_list<std::string_view> options) {
    return std::any_of(argv, argv + argc, [&](const char* argument) {
        return std::find(options.begin(), options.end(), argument) != options.end();
    });
}

void describe(QCommandLineParser& parser) {
    parser.setApplicationDescription("Designs audio filters against a target.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("study", "The study to open (.syntonon).", "[study]");
    parser.addOption({"headless", "Without a display: pictures, verdict and exports of the study "
                                  "into the folder given with --out."});
    parser.addOption({"out", "The folder for --headless.", "folder"});
    parser.addOption({"tour", "The first hour: a tour through the demo study, apart from your own "
                              "work and settings."});
    parser.addOption(
        {"measure-start",
         "Print what starting costs (time to the first paint, memory, CPU while idle) and quit."});
    parser.addOption({"log-level",
                      "The least that goes into the log: debug, info (when not "
                      "given), warning, error or off.",
                      "level"});
    parser.addOption({"log-to-terminal", "Write the log to the terminal, too."});
}

void name_application() {
    QCoreApplication::setApplicationName("syntonon");
    QCoreApplication::setOrganizationName("syntonon"); // the folder of its settings
    QCoreApplication::setApplicationVersion(
        QString::fromStdString(fmt::format("{}, built from {}", version(), built_from())));
}

// What needs no window needs no display.
int answer_without_display(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    name_application();
    QCommandLineParser parser;
    describe(parser);
    parser.process(application); // says it and exits
    return 0;
}

bool has_display(int argc, char** argv) {
    const auto is_set = [](const char* name) { return !qEnvironmentVariableIsEmpty(name); };
    return is_set("DISPLAY") || is_set("WAYLAND_DISPLAY") || is_set("QT_QPA_PLATFORM")
           || is_asked(argc, argv, {"-platform"});
}

int run_window(QApplication& application, const QCommandLineParser& parser) {
    use_theme(application, QSettings().value("theme").toString() == "night" ? ThemeName::night
                                                                            : ThemeName::paper);
    const QString study = parser.positionalArguments().value(0);
    application.installEventFilter(new ManualKey(&application));
    MainWindow window;
    EndSignals ends;
    QObject::connect(&ends, &EndSignals::end_asked_for, &application,
                     &MainWindow::end_all_on_request);
    // The desktop's logout: kept without a question that nobody may be there to answer.
    QObject::connect(
        &application, &QGuiApplication::commitDataRequest, &application,
        [](QSessionManager&) { MainWindow::end_all_on_request(); }, Qt::DirectConnection);
    if (parser.isSet("measure-start")) {
        new StartMeasure(window);
    }
    if (!study.isEmpty()) {
        window.open_study(study);
    }
    window.show();
    if (parser.isSet("tour")) {
        QTimer::singleShot(0, &window, [&window] { new Tour(window); });
    } else {
        QTimer::singleShot(0, &window, &MainWindow::offer_recovery);
    }
    constexpr int after_first_paint_ms = 300;
    QTimer::singleShot(after_first_paint_ms, &window, &MainWindow::prepare_desks);
    return QApplication::exec();
}

} // namespace

int main(int argc, char** argv) {
    if (is_asked(argc, argv, {"--help", "-h", "--help-all", "--version", "-v"})) {
        return answer_without_display(argc, argv);
    }
    const bool headless = is_asked(argc, argv, {"--headless"});
    if (headless) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
    }
    if (!has_display(argc, argv)) {
        fmt::print(stderr, "{}\n", no_display);
        return exit_wrong;
    }
    if (is_asked(argc, argv, {"--tour"}) && !use_home_of_tour()) {
        fmt::print(stderr,
                   "syntonon: no folder for the tour can be made; free space where temporary "
                   "files are kept, or set TMPDIR\n");
        return exit_wrong;
    }
    qInstallMessageHandler(log_message);
    QApplication application(argc, argv);
    is_up() = true;
    name_application();
    QApplication::setApplicationDisplayName("Syntonon");
    QApplication::setDesktopFileName("syntonon");
    Q_INIT_RESOURCE(resources); // of the library
    QApplication::setWindowIcon(QIcon(":/icons/syntonon.svg"));
    QCommandLineParser parser;
    describe(parser);
    parser.process(application);
    if (!start_logging(parser)) {
        return exit_wrong;
    }
    if (!headless) {
        return run_window(application, parser);
    }
    use_theme(application, ThemeName::paper);
    const QString study = parser.positionalArguments().value(0);
    if (study.isEmpty() || !parser.isSet("out")) {
        fmt::print(stderr, "--headless: a study and --out FOLDER are needed\n");
        return exit_wrong;
    }
    return run_headless(study, parser.value("out"));
}
