// What the window does where its files cannot go: one folder, for the study, a delivery, a sound
// and the copies for recovery, that gets full, read-only, slow, or goes away and comes back.
//   bench_folders FOLDER          needs the right to mount there; scripts/bad-folders gives it
// Every state: saving, handing over and keeping copies each say what is the matter and the way out,
// or succeed; what was saved before stays as it was; afterwards all of it works again and the study
// is whole. Ends with 1 where one of this does not hold. SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/deliver_desk.h"
#include "app/main_window.h"
#include "app/model/bench_work.h"
#include "app/model/save_sound.h"
#include "app/model/stage_commands.h"
#include "app/panes/deliver/delivery_preview.h"
#include "app/widgets/message_bar.h"
#include "app/widgets/theme.h"
#include "core/exchange/study_folder.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <atomic>
#include <cerrno>
#include <climits>
#include <cstdio>
#include <cstring>
#include <fmt/format.h>
#include <string>
#include <string_view>
#include <sys/mount.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace {

std::atomic<int> slow_ms = 0;
std::atomic<dev_t> slow_device = 0;
std::atomic<bool> is_home_slow = true; // which is on the same volume here

bool is_in_home(int fd) {
    char path[PATH_MAX] = {};
    const std::string link = "/proc/self/fd/" + std::to_string(fd);
    return ::readlink(link.c_str(), path, sizeof path - 1) > 0
           && std::string_view(path).find("/home/") != std::string_view::npos;
}

void wait_where_slow(int fd) {
    struct stat about {};
    if (slow_ms > 0 && ::fstat(fd, &about) == 0 && about.st_dev == slow_device
        && (is_home_slow || !is_in_home(fd))) {
        ::usleep(static_cast<useconds_t>(slow_ms) * 1000);
    }
}

} // namespace

// Those of the C library stand behind: this program's own come first when it is linked.
extern "C" ssize_t write(int fd, const void* bytes, size_t size) {
    wait_where_slow(fd);
    return ::syscall(SYS_write, fd, bytes, size);
}
extern "C" int fsync(int fd) {
    wait_where_slow(fd);
    return static_cast<int>(::syscall(SYS_fsync, fd));
}

namespace {

using namespace syntonon;

constexpr const char* volume_size = "size=16m";
constexpr int slow_write_ms = 400;

QString base; // the folder of the program's argument

QString volume() {
    return base + "/volume";
}

bool done(int result, const char* what) {
    if (result != 0) {
        fmt::print("{}: {}\n", what, std::strerror(errno));
    }
    return result == 0;
}

// The volume stands elsewhere and is bound to where it is used, so that it can go and come back.
class Volume {
public:
    bool make() {
        return QDir().mkpath(base + "/kept") && QDir().mkpath(volume())
               && done(::mount("none", path(base + "/kept"), "tmpfs", 0, volume_size), "mount")
               && come_back();
    }
    static bool come_back() {
        QDir(volume()).removeRecursively(); // what was made there meanwhile
        QDir().mkpath(volume());
        return done(::mount(path(base + "/kept"), path(volume()), nullptr, MS_BIND, nullptr),
                    "bind");
    }
    static bool go_away() {
        return done(::umount2(path(volume()), MNT_DETACH), "umount") && QDir().rmdir(volume());
    }
    static bool fill() {
        QFile filler(volume() + "/filler");
        if (!filler.open(QIODevice::WriteOnly | QIODevice::Unbuffered)) {
            return false;
        }
        const QByteArray piece(4096, 'x');
        while (filler.write(piece) == piece.size()) {
        }
        return true;
    }
    static bool free_again() { return QFile::remove(volume() + "/filler"); }
    static bool make_read_only(bool is) {
        unsigned long how = MS_REMOUNT;
        how |= MS_BIND;
        if (is) {
            how |= MS_RDONLY;
        }
        return done(::mount(nullptr, path(volume()), nullptr, how, nullptr), "remount");
    }
    static bool make_slow(bool is, bool with_home = true) {
        is_home_slow = with_home;
        struct stat about {};
        ::stat(path(volume()), &about);
        slow_device = about.st_dev;
        slow_ms = is ? slow_write_ms : 0;
        return true;
    }

private:
    static const char* path(const QString& text) {
        static thread_local QByteArray kept[2];
        static thread_local int at = 0;
        at = 1 - at;
        kept[at] = text.toUtf8();
        return kept[at].constData();
    }
};

// The longest time that the window did not answer.
class Pulse {
public:
    Pulse() {
        timer_.setTimerType(Qt::PreciseTimer);
        QObject::connect(&timer_, &QTimer::timeout, [this] { note(); });
        since_.start();
        timer_.start(5);
    }
    qint64 longest_ms() const { return longest_; }
    void start_anew() {
        longest_ = 0;
        since_.start();
    }

private:
    void note() { longest_ = std::max(longest_, since_.restart()); }
    QTimer timer_;
    QElapsedTimer since_;
    qint64 longest_ = 0;
};

void go_on_for(int ms) {
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < ms) {
        QApplication::processEvents(QEventLoop::AllEvents, 5);
        ::usleep(1000);
    }
}

