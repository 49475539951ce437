// How long a click on another desk takes until everything is painted, with the demo and with 64
// channels of 32 stages.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/desk_frame.h"
#include "app/main_window.h"
#include "app/widgets/theme.h"
#include "bench/drag.h"
#include "bench/large_study.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <vector>

namespace {

using namespace syntonon;

double switch_ms(MainWindow& window, Desk desk) {
    const auto begun = std::chrono::steady_clock::now();
    window.show_desk(desk);
    paint_all();
    const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - begun;
    return took.count();
}

void measure(const char* name, const Study& study) {
    MainWindow window;
    window.resize(1280, 800);
    window.session().replace_study(study);
    window.show();
    window.prepare_desks(); // as the program does once its window stands
    paint_all();
    for (const Desk desk : {Desk::measure, Desk::listen, Desk::deliver, Desk::shape}) {
        const double first = switch_ms(window, desk);
        std::vector<double> later;
        for (int i = 0; i < 20; ++i) {
            switch_ms(window, desk == Desk::shape ? Desk::listen : Desk::shape);
            later.push_back(switch_ms(window, desk));
        }
        std::ranges::sort(later);
        fmt::print("{}: {:8} first {:6.1f} ms, later {:6.1f} ms (median), {:6.1f} ms (worst)\n",
                   name, key_of(desk).toStdString(), first, later[later.size() / 2], later.back());
    }
    window.session().mark_saved();
}

} // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    use_theme(application, ThemeName::paper);
    measure("demo   ", brightwater_study());
    measure("64 x 32", large_study(64, 32));
    return 0;
}
