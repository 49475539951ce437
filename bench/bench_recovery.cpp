// Kills the program without mercy while it is worked with, many times, and says how much work the
// copies for recovery had not yet.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"
#include "app/model/recovery.h"
#include "app/widgets/theme.h"
#include "core/study/kinds.h"
#include "core/study/study_json.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QThread>
#include <QTimer>
#include <algorithm>
#include <ctime>
#include <fcntl.h>
#include <fmt/format.h>
#include <random>
#include <unistd.h>
#include <vector>

namespace {

using namespace syntonon;

constexpr double allowed_ms = 200;

double now_ms() {
    timespec now{};
    ::clock_gettime(CLOCK_MONOTONIC, &now);
    return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) * 1e-6;
}

// The number of the last edit is the sample rate's odd part: a field of the study like any other.
constexpr double base_rate_hz = 48'000;

// Edits at random moments, now and then in quick succession as a drag does, until it is killed.
int work(const QString& log_path) {
    const int log = ::open(log_path.toUtf8().constData(), O_WRONLY | O_CREAT | O_APPEND, 0600);
    MainWindow window;
    window.session().replace_study(brightwater_study());
    window.show();
    std::mt19937 random(static_cast<unsigned>(::getpid()));
    int edits = 0, left_in_drag = 0;
    QTimer timer;
    timer.setSingleShot(true);
    QObject::connect(&timer, &QTimer::timeout, [&] {
        ++edits;
        window.session().edit(QStringLiteral("edit"),
                              [&](Study& study) { study.sample_rate_hz = base_rate_hz + edits; });
        const std::string line = fmt::format("{} {:.3f}\n", edits, now_ms());
        [[maybe_unused]] const auto written = ::write(log, line.data(), line.size());
        if (left_in_drag > 0) {
            --left_in_drag;
        } else if (std::uniform_int_distribution(0, 3)(random) == 0) {
            left_in_drag = 40;
        }
        timer.start(left_in_drag > 0 ? 16 : std::uniform_int_distribution(1, 300)(random));
    });
    timer.start(1);
    return QApplication::exec();
}

struct Edit {
    int number;
    double at_ms;
};

std::vector<Edit> read_log(const QString& path) {
    std::vector<Edit> edits;
    QFile file(path);
    if (file.open(QIODevice::ReadOnly)) {
        for (const QByteArray& line : file.readAll().split('\n')) {
            const auto fields = line.split(' ');
            if (fields.size() == 2) {
                edits.push_back({fields[0].toInt(), fields[1].toDouble()});
            }
        }
    }
    return edits;
}

// Of the newest copy below a home folder; 0 without one, -1 for one that cannot be read.
int recovered_edit(const QString& home) {
    const QDir folder(home + "/.local/share/syntonon/recovery");
    const auto copies = folder.entryInfoList({"*.syntonon"}, QDir::Files, QDir::Time);
    if (copies.isEmpty()) {
        return 0;
    }
    const auto read = load_study(copies.front().absoluteFilePath().toStdString());
    return read ? static_cast<int>(read->study.sample_rate_hz - base_rate_hz) : -1;
}

struct Outcome {
    double lost_ms = 0; // age of the oldest lost edit
    int lost = 0;
    bool is_damaged = false, has_edits = false;
};

Outcome kill_once(std::mt19937& random) {
    const QTemporaryDir home;
    const QString log = home.path() + "/edits";
    QProcess program;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("HOME", home.path());
    for (const char* name : {"XDG_DATA_HOME", "XDG_CONFIG_HOME"}) {
        environment.remove(name);
    }
    program.setProcessEnvironment(environment);
    program.start(QCoreApplication::applicationFilePath(), {"--work", log});
    program.waitForStarted();
    const double begun = now_ms();
    while (read_log(log).empty() && now_ms() - begun < 20'000) {
        QThread::msleep(2);
    }
    QThread::msleep(std::uniform_int_distribution<unsigned long>(1, 1200)(random));
    program.kill();
    const double killed = now_ms();
    program.waitForFinished();
    Outcome outcome;
    const auto edits = read_log(log);
    outcome.has_edits = !edits.empty();
    const int kept = recovered_edit(home.path());
    outcome.is_damaged = kept < 0;
    for (const Edit& edit : edits) {
        if (edit.number > kept) {
            outcome.lost_ms = std::max(outcome.lost_ms, killed - edit.at_ms);
            ++outcome.lost;
        }
    }
    return outcome;
}

int kill_often(int times) {
    std::mt19937 random(2026);
    std::vector<double> lost_ms;
    int damaged = 0, late = 0, idle = 0, most_lost = 0;
    for (int i = 0; i < times; ++i) {
        const Outcome outcome = kill_once(random);
        damaged += outcome.is_damaged ? 1 : 0;
        idle += outcome.has_edits ? 0 : 1;
        late += outcome.lost_ms > allowed_ms ? 1 : 0;
        most_lost = std::max(most_lost, outcome.lost);
        lost_ms.push_back(outcome.lost_ms);
    }
    std::ranges::sort(lost_ms);
    fmt::print("{} kills ({} before the first edit): {} damaged; the oldest lost edit was at most "
               "{:.0f} ms old, median {:.0f} ms, {} above {:.0f} ms; at most {} edits lost\n",
               times, idle, damaged, lost_ms.back(), lost_ms[lost_ms.size() / 2], late, allowed_ms,
               most_lost);
    return damaged == 0 && late == 0 && idle == 0 ? 0 : 1;
}

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName("syntonon");
    const QStringList arguments = QCoreApplication::arguments();
    if (arguments.value(1) == "--work") {
        use_theme(application, ThemeName::paper);
        return work(arguments.value(2));
    }
    return kill_often(arguments.size() > 1 ? arguments[1].toInt() : 200);
}
