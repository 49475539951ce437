// Choosing an FIR: every method for a goal, one after the other in one thread; and the weights that
// fill a corridor, held against a long random search. bench_ways [TRIALS]
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/fir/hug_corridor.h"
#include "core/filter/form.h"
#include "core/goal/verdict.h"
#include "core/study/kinds.h"
#include "core/study/ways/ways.h"
#include "core/study/wished.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <random>

namespace {

using namespace syntonon;

constexpr double rate = 48000;

double seconds_since(std::chrono::steady_clock::time_point begun) {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
}

std::shared_ptr<const ResolvedGoal> worked_out(const Goal& goal) {
    return std::make_shared<const ResolvedGoal>(resolved(goal, rate, LevelOf::chain_alone));
}

// About 90 taps of most windows, 66 of the optimum.
Goal band_pass_goal() {
    Goal goal;
    goal.corridor = {{0, 5000, -50.0, {}, true, {}},
                     {6500, 11000, 0.4, 0.4, true, {}},
                     {12500, 24000, -50.0, {}, true, {}}};
    return goal;
}

void find_all_methods() {
    const auto begun = std::chrono::steady_clock::now();
    const Ways ways({worked_out(band_pass_goal()), Axis(rate), {}});
    int met = 0;
    for (std::size_t i = 0; i < ways.size(); ++i) {
        met += ways.found(i, {}).meets_level ? 1 : 0;
    }
    fmt::print("all methods for a band-pass, one thread: {:.2f} s, {} of {} meet it\n",
               seconds_since(begun), met, ways.size());
}

// A passband, and a ceiling that falls or rises by so many dB an octave, perhaps with a pit.
struct Shape {
    double slope_db, from_db, pit_db;
    int length;
};

Goal shaped_goal(const Shape& shape) {
    Goal goal;
    const double end_db = shape.from_db + shape.slope_db * std::log2(24000.0 / 6000);
    goal.target.points = {{20, 0, {}}, {6000, shape.from_db, {}}, {24000, end_db, {}}};
    goal.corridor = {{0, 4000, 0.5, 0.5, true, {}}, {6000, 24000, 0.0, {}, false, {}}};
    if (shape.pit_db < 0) {
        goal.corridor.push_back({13000, 14000, shape.pit_db, {}, true, {}});
    }
    return goal;
}

double worst_margin(const ResolvedGoal& goal, const std::vector<double>& taps) {
    double worst = 1e9;
    for (const Finding& finding :
         judge(goal, Prediction(Filter(Taps(taps)), nullptr, Axis(rate)))) {
        if (finding.quantity == Quantity::level) {
            worst = std::min(worst, finding.margin.value_or(1e9));
        }
    }
    return worst;
}

// Weights at the corridor's edges, moved at random from the best so far by less and less.
double searched_at_random(const FirSpec& spec, const Brief& brief, const ResolvedGoal& goal,
                          int trials, std::mt19937& random) {
    std::normal_distribution<double> step;
    std::vector<double> hz{2000, 4000, 6000, 8000, 11000, 12950, 13000, 14000, 14050, 18000, 23900};
    std::vector<double> best(hz.size(), 0.0); // logarithms
    double best_margin = -1e9;
    for (int trial = 0; trial < trials; ++trial) {
        const double width = 3 * std::pow(0.01, static_cast<double>(trial) / trials);
        std::vector<double> logs = best;
        FirSpec tried = spec;
        for (std::size_t i = 0; i < hz.size(); ++i) {
            logs[i] += trial == 0 ? 0 : width * step(random) * (random() % 3 == 0 ? 1 : 0.1);
            tried.wish.weights.push_back({hz[i], std::exp(std::clamp(logs[i], -15.0, 15.0)), {}});
        }
        const auto made = design(tried, brief, {});
        if (!made) {
            continue;
        }
        const auto values = std::get<Taps>(made->filter.form()).values();
        const double margin = worst_margin(goal, {values.begin(), values.end()});
        if (margin > best_margin) {
            best_margin = margin;
            best = logs;
        }
    }
    return best_margin;
}

void hold_against_random_search(int trials) {
    std::mt19937 random(14);
    std::uniform_real_distribution<double> slope(-18, 9), from(-60, -35), pit(-95, -70);
    double worst_lack = -1e9, seconds = 0;
    for (int i = 0; i < 20; ++i) {
        const Shape shape{slope(random), from(random), i % 3 == 0 ? pit(random) : 0.0,
                          41 + 10 * (i % 4)};
        FirSpec spec;
        spec.method = i % 2 == 0 ? FirMethod(EquirippleFir()) : FirMethod(LeastSquaresFir());
        spec.length = shape.length;
        spec.wish.bands = {{0, 4000, 1, {}, 1, {}}, {6000, 24000, 0, {}, 1, {}}};
        const auto goal = worked_out(shaped_goal(shape));
        const Brief brief = brief_for(*goal, Axis(rate));
        const auto begun = std::chrono::steady_clock::now();
        const auto found = hug_corridor(spec, brief, {});
        seconds = std::max(seconds, seconds_since(begun));
        if (!found) {
            fmt::print("goal {}: {}\n", i, to_text(found.error()));
            continue;
        }
        const double own = worst_margin(*goal, found->taps);
        const double searched = searched_at_random(spec, brief, *goal, trials, random);
        worst_lack = std::max(worst_lack, searched - own);
        fmt::print(
            "goal {:2}, {:13} of {} taps, {:+5.1f} dB an octave{}: found {:+7.3f} dB, by chance "
            "{:+7.3f} dB\n",
            i, i % 2 == 0 ? "equiripple" : "least squares", shape.length, shape.slope_db,
            shape.pit_db < 0 ? ", a pit" : "", own, searched);
    }
    fmt::print("20 goals, {} trials each: at worst {:.3f} dB below what chance found; longest "
               "search {:.2f} s\n",
               trials, worst_lack, seconds);
}

} // namespace

int main(int argc, char** argv) {
    find_all_methods();
    hold_against_random_search(argc > 1 ? std::max(10, std::atoi(argv[1])) : 2000);
    return 0;
}
