// Transfers into a simulated processor over this machine's loopback interface: how long 64 sections
// and 4096 taps take until they are read back and compared; and what becomes of the device when
// something goes wrong in the middle, at random; how closely a device follows a hand.
// bench_transfer [FAULTS]
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/live_settings.h"
#include "core/study/kinds.h"
#include "standin/device/device_server.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <map>
#include <memory>
#include <random>
#include <thread>
#include <vector>

namespace {

using namespace syntonon;
using namespace syntonon::oca;

constexpr int sections = 64, taps = 4096;

// Bells that no parametric object can be exactly, and an FIR; another one for each variant.
Study study_of(int variant) {
    Channel channel;
    channel.id = channel.name = "one";
    const auto add = [&](StageSpec spec) {
        Stage stage;
        stage.id = fmt::format("s{}", channel.stages.size() + 1);
        stage.spec = std::move(spec);
        channel.stages.emplace_back(std::move(stage));
    };
    for (int i = 0; i < sections; ++i) {
        ParametricSpec bell = parametric(ParametricShape::peak, 40 * std::exp2(i * 8.5 / sections),
                                         variant % 2 == 0 ? 1 : -1, 4);
        bell.mapping = ParametricMapping::nyquist_matched;
        add(bell);
    }
    std::vector<double> values(taps);
    for (int n = 0; n < taps; ++n) {
        values[static_cast<std::size_t>(n)] = std::exp(-n / 500.0) * std::cos(n * (0.1 + variant));
    }
    add(TapsSpec{std::make_shared<const std::vector<double>>(std::move(values))});
    Study study;
    study.channels = {SharedValue<Channel>(channel)};
    return study;
}

DeviceShape shape() {
    DeviceShape shape;
    shape.processor = *shipped_processor("kestrel-board");
    shape.processor.most_sections.reset();
    shape.processor.most_taps.reset();
    shape.processor.clock_hz = 1e12;
    shape.processor.coefficient_words.reset();
    shape.processor.state_words.reset();
    shape.outputs = 1;
    shape.polynomial = sections;
    shape.most_taps = taps;
    return shape;
}

Expected<TransferPlan> plan_for(const Study& study, const Connect& connect) {
    Delivery delivery;
    delivery.id = "rack";
    Briefs briefs;
    return connect()
        .and_then([](const std::unique_ptr<Controller>& device) { return read_tree(*device); })
        .and_then([&](const DeviceTree& tree) {
            delivery.device = proposed_target(study, delivery, tree, briefs);
            return plan_transfer(map_to_device(study, delivery, tree, briefs), tree,
                                 delivery.device);
        });
}

std::map<std::uint32_t, ObjectState> held(DeviceServer& device) {
    std::map<std::uint32_t, ObjectState> states;
    device.with_objects([&](DeviceObjects& objects) {
        for (const auto& [number, object] : objects.all()) {
            if (object.state) {
                states.emplace(number, *object.state);
            }
        }
    });
    return states;
}

bool measure_time(const Connect& connect) {
    std::vector<double> seconds;
    for (int i = 0; i < 20; ++i) {
        const auto plan = plan_for(study_of(i), connect);
        if (!plan) {
            fmt::print("{}\n", to_text(plan.error()));
            return false;
        }
        const TransferReport report = transfer(connect, *plan);
        if (report.end != TransferEnd::done) {
            fmt::print("{}\n", report.problem ? to_text(*report.problem) : "not done");
            return false;
        }
        seconds.push_back(report.seconds);
    }
    std::ranges::sort(seconds);
    fmt::print(
        "{} sections and {} taps set, read back, compared: median {:.3f} s, worst {:.3f} s\n",
        sections, taps, seconds[seconds.size() / 2], seconds.back());
    return true;
}

// A section wanted otherwise a thousand times a second.
bool follow(DeviceServer& device, const Connect& connect) {
    const auto controller = connect();
    const auto plan = plan_for(study_of(0), connect);
    if (!controller || !plan || transfer(connect, *plan).end != TransferEnd::done) {
        return false;
    }
    constexpr int wishes = 2000;
    TransferPlan wish = *plan;
    auto& moved = std::get<PolynomialSetting>(wish.objects[0].after).numerator[0];
    LiveSettings live(**controller, *plan_for(study_of(0), connect));
    for (int i = 0; i < wishes; ++i) {
        moved = 1 + 0.0001f * static_cast<float>(i + 1);
        live.want(wish);
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
    }
    const auto last = std::chrono::steady_clock::now();
    while (!live.state().is_settled) {
        std::this_thread::sleep_for(std::chrono::microseconds(100));
    }
    const std::chrono::duration<double, std::milli> late = std::chrono::steady_clock::now() - last;
    const LiveSettings::State state = live.state();
    const auto now = held(device).at(wish.objects[0].number);
    fmt::print("live: {} wishes in 2 s, {} set and {} passed over; the last one is held {:.1f} ms "
               "after it was wanted\n",
               wishes, state.sent, state.passed_over, late.count());
    return difference(wish.objects[0].after, now.setting) <= wish.objects[0].tolerance;
}

bool inject(DeviceServer& device, int count) {
    const Connect connect = [&] {
        return Controller::connect({"127.0.0.1", device.port()}, {1000, 250, 100, 4});
    };
    device.with_objects([](DeviceObjects& objects) { objects.reset(); });
    const auto before = held(device);
    const auto plan = plan_for(study_of(0), connect);
    if (!plan || transfer(connect, *plan).end != TransferEnd::done) {
        return false;
    }
    const auto after = held(device);
    int wholly_new = 0, wholly_old = 0, unknown = 0, wrong = 0;
    std::mt19937 random(1);
    for (int i = 0; i < count; ++i) {
        device.with_objects([](DeviceObjects& objects) { objects.reset(); });
        std::vector<Fault> faults;
        for (std::size_t k = 0; k < 1 + random() % 3; ++k) {
            faults.push_back({all_faults[random() % all_faults.size()],
                              static_cast<int>(1 + random() % (sections + 6)), 300});
        }
        device.set_faults(faults);
        const TransferReport report = transfer(connect, *plan, {}, {8, 40});
        const auto now = held(device);
        wholly_new += report.end == TransferEnd::done && now == after ? 1 : 0;
        wholly_old += report.end == TransferEnd::rolled_back && now == before ? 1 : 0;
        unknown += report.end == TransferEnd::unknown ? 1 : 0;
        wrong += report.end != TransferEnd::unknown
                         && now != (report.end == TransferEnd::done ? after : before)
                     ? 1
                     : 0;
    }
    fmt::print("{} transfers with one to three faults each: {} wholly new, {} wholly old, {} said "
               "to be unknown, {} otherwise than said\n",
               count, wholly_new, wholly_old, unknown, wrong);
    return wrong == 0;
}

} // namespace

int main(int argc, char** argv) {
    const int faults = argc > 1 ? std::max(0, std::atoi(argv[1])) : 1000;
    const auto device = DeviceServer::start(shape());
    if (!device) {
        fmt::print("{}\n", to_text(device.error()));
        return 1;
    }
    const Connect connect = [&] { return Controller::connect({"127.0.0.1", (*device)->port()}); };
    return measure_time(connect) && follow(**device, connect) && inject(**device, faults) ? 0 : 1;
}
