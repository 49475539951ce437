// A kind of stage that takes long to design, beside the window: how long the window is kept from
// painting, how soon a design stops, how often one is made. bench_slow [MOVES]; runs on the
// offscreen platform.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"
#include "app/model/take_commands.h"
#include "app/widgets/theme.h"
#include "bench/drag.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QTimer>
#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <thread>

namespace {

using namespace syntonon;
using Clock = std::chrono::steady_clock;

double ms_since(Clock::time_point start) {
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

// Gains are slow: each computes for so long without a pause, looking for the stop as it goes.
class SlowGains : public Designer {
public:
    bool is_quick(const StageSpec& spec) const override {
        return !std::holds_alternative<GainSpec>(*spec);
    }
    Expected<Design> design(const StageSpec& spec, const Brief& brief,
                            const Watch& watch) const override {
        if (is_quick(spec)) {
            return Designer::design(spec, brief, watch);
        }
        ++begun;
        const auto start = Clock::now();
        double sum = 0;
        for (const double all = takes_ms; ms_since(start) < all;) {
            if (watch.is_stopped()) {
                ended = Clock::now();
                ++stops;
                return stopped();
            }
            watch.report(ms_since(start) / all);
            for (int i = 0; i < 10000; ++i) {
                sum += std::sin(sum + i);
            }
        }
        last_sum = sum;
        return Designer::design(spec, brief, watch);
    }

    std::atomic<double> takes_ms = 0;
    mutable std::atomic<int> begun = 0, stops = 0;
    mutable std::atomic<Clock::time_point> ended;
    mutable std::atomic<double> last_sum = 0; // so that the work is not left out
};

void wait_until(const std::function<bool()>& condition) {
    while (!condition()) {
        QApplication::processEvents(QEventLoop::AllEvents, 1);
    }
}

bool is_settled(MainWindow& window) {
    return window.session().analysis()->jobs.empty();
}

void set_gain(MainWindow& window, double db) {
    window.session().select_stage("slow");
    window.session().edit_stage(
        "Gain", [db](Stage& stage) { std::get<GainSpec>(stage.spec.edit()).gain_db = db; });
}

// The longest time that the window could not have painted, with nobody touching it.
double longest_block_ms(MainWindow& window, double db) {
    double longest = 0;
    auto last = Clock::now();
    QTimer ticks;
    ticks.setTimerType(Qt::PreciseTimer);
    QObject::connect(&ticks, &QTimer::timeout, [&] {
        longest = std::max(longest, ms_since(last));
        last = Clock::now();
    });
    set_gain(window, db);
    QApplication::processEvents();
    ticks.start(1);
    last = Clock::now();
    wait_until([&] { return is_settled(window); });
    return longest;
}

DragTimes drag_another_stage(MainWindow& window, int moves) {
    window.session().select_stage(window.session().channel()->stages[4]->id);
    paint_all();
    return drag_grip(*window.lanes(), moves);
}

void print(const char* what, const DragTimes& times) {
    fmt::print("{}: median {:.2f} ms, 95th percentile {:.2f} ms, worst {:.2f} ms\n", what,
               times.median_ms, times.percentile_95_ms, times.worst_ms);
}

void measure_drags(MainWindow& window, SlowGains& designer, int moves) {
    print("drag beside nothing", drag_another_stage(window, moves));
    designer.takes_ms = 1e9;
    set_gain(window, -1);
    print("drag beside a slow design", drag_another_stage(window, moves));
    designer.takes_ms = 0;
    window.session().stop_jobs();
    window.session().start_jobs_again();
    wait_until([&] { return is_settled(window); });
}

void measure_blocks(MainWindow& window, SlowGains& designer) {
    designer.takes_ms = 1000;
    double longest = 0;
    for (int i = 0; i < 5; ++i) {
        longest = std::max(longest, longest_block_ms(window, -2 - i));
    }
    fmt::print("longest time without a chance to paint, five designs of 1 s: {:.2f} ms\n", longest);
}

void measure_stops(MainWindow& window, SlowGains& designer) {
    designer.takes_ms = 1e9;
    double slowest_stop = 0;
    for (int i = 0; i < 50; ++i) {
        const int before = designer.begun, stops = designer.stops;
        set_gain(window, 0.1 * (i + 1));
        wait_until([&] { return designer.begun > before; });
        const auto start = Clock::now();
        window.session().stop_jobs();
        while (designer.stops == stops) {
            std::this_thread::yield();
        }
        const std::chrono::duration<double, std::milli> took = designer.ended.load() - start;
        slowest_stop = std::max(slowest_stop, took.count());
    }
    fmt::print("slowest of 50 stops: {:.2f} ms\n", slowest_stop);
}

void count_designs(MainWindow& window, SlowGains& designer) {
    designer.takes_ms = 0;
    for (const double db : {-3.5, -3.6}) {
        set_gain(window, db);
        wait_until([&] { return is_settled(window); });
    }
    const int made = designer.begun;
    window.session().history().undo();
    window.session().history().redo();
    freeze_take(window.session());
    window.session().select_channel(1);
    window.session().select_channel(0);
    wait_until([&] { return is_settled(window); });
    fmt::print("designs begun by undo, redo, a take and a look at another channel: {}\n",
               designer.begun - made);
}

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    QApplication::setApplicationName("syntonon-bench");
    use_theme(application, ThemeName::paper);
    const int moves = argc > 1 ? std::max(20, std::atoi(argv[1])) : 400;
    SlowGains designer;
    MainWindow window(std::make_shared<DesignStore>(DesignStore::usual_bytes, designer));
    window.resize(1280, 800);
    window.session().replace_study(brightwater_study());
    window.show();
    window.session().edit_channel("A slow stage", [](Channel& channel) {
        Stage stage;
        stage.id = "slow";
        stage.spec = GainSpec();
        channel.stages.push_back(stage);
    });
    wait_until([&] { return is_settled(window); });

    measure_drags(window, designer, moves);
    measure_blocks(window, designer);
    measure_stops(window, designer);
    count_designs(window, designer);
    window.session().mark_saved();
}