QByteArray bytes_of(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

struct State {
    const char* name;
    bool (*enter)();
    bool (*leave)();
    bool works; // slowly
    bool is_there;
};

class Trial {
public:
    explicit Trial(const State& state) : state_(state) {}

    bool run() {
        QDir().mkpath(folder());
        window_.resize(1280, 800);
        window_.session().replace_study(brightwater_study());
        window_.show();
        window_.show_desk(Desk::deliver);
        window_.deliver().choose("simulation");
        window_.deliver().set_folder(volume() + "/delivered");
        say_first();
        const QByteArray before = bytes_of(study_path());
        if (!hold(!before.isEmpty(), "saved and there before") || !state_.enter()) {
            return false;
        }
        fmt::print("{}\n", state_.name);
        use();
        if (state_.is_there && !state_.works) {
            hold(bytes_of(study_path()) == before, "what was saved before is as it was");
        }
        if (!state_.leave()) {
            return false;
        }
        use_again();
        window_.files().close();
        return is_right_;
    }

private:
    static QString folder() { return volume() + "/work"; }
    static QString study_path() { return folder() + "/study.syntonon"; }
    bool hold(bool what, const QString& name) {
        if (!what) {
            fmt::print("  BROKEN: {}\n", name.toStdString());
            is_right_ = false;
        }
        return what;
    }
    void say_first() {
        if (const auto saved = window_.files().save_as(study_path()); !saved) {
            fmt::print("  {}\n", to_text(saved.error()));
        }
    }
    void edit() { add_stage(window_.session(), ParametricSpec{}); }
    // It works where it should, or says why not and the way out.
    // A folder that is not there may be made again for copies and deliveries.
    void expect(const char* what, bool is_done, const QString& said, bool makes_folders = false) {
        fmt::print("  {}: {}; the window waited {} ms\n", what,
                   is_done ? "done" : said.toStdString(), pulse_.longest_ms());
        hold(is_done == state_.works || (makes_folders && !state_.is_there),
             QString("%1 where the folder is %2").arg(what, state_.name));
        hold(is_done || said.count(u';') > 0 || said.count(u':') > 1,
             QString("%1 says a way out").arg(what));
        pulse_.start_anew();
    }
    QString said_by(QWidget& where, const QString& name) {
        for (QLabel* label : where.findChildren<QLabel*>()) {
            if (label->text().startsWith(name)) {
                return label->text();
            }
        }
        return {};
    }
    void use() {
        pulse_.start_anew();
        edit();
        go_on_for(2500); // longer than a copy takes where writing is slow
        const QString said = window_.message()->isVisible() ? window_.message()->text() : QString();
        expect("copy for recovery", said.isEmpty(), said, true);
        window_.message()->hide();
        window_.save();
        const bool goes_on = window_.files().is_saving();
        if (goes_on) {
            edit();
        }
        while (window_.files().is_saving()) {
            go_on_for(10);
        }
        go_on_for(50);
        const QString bar = window_.message()->isVisible() ? window_.message()->text() : QString();
        const bool is_saved = bar.isEmpty() || bar.endsWith("is saved.");
        expect("saving", is_saved, bar);
        hold(window_.session().is_modified() == (goes_on || !is_saved),
             "what was edited meanwhile is unsaved, and nothing else");
        window_.deliver().preview()->write_button()->click();
        while (window_.deliver().is_writing()) {
            go_on_for(10);
        }
        go_on_for(50);
        QString told = said_by(*window_.deliver().preview(), "◇");
        expect("handing over", told.isEmpty(), told, true);
        SaveSound sound;
        sound.save(std::make_shared<const KeptSamples>(std::vector<double>(48'000, 0.25)), 48000,
                   folder() + "/sound.wav", {});
        while (sound.is_busy()) {
            go_on_for(10);
        }
        expect("saving a sound", !sound.has_failed(), sound.report());
    }
    void use_again() {
        edit();
        go_on_for(500);
        const auto saved = window_.files().save_as(study_path());
        hold(saved.has_value(), "saving works again");
        const auto read = open_study(study_path().toStdString());
        hold(read && read->study == window_.session().study(), "what is saved is whole");
        edit();
        go_on_for(500);
        bool is_copied = false;
        const QDir copies(volume() + "/home/.local/share/syntonon/recovery");
        for (const QFileInfo& file : copies.entryInfoList({"*.syntonon"}, QDir::Files)) {
            const auto copy = open_study(file.absoluteFilePath().toStdString());
            is_copied = is_copied || (copy && copy->study == window_.session().study());
        }
        hold(is_copied, "the copy for recovery is there again");
        QDir(volume() + "/delivered").removeRecursively();
        QFile::remove(folder() + "/sound.wav");
        QStringList left;
        for (const QFileInfo& file : QDir(folder()).entryInfoList(QDir::Files | QDir::Hidden)) {
            left.append(file.fileName());
        }
        hold(left == QStringList{"study.syntonon"}, "nothing is left lying: " + left.join(' '));
    }

    const State& state_;
    Pulse pulse_;
    MainWindow window_;
    bool is_right_ = true;
};

} // namespace

int main(int argc, char** argv) {
    std::setvbuf(stdout, nullptr, _IOLBF, 0);
    if (argc < 2) {
        fmt::print("bench_folders FOLDER\n");
        return 2;
    }
    base = QDir(QString::fromLocal8Bit(argv[1])).absolutePath();
    qputenv("QT_QPA_PLATFORM", "offscreen");
    qputenv("HOME", (volume() + "/home").toUtf8());
    for (const char* name : {"XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME"}) {
        qunsetenv(name);
    }
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName("syntonon");
    QCoreApplication::setOrganizationName("syntonon");
    use_theme(application, ThemeName::paper);
    Volume made;
    if (!made.make()) {
        return 2;
    }
    const State states[] = {
        {"full", &Volume::fill, &Volume::free_again, false, true},
        {"read-only", [] { return Volume::make_read_only(true); },
         [] { return Volume::make_read_only(false); }, false, true},
        {"gone", &Volume::go_away, &Volume::come_back, false, false},
        {"slow, 400 ms a write", [] { return Volume::make_slow(true); },
         [] { return Volume::make_slow(false); }, true, true},
        {"slow, but for the home folder", [] { return Volume::make_slow(true, false); },
         [] { return Volume::make_slow(false); }, true, true},
    };
    bool all = true;
    for (const State& state : states) {
        all = Trial(state).run() && all;
    }
    fmt::print("{}\n", all ? "all of it held" : "not all of it held");
    return all ? 0 : 1;
}
