// Kills the program without mercy while it is worked with at random (stages, channels, goals,
// takes, fields in quick succession, undo, saving), many times, and says how much work neither the
// saved file nor the copies for recovery had yet, and whether what there is can be opened.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"
#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/model/take_commands.h"
#include "app/widgets/theme.h"
#include "core/exchange/study_folder.h"
#include "core/study/kinds.h"
#include "core/study/study_json.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QProcess>
#include <QTemporaryDir>
#include <QThread>
#include <QTimer>
#include <algorithm>
#include <atomic>
#include <ctime>
#include <deque>
#include <fcntl.h>
#include <fmt/format.h>
#include <mutex>
#include <optional>
#include <random>
#include <thread>
#include <unistd.h>
#include <utility>
#include <vector>

namespace {

using namespace syntonon;

constexpr double allowed_ms = 300;

double now_ms() {
    timespec now{};
    ::clock_gettime(CLOCK_MONOTONIC, &now);
    return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) * 1e-6;
}

QString saved_path(const QString& home) {
    return home + "/saved.syntonon";
}

// The study's name ends with the number of the last edit.
QString numbered(int edit) {
    return QStringLiteral("Random %1").arg(edit);
}

std::optional<int> number_in(const QString& path) {
    const auto read = open_study(path.toStdString());
    if (!read) {
        return {};
    }
    return QString::fromStdString(read->study.name).section(' ', -1).toInt();
}

// How long the machine itself stands still now and then: the longest that a flush of a few bytes
// beside the program's files took, or a wait of a moment, within the last two seconds.
class Stalls {
public:
    explicit Stalls(QString path) : path_(std::move(path)), thread_([this] { look(); }) {}
    ~Stalls() {
        ends_ = true;
        thread_.join();
    }
    double longest_ms() {
        const std::lock_guard lock(mutex_);
        double longest = 0;
        for (const auto& [at_ms, took_ms] : seen_) {
            longest = at_ms > now_ms() - looked_back_ms ? std::max(longest, took_ms) : longest;
        }
        return longest;
    }

private:
    static constexpr double looked_back_ms = 2000;

    void look() {
        constexpr unsigned long wait_ms = 10;
        const int file = ::open(path_.toUtf8().constData(), O_WRONLY | O_CREAT, 0600);
        while (!ends_) {
            const double begun = now_ms();
            QThread::msleep(wait_ms);
            [[maybe_unused]] const auto written = ::pwrite(file, "stall", 5, 0);
            ::fsync(file);
            const std::lock_guard lock(mutex_);
            seen_.emplace_back(now_ms(), now_ms() - begun - wait_ms);
            while (seen_.front().first < now_ms() - looked_back_ms) {
                seen_.pop_front();
            }
        }
        ::close(file);
    }

    QString path_;
    std::mutex mutex_;
    std::deque<std::pair<double, double>> seen_; // when it was over, how long it took
    std::atomic<bool> ends_ = false;
    std::thread thread_;
};

// What hands do to a study, in any order.
class Hands {
public:
    explicit Hands(MainWindow& window)
        : window_(window), session_(window.session()), random_(unsigned(::getpid())) {}

    std::size_t below(std::size_t count) {
        return std::uniform_int_distribution<std::size_t>(0, count - 1)(random_);
    }
    void do_something() {
        const std::size_t channels = session_.study().channels.size();
        if (channels > 0 && below(3) == 0) {
            session_.select_channel(static_cast<int>(below(channels)));
        }
        const bool has_stage = select_any_stage();
        constexpr std::size_t ways = 12;
        switch (below(ways)) {
        case 0:
            return add_stage(session_, ParametricSpec{});
        case 1:
            return has_stage ? remove_stage(session_, session_.selection().stage) : void();
        case 2:
            return has_stage ? duplicate_stage(session_, session_.selection().stage) : void();
        case 3:
            return has_stage ? shift_stage(session_, session_.selection().stage, 1) : void();
        case 4:
            return has_stage ? switch_stage(session_, session_.selection().stage, below(2) == 0)
                             : void();
        case 5:
            return channels < 8 ? add_channel(session_) : remove_channel(session_, 0);
        case 6:
            return channels > 0 ? rename_channel(session_, 0, numbered(int(below(100)))) : void();
        case 7:
            return freeze_take(session_);
        case 8:
            return add_goal(session_);
        case 9:
            return session_.history().undo();
        default:
            return;
        }
    }
    void save(const QString& home) {
        window_.files().save(saved_path(home), [](const Expected<void>& saved) {
            if (!saved) {
                fmt::print("{}\n", to_text(saved.error()));
            }
        });
    }

private:
    bool select_any_stage() {
        const Channel* channel = session_.channel();
        if (channel == nullptr || channel->stages.empty()) {
            return false;
        }
        session_.select_stage(channel->stages[below(channel->stages.size())]->id);
        return session_.stage() != nullptr;
    }

