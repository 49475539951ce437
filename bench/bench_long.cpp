// What a million taps cost: as files, until they are drawn, and while one looks at them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/shape_desk.h"
#include "app/main_window.h"
#include "app/model/stage_commands.h"
#include "app/panes/companion.h"
#include "app/panes/time_pane.h"
#include "app/widgets/theme.h"
#include "bench/drag.h"
#include "core/exchange/taps_file.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QTemporaryDir>
#include <QWheelEvent>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <vector>

namespace {

using namespace syntonon;

double ms_of(const std::function<void()>& act) {
    const auto begun = std::chrono::steady_clock::now();
    act();
    const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - begun;
    return took.count();
}

// A room's answer: noise that dies away within the length, 60 dB down at its end.
std::vector<double> long_answer(std::size_t length) {
    std::vector<double> taps(length);
    unsigned state = 1;
    for (std::size_t n = 0; n < length; ++n) {
        state = state * 1664525 + 1013904223;
        taps[n] = (double(state) / 4294967296.0 - 0.5) * std::exp(-6.9 * double(n) / double(length))
                  / std::sqrt(double(length));
    }
    taps[length / 8] = 1;
    return taps;
}

void measure_files(const std::vector<double>& taps) {
    const QTemporaryDir folder;
    for (const auto& [name, format] : {std::pair{"taps.txt", TapsFormat::lines},
                                       {"taps.h", TapsFormat::c_array},
                                       {"taps.wav", TapsFormat::wav},
                                       {"taps.flac", TapsFormat::flac}}) {
        const std::string path = folder.filePath(name).toStdString();
        Expected<WrittenTaps> written = refuse("", "not yet", "");
        const double out = ms_of([&] { written = write_taps(path, taps, {format}); });
        const double in = ms_of([&] { (void)read_taps(path, {}); });
        fmt::print("{:10} written and read back {:7.0f} ms, read {:6.0f} ms, {:5.1f} MB{}\n", name,
                   out, in, written ? double(written->bytes) * 1e-6 : 0.0,
                   written ? "" : " " + written.error().reason);
    }
}

void print_steps(const char* what, std::vector<double> steps) {
    std::ranges::sort(steps);
    fmt::print("{:34} median {:6.1f} ms, worst {:6.1f} ms\n", what, steps[steps.size() / 2],
               steps.back());
}

void measure_window(const std::vector<double>& taps) {
    MainWindow window;
    window.resize(1280, 800);
    window.session().replace_study(brightwater_study());
    window.show();
    paint_all();
    Session& session = window.session();
    const StageSpec spec = TapsSpec{std::make_shared<const std::vector<double>>(taps)};
    window.lower()->show_page(ShapeDesk::impulse);
    auto& time = *window.findChild<TimePane*>();
    fmt::print("{:34} {:6.0f} ms\n", "until the lanes are painted", ms_of([&] {
                   add_stage(session, spec);
                   paint_all();
               }));
    fmt::print("{:34} {:6.0f} ms (beside the window)\n", "then until the impulse stands",
               ms_of([&] {
                   while (!time.is_ready()) {
                       QApplication::processEvents();
                   }
                   paint_all();
               }));
    const auto repeated = [](const std::function<void(int)>& act) {
        std::vector<double> steps;
        for (int i = 0; i < 60; ++i) {
            steps.push_back(ms_of([&] {
                act(i);
                paint_all();
            }));
        }
        return steps;
    };
    print_steps("the impulse painted again", repeated([&](int) { time.update(); }));
    print_steps("zoomed by the wheel", repeated([&](int i) {
                    const QPointF at(200, 60);
                    QWheelEvent wheel(at, time.mapToGlobal(at), {}, {0, i < 30 ? 120 : -120},
                                      Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
                    QApplication::sendEvent(&time, &wheel);
                }));
    time.show_decibels(-120);
    print_steps("in dB, with the magnifier", repeated([&](int i) {
                    const QPointF at(100 + 4 * i, 60);
                    QMouseEvent move(QEvent::MouseMove, at, time.mapToGlobal(at), Qt::NoButton,
                                     Qt::NoButton, Qt::NoModifier);
                    QApplication::sendEvent(&time, &move);
                }));
    window.lower()->show_page(ShapeDesk::text);
    session.select_stage(session.channel()->stages.front()->id);
    print_steps("a stage above dragged", repeated([&](int i) {
                    session.edit_stage("drag", [i](Stage& stage) {
                        std::get<ParametricSpec>(stage.spec.edit()).frequency_hz = 24 + 0.1 * i;
                    });
                }));
    session.mark_saved();
}

} // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    use_theme(application, ThemeName::paper);
    const auto taps = long_answer(1 << 20);
    measure_files(taps);
    measure_window(taps);
    return 0;
}
