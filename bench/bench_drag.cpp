// From a mouse move on a grip to all visible panes painted: a 24-section chain at 1280x800 with
// three lanes and the roots pane; then a network, and weights of an FIR. bench_drag [MOVES
// [network|weights|gate|words|live]], the latter alone; runs on the offscreen platform.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/deliver_desk.h"
#include "app/desks/measure_desk.h"
#include "app/desks/shape_desk.h"
#include "app/main_window.h"
#include "app/model/device_work.h"
#include "app/panes/measure/impulse_pane.h"
#include "app/panes/measure/impulse_plot.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/trim/network_trims.h"
#include "app/panes/trim_strip.h"
#include "app/widgets/knob_bar.h"
#include "app/widgets/theme.h"
#include "bench/drag.h"
#include "core/study/chain.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QTest>
#include <algorithm>
#include <cmath>
#include <complex>
#include <fmt/format.h>
#include <fstream>
#include <sstream>

namespace {

using namespace syntonon;

constexpr int sections = 24;

Study study_with_many_sections() {
    Study study = brightwater_study();
    Channel& channel = study.channels[0].edit();
    while (channel.stages.size() < sections) {
        ParametricSpec spec;
        const auto i = static_cast<double>(channel.stages.size());
        spec.frequency_hz = 40 * std::exp2(i * 8.5 / sections);
        spec.gain_db = std::fmod(i * 0.7, 2) - 1;
        spec.width = {WidthKind::q, 2.5};
        Stage stage;
        stage.spec = spec;
        give_fresh_ids(stage, channel.stages);
        channel.stages.push_back(stage);
    }
    return study;
}

double resident_megabytes() {
    std::ifstream status("/proc/self/status");
    std::string line;
    while (std::getline(status, line)) {
        if (line.starts_with("VmRSS:")) {
            return std::stod(line.substr(6)) / 1024;
        }
    }
    return 0;
}

// What stands on the lanes while the grip is dragged.
struct Scene {
    const char* name;
    int takes;
    bool weight_lane;
    const char* words_of = ""; // the delivery as whose words the chain is seen and judged
};

void prepare(MainWindow& window, const Scene& scene) {
    Study study = study_with_many_sections();
    Channel& channel = study.channels[0].edit();
    channel.takes.clear();
    for (int i = 0; i < scene.takes; ++i) {
        Take take;
        take.id = take.name = fmt::format("take {}", i + 1);
        take.stages = channel.stages;
        std::get<ParametricSpec>(take.stages[3].edit().spec.edit()).gain_db = -6 + 0.25 * i;
        channel.takes.emplace_back(std::move(take));
    }
    window.session().replace_study(std::move(study));
    window.session().select_stage(window.session().channel()->stages[4]->id);
    window.session().plumb().set(412.0);
    window.session().plumb().pin(true);
    LaneView view = window.lanes()->view();
    view.show(Lane::weight, scene.weight_lane);
    window.lanes()->change_view(view);
    window.session().view_words(scene.words_of);
    paint_all();
}

void tell(const std::string& what, int moves, const DragTimes& times) {
    fmt::print("drag, {}, {} moves: median {:.2f} ms, 95th percentile {:.2f} ms, worst "
               "{:.2f} ms; {:.0f} MB resident\n",
               what, moves, times.median_ms, times.percentile_95_ms, times.worst_ms,
               resident_megabytes());
}

void drag(MainWindow& window, const Scene& scene, int moves) {
    prepare(window, scene);
    const DragTimes repaint = repaint_all(window, moves), times = drag_grip(*window.lanes(), moves);
    tell(fmt::format("{} sections, 1280x800, {}", sections, scene.name), moves, times);
    fmt::print(
        "      one full repaint: median {:.2f} ms; the drag's 95th percentile is {:.2f} of it\n",
        repaint.median_ms, times.percentile_95_ms / repaint.median_ms);
}

// The demo's channel as it is, then with every step set on a simulated device, too.
void drag_live(MainWindow& window, int moves) {
    window.session().replace_study(brightwater_study());
    window.session().select_stage(window.session().channel()->stages[4]->id);
    paint_all();
    tell("the demo's channel", moves, drag_grip(*window.lanes(), moves));
    DeliverDesk& desk = window.deliver();
    DeviceWork& device = desk.device_work();
    const Processor& processor = *shipped_processor("kestrel-board");
    const auto address = desk.devices().start_simulated(processor, 48000);
    if (!address) {
        fmt::print("{}\n", to_text(address.error()));
        return;
    }
    device.use_address("rack", *address);
    device.connect_device("rack");
    const auto wait = [](auto holds) { return QTest::qWaitFor(holds, 10000); };
    if (!wait([&] { return device.view("rack")->tree != nullptr; })) {
        return;
    }
    device.set_live("rack", true);
    wait([&] { return !device.is_sending(); });
    tell("the same, live on a device", moves, drag_grip(*window.lanes(), moves));
    device.set_live("rack", false);
}

// The frequency of 100 identical first-order all-passes in a loop beside the input; roots pane and
// verdict follow.
void drag_phaser(MainWindow& window, int moves) {
    Study study = brightwater_study();
    Channel channel = *channel_of(study, "aurora");
    std::string all_pass;
    visit_stages(channel.stages, [&](const Stage& stage, const Slot&, int) {
        all_pass = kind_of(stage.spec) == ParametricSpec::kind ? stage.id : all_pass;
    });
    const std::string repeat = slot_of(channel.stages, all_pass)->holder;
    edit_stage(channel.stages, repeat,
               [](Stage& stage) { std::get<RepeatSpec>(stage.spec.edit()).count = 100; });
    study.channels = {SharedValue<Channel>(channel)};
    window.session().replace_study(std::move(study));
    window.session().select_stage(all_pass);
    paint_all();
    tell("100 all-passes, 1280x800, with mix and feedback", moves,
         drag_grip(*window.lanes(), moves));
    window.show_shape_page(ShapeDesk::network);
    paint_all();
    tell("the same, the page of the network shown", moves, drag_grip(*window.lanes(), moves));
    window.show_shape_page(ShapeDesk::roots);
}

// The feedback of a comb of so many samples, on its knob.
void drag_comb(MainWindow& window, double samples, int moves) {
    Study study = brightwater_study();
    Stage delay, comb;
    delay.id = "delay";
    delay.spec = DelaySpec{DelayUnit::samples, samples};
    LoopSpec loop;
    loop.feedback = {0.5, {SharedValue<Stage>(delay)}};
    comb.id = "comb";
    comb.spec = loop;
    Channel channel;
    channel.id = channel.name = "comb";
    channel.stages = {SharedValue<Stage>(comb)};
    study.channels = {SharedValue<Channel>(channel)};
    window.session().replace_study(std::move(study));
    window.session().select_stage("comb");
    paint_all();
    KnobBar& knob = *dynamic_cast<LoopTrim&>(*window.trim()->panel()).knob();
    tell(fmt::format("a comb of {:.0f} samples, 1280x800, its feedback", samples), moves,
         drag_from(knob, QPointF(knob.x_of(0.5), 15), moves,
                   [](int i) { return QPointF(60 * std::sin(i * 0.05), 0); }));
}

// A point of an FIR's own weights on their lane; the filter is designed at every move.
void drag_weight(MainWindow& window, const FirMethod& method, int length, int moves) {
    Study study = brightwater_study();
    FirSpec fir;
    fir.method = method;
    fir.length = length;
    fir.wish.weights = {{500, 1, {}}, {4000, 1, {}}, {6000, 3, {}}, {9000, 10, {}}, {20000, 2, {}}};
    Stage stage;
    stage.id = "fir";
    stage.spec = fir;
    Channel channel;
    channel.id = channel.name = "fir";
    channel.stages = {SharedValue<Stage>(stage)};
    study.channels = {SharedValue<Channel>(channel)};
    window.session().replace_study(std::move(study));
    window.session().select_stage("fir");
    window.shape().show_weight_lane(true);
    paint_all();
    LaneStack& lanes = *window.lanes();
    tell(
        fmt::format("a weight of {} taps of {}, 1280x800", length,
                    std::holds_alternative<EquirippleFir>(method) ? "equiripple" : "least squares"),
        moves, drag_from(lanes, lanes.weight_grips().point_at(3), moves, [](int i) {
            return QPointF(20 * std::sin(i * 0.05), 15 * std::sin(i * 0.083));
        }));
    window.shape().show_weight_lane(false);
}

// A corner of the gate that all twelve of the demo's impulse responses are looked at through.
void drag_gate(MainWindow& window, int moves) {
    window.session().replace_study(brightwater_study());
    window.show_desk(Desk::measure);
    paint_all();
    ImpulsePlot& plot = *window.measure().impulse()->plot();
    tell("the gate of 12 impulse responses, 1280x800", moves,
         drag_from(plot, plot.corner(2), moves,
                   [](int i) { return QPointF(25 * std::sin(i * 0.05), 0); }));
    window.show_desk(Desk::shape);
}

// A pole of one of 24 stages of roots in the plane, relief and contour lines shown.
void drag_root(MainWindow& window, int moves) {
    Study study = study_with_many_sections();
    Channel& channel = study.channels[0].edit();
    channel.takes.clear();
    for (std::size_t i = 0; i < channel.stages.size(); ++i) {
        const double w = 0.05 + 0.12 * static_cast<double>(i);
        const std::complex<double> pole = std::polar(0.9, w), zero = std::polar(0.88, w + 0.02);
        channel.stages[i].edit().spec =
            RootsSpec{{zero, std::conj(zero)}, {pole, std::conj(pole)}, 1};
    }
    window.session().replace_study(std::move(study));
    window.session().select_stage(window.session().channel()->stages[4]->id);
    window.show_shape_page(ShapeDesk::roots);
    RootsPane& pane = *window.shape().roots_pane();
    const std::complex<double> held = std::polar(0.9, 0.05 + 0.12 * 4);
    for (const ReliefLook& look : {ReliefLook{}, ReliefLook{true, true, false, false}}) {
        pane.show_relief(look);
        paint_all();
        tell(fmt::format("a root of {} stages, 1280x800{}", sections,
                         look.shade ? ", relief and contour lines" : ""),
             moves, drag_from(pane, pane.point_of(held), moves, [](int i) {
                 return QPointF(25 * std::sin(i * 0.05), 20 * std::sin(i * 0.083));
             }));
        window.session().history().undo();
        paint_all();
    }
    pane.show_relief({});
}

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    QApplication::setApplicationName("syntonon-bench");
    use_theme(application, ThemeName::paper);
    const int moves = argc > 1 ? std::max(20, std::atoi(argv[1])) : 1000;
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (argc > 2 && std::string(argv[2]) == "weights") {
        drag_weight(window, LeastSquaresFir(), 301, moves);
        drag_weight(window, EquirippleFir(), 101, moves);
        window.session().mark_saved();
        return 0;
    }
    if (argc > 2 && std::string(argv[2]) == "gate") {
        drag_gate(window, moves);
        window.session().mark_saved();
        return 0;
    }
    if (argc > 2 && std::string(argv[2]) == "live") {
        drag_live(window, moves);
        window.session().mark_saved();
        return 0;
    }
    if (argc > 2 && std::string(argv[2]) == "words") {
        for (const Scene& scene :
             {Scene{"as designed", 0, false},
              Scene{"as the words of a fixed-point chip", 0, false, "amplifiers"},
              Scene{"as words of a lattice", 0, false, "simulation"}}) {
            drag(window, scene, moves);
        }
        window.session().mark_saved();
        return 0;
    }
    const bool network_alone = argc > 2 && std::string(argv[2]) == "network";
    for (const Scene& scene : {Scene{"goal and verdict", 0, false},
                               Scene{"goal, verdict, two takes and a weight", 2, true},
                               Scene{"goal, verdict and 50 takes", 50, false}}) {
        if (!network_alone) {
            drag(window, scene, moves);
        }
    }
    drag_root(window, moves);
    drag_phaser(window, moves);
    drag_comb(window, 480, moves);
    drag_comb(window, 48000, moves);
    drag_weight(window, LeastSquaresFir(), 301, moves);
    drag_weight(window, EquirippleFir(), 101, moves);
    drag_gate(window, moves);
    window.session().mark_saved();
    return 0;
}