    MainWindow& window_;
    Session& session_;
    std::mt19937 random_;
};

// Edits at random moments, now and then in quick succession as a drag does, until it is killed.
int work(const QString& log_path) {
    const int log = ::open(log_path.toUtf8().constData(), O_WRONLY | O_CREAT | O_APPEND, 0600);
    const QString home = QFileInfo(log_path).path();
    MainWindow window;
    window.session().replace_study(brightwater_study());
    window.show();
    Hands hands(window);
    int edits = 0, left_in_drag = 0;
    QTimer timer;
    timer.setSingleShot(true);
    QObject::connect(&timer, &QTimer::timeout, [&] {
        ++edits;
        if (left_in_drag == 0) {
            hands.do_something();
        }
        window.session().edit(QStringLiteral("edit"), [&](Study& study) {
            study.name = numbered(edits).toStdString();
            study.sample_rate_hz = 48'000 + edits % 3;
        });
        const std::string line = fmt::format("{} {:.3f}\n", edits, now_ms());
        [[maybe_unused]] const auto written = ::write(log, line.data(), line.size());
        if (left_in_drag > 0) {
            --left_in_drag;
        } else if (hands.below(4) == 0) {
            left_in_drag = 40;
        } else if (hands.below(8) == 0) {
            hands.save(home);
        }
        timer.start(left_in_drag > 0 ? 16 : 1 + static_cast<int>(hands.below(300)));
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

// The newest edit that is on the disk below a home folder, saved or as a copy; 0 without one, -1
// where a file cannot be opened.
int kept_edit(const QString& home) {
    const QDir folder(home + "/.local/share/syntonon/recovery");
    QStringList paths;
    for (const QFileInfo& copy : folder.entryInfoList({"*.syntonon"}, QDir::Files)) {
        paths.append(copy.absoluteFilePath());
    }
    if (QFile::exists(saved_path(home))) {
        paths.append(saved_path(home));
    }
    int newest = 0;
    for (const QString& path : paths) {
        const auto number = number_in(path);
        if (!number) {
            return -1;
        }
        newest = std::max(newest, *number);
    }
    return newest;
}

struct Outcome {
    double lost_ms = 0;    // age of the oldest lost edit
    double stalled_ms = 0; // the machine, at the longest, about then
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
    Stalls stalls(home.path() + "/stalls");
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
    outcome.stalled_ms = stalls.longest_ms();
    const auto edits = read_log(log);
    outcome.has_edits = !edits.empty();
    const int kept = kept_edit(home.path());
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
    int damaged = 0, late = 0, unexplained = 0, idle = 0, most_lost = 0;
    for (int i = 0; i < times; ++i) {
        const Outcome outcome = kill_once(random);
        damaged += outcome.is_damaged ? 1 : 0;
        idle += outcome.has_edits ? 0 : 1;
        most_lost = std::max(most_lost, outcome.lost);
        lost_ms.push_back(outcome.lost_ms);
        if (outcome.lost_ms > allowed_ms) {
            ++late;
            unexplained += outcome.lost_ms > allowed_ms + outcome.stalled_ms ? 1 : 0;
            fmt::print("kill {}: {:.0f} ms lost; the machine stood still for {:.0f} ms\n", i + 1,
                       outcome.lost_ms, outcome.stalled_ms);
        }
    }
    std::ranges::sort(lost_ms);
    fmt::print("{} kills ({} before the first edit): {} damaged; the oldest lost edit was at most "
               "{:.0f} ms old, median {:.0f} ms; {} above {:.0f} ms, {} of them while the machine "
               "did not stand still that long; at most {} edits lost\n",
               times, idle, damaged, lost_ms.back(), lost_ms[lost_ms.size() / 2], late, allowed_ms,
               unexplained, most_lost);
    return damaged == 0 && unexplained == 0 && idle == 0 ? 0 : 1;
}

} // namespace

int main(int argc, char** argv) {
    std::setvbuf(stdout, nullptr, _IOLBF, 0);
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
