// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/measure_start.h"

#include "app/desks/desk_frame.h"
#include "app/main_window.h"

#include <QApplication>
#include <QEvent>
#include <QTimer>
#include <ctime>
#include <fmt/format.h>
#include <fstream>
#include <sstream>
#include <string>
#include <unistd.h>

namespace syntonon {
namespace {

constexpr int settle_ms = 1000, idle_ms = 5000;

// proc(5): field 22 of /proc/self/stat is the start time in clock ticks since boot.
double milliseconds_since_process_start() {
    std::ifstream stat("/proc/self/stat");
    std::string text;
    std::getline(stat, text);
    std::istringstream fields(text.substr(text.rfind(')') + 2));
    std::string field;
    constexpr int start_time = 22 - 3; // counted from the field behind the name
    for (int i = 0; i <= start_time; ++i) {
        fields >> field;
    }
    timespec now{};
    ::clock_gettime(CLOCK_BOOTTIME, &now);
    const double ticks = std::stod(field) / static_cast<double>(::sysconf(_SC_CLK_TCK));
    return (static_cast<double>(now.tv_sec) + static_cast<double>(now.tv_nsec) * 1e-9 - ticks)
           * 1e3;
}

double cpu_seconds() {
    timespec used{};
    ::clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &used);
    return static_cast<double>(used.tv_sec) + static_cast<double>(used.tv_nsec) * 1e-9;
}

double resident_megabytes() {
    std::ifstream statm("/proc/self/statm");
    double total = 0, resident = 0;
    statm >> total >> resident;
    return resident * static_cast<double>(::sysconf(_SC_PAGESIZE)) / (1024 * 1024);
}

} // namespace

StartMeasure::StartMeasure(MainWindow& window) : QObject(&window), window_(window) {
    // The lanes themselves are covered by what stands on them, and so are never painted.
    QApplication::instance()->installEventFilter(this);
}

bool StartMeasure::eventFilter(QObject* watched, QEvent* event) {
    const auto* widget = qobject_cast<QWidget*>(watched);
    if (event->type() == QEvent::Paint && !painted_ && widget != nullptr
        && window_.frame()->isAncestorOf(widget)) {
        painted_ = true;
        // After this paint has reached the screen, and its neighbours theirs.
        QTimer::singleShot(0, this, [this] {
            first_paint_ms_ = milliseconds_since_process_start();
            QTimer::singleShot(settle_ms, this, [this] {
                cpu_seconds_ = cpu_seconds();
                QTimer::singleShot(idle_ms, this, &StartMeasure::report);
            });
        });
    }
    return QObject::eventFilter(watched, event);
}

void StartMeasure::report() {
    fmt::print("first paint after {:.0f} ms (to the clock tick of 10 ms); {:.0f} MB resident; "
               "{:.1f} ms of CPU in {} idle seconds\n",
               first_paint_ms_, resident_megabytes(), (cpu_seconds() - cpu_seconds_) * 1e3,
               idle_ms / 1000);
    window_.close();
    QApplication::quit();
}

} // namespace syntonon
