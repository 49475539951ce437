// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/headless.h"
#include "app/main_window.h"
#include "app/measure_start.h"
#include "app/widgets/theme.h"
#include "core/base/log.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QSettings>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <fmt/core.h>
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

// Qt's own words go where ours go; what ends the program is also said on the terminal.
void log_message(QtMsgType type, const QMessageLogContext&, const QString& text) {
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
    log(LogLevel::info, "Syntonon {} on {}, Qt {}", SYNTONON_VERSION,
        QGuiApplication::platformName().toStdString(), qVersion());
    for (const auto& [level, line] : *early_words()) {
        log_line(level, line);
    }
    early_words().reset();
    return true;
}

} // namespace

int main(int argc, char** argv) {
    const bool headless = std::any_of(
        argv, argv + argc, [](const char* a) { return std::string_view(a) == "--headless"; });
    if (headless) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
    }
    qInstallMessageHandler(log_message);
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
    parser.addOption({"log-level",
                      "The least that goes into the log: debug, info (when not "
                      "given), warning, error or off.",
                      "level"});
    parser.addOption({"log-to-terminal", "Write the log to the terminal, too."});
    parser.process(application);
    if (!start_logging(parser)) {
        return 2;
    }
    const QString study = parser.positionalArguments().value(0);

    if (headless) {
        use_theme(application, ThemeName::paper);
        if (study.isEmpty() || !parser.isSet("out")) {
            fmt::print(stderr, "--headless: a study and --out FOLDER are needed\n");
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
