// What recursive fits cost and how good they are: bench_fitted [RESTARTS]
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/spent.h"
#include "core/base/units.h"
#include "core/design/classical.h"
#include "core/fit/recursive/find_roots.h"
#include "core/fit/recursive/impulse_models.h"
#include "core/fit/recursive/joint_delays.h"
#include "core/math/seeded.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>

using namespace syntonon;

namespace {

constexpr double rate_hz = 48'000, most_q = 100;
constexpr std::size_t places = 600;

// 12 to 31 bells, a tenth of an octave to one wide, on a slope, from 20 Hz to 20 kHz.
ResponseAim target(int number) {
    Seeded random(number + 1);
    struct Bell {
        double place, height, width;
    };
    std::vector<Bell> bells;
    for (int i = 0; i < 12 + number; ++i) {
        bells.push_back({random.uniform(), random.between(-8, 8), random.between(0.01, 0.08)});
    }
    const double slope = random.between(-6, 6);
    ResponseAim aim;
    for (std::size_t i = 0; i < places; ++i) {
        const double place = static_cast<double>(i) / (places - 1);
        aim.hz.push_back(20 * std::pow(1000.0, place));
        double level = slope * place;
        for (const Bell& bell : bells) {
            const double off = (place - bell.place) / bell.width;
            level += bell.height * std::exp(-off * off / 2);
        }
        aim.level_db.push_back(level);
    }
    aim.weight.assign(places, 1);
    return aim;
}

RootFactors from_random(Seeded& random, const JointRoots& task, int order) {
    RootFactors all;
    for (int i = 0; i < order / 2; ++i) {
        const auto place = [&] {
            return log_image(20 * std::pow(1000.0, random.uniform()), rate_hz);
        };
        all.all.push_back({true, true, place(), random.between(-3, 1)});
        all.all.push_back({false, true, place(), std::asinh(std::exp(random.between(-3, 1)) / 2)});
    }
    all.gain_db = task.best_gain_db(all);
    task.refine(all, {300, 1e-6, {}}, Watch());
    return all;
}

void measure_targets(int restarts) {
    constexpr int targets = 20;
    for (const int order : {6, 10, 20, 30, 60}) {
        std::vector<double> rms, seconds, against;
        for (int number = 0; number < targets; ++number) {
            const ResponseAim aim = target(number);
            const JointRoots task(aim, rate_hz, most_q);
            RootFactors found;
            seconds.push_back(
                spent_on([&] {
                    found = find_roots(aim, rate_hz, {order, order, most_q, false}, Watch());
                }).cpu_s);
            rms.push_back(std::sqrt(task.cost(found)));
            Seeded random(1000 + number);
            double best = infinity;
            const bool is_compared = order == 10 || order == 30; // else it takes hours
            for (int k = 0; k < restarts && is_compared; ++k) {
                best = std::min(best, std::sqrt(task.cost(from_random(random, task, order))));
            }
            against.push_back(rms.back() / best);
        }
        for (auto* values : {&rms, &seconds, &against}) {
            std::ranges::sort(*values);
        }
        fmt::print("order {:2} to {} places: rms {:.4f} dB (worst target {:.4f}), {:.2f} s of CPU "
                   "({:.2f})",
                   order, places, rms[targets / 2], rms.back(), seconds[targets / 2],
                   seconds.back());
        if (against[0] > 0) {
            fmt::print("; {:.2f} of the best of {} random starts ({:.2f}; {} of {} within 1.05)",
                       against[targets / 2], restarts, against.back(),
                       std::ranges::count_if(against, [](double r) { return r <= 1.05; }), targets);
        }
        fmt::print("\n");
    }
}

// An elliptic passband of eighth order, flattened by six sections.
void measure_delays() {
    struct Case {
        double edge_hz, ripple_db, attenuation_db;
    };
    for (const Case& of : {Case{4000, 0.1, 80},
                           {4000, 0.1, 120},
                           {1000, 0.1, 80},
                           {8000, 0.1, 80},
                           {4000, 0.5, 60}}) {
        ClassicalSpec low_pass;
        low_pass.family = ClassicalFamily::elliptic;
        low_pass.order = 8;
        low_pass.pass_ripple_db = of.ripple_db;
        low_pass.stop_attenuation_db = of.attenuation_db;
        low_pass.edges_hz = {of.edge_hz};
        const auto grid = *FrequencyGrid::linear(20, of.edge_hz, places, rate_hz);
        DelayAim aim;
        aim.hz.assign(grid.frequency_hz().begin(), grid.frequency_hz().end());
        aim.delay_samples = design(low_pass, brief_at(Axis{rate_hz}), Watch())
                                ->filter.response(grid)
                                .group_delay_samples;
        aim.weight.assign(places, 1);
        AllPasses found;
        const Spent cost =
            spent_on([&] { found = find_delays(aim, rate_hz, 12, most_q, true, Watch()); });
        const auto variation = [&](const std::vector<double>& added) {
            std::vector<double> sum = aim.delay_samples;
            std::ranges::transform(sum, added, sum.begin(), std::plus());
            return std::ranges::max(sum) - std::ranges::min(sum);
        };
        const double before = variation(std::vector<double>(places, 0.0));
        const double after = variation(JointDelays(aim, rate_hz, most_q).delay_samples(found));
        fmt::print(
            "elliptic of order 8, {} dB, {} dB, {} Hz: delay varies by {:.1f} samples, {:.1f} "
            "with six sections ({:.1f} times less); {:.2f} s of CPU\n",
            of.ripple_db, of.attenuation_db, of.edge_hz, before, after, before / after, cost.cpu_s);
    }
}

// Taps that ring like a room's first modes, modelled by each method.
void measure_models() {
    for (const std::size_t length : {512UL, 1024UL, 2048UL}) {
        Seeded random(7);
        std::vector<double> taps(length, 0.0);
        for (int mode = 0; mode < 12; ++mode) {
            const double w = random.between(0.01, 1), falls = random.between(0.003, 0.02);
            for (std::size_t n = 0; n < length; ++n) {
                const auto time = static_cast<double>(n);
                taps[n] += std::exp(-falls * time) * std::cos(w * time);
            }
        }
        constexpr int order = 20;
        const double balanced =
            spent_on([&] { static_cast<void>(balanced_truncation(taps, order)); }).cpu_s;
        const double iterated =
            spent_on([&] {
                static_cast<void>(steiglitz_mcbride(taps, order, order, Watch()));
            }).cpu_s;
        fmt::print("models of order {} of {} samples: balanced truncation {:.2f} s of CPU, "
                   "Steiglitz-McBride {:.2f} s\n",
                   order, length, balanced, iterated);
    }
}

} // namespace

int main(int argc, char** argv) {
    measure_delays();
    measure_models();
    measure_targets(argc > 1 ? std::atoi(argv[1]) : 0);
}
