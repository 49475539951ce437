// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/starting_points.h"

#include "core/base/units.h"
#include "core/study/chain.h"
#include "core/study/kinds.h"

#include <cmath>
#include <initializer_list>
#include <utility>

namespace syntonon {
namespace {

Chain chain_of(std::initializer_list<StageSpec> specs) {
    Chain chain;
    for (const StageSpec& spec : specs) {
        Stage stage;
        stage.spec = spec;
        chain.emplace_back(std::move(stage));
    }
    return chain;
}

ParametricSpec first_order(ParametricShape shape, double hz) {
    ParametricSpec spec = parametric(shape, hz, 0, 1, 1);
    spec.width = {}; // a first-order section has none
    return spec;
}

ParametricSpec low_pass(double hz) {
    return first_order(ParametricShape::low_pass, hz);
}

StageSpec split(std::vector<Branch> branches) {
    return SplitSpec{std::move(branches)};
}

StageSpec loop(Chain forward, double factor, Chain back) {
    return LoopSpec{std::move(forward), {factor, std::move(back)}};
}

StageSpec delay_ms(double ms) {
    return DelaySpec{DelayUnit::ms, ms};
}

StageSpec delay_samples(double samples) {
    return DelaySpec{DelayUnit::samples, samples};
}

// (1 + A) / 2 + gain (1 - A) / 2: 1 where A is 1, the gain where A is -1.
StageSpec equaliser(const StageSpec& all_pass, double gain_db) {
    const double gain = ratio_from_db(gain_db);
    return split({{(1 + gain) / 2, {}}, {(1 - gain) / 2, chain_of({all_pass})}});
}

StartingPoint moving_average() {
    constexpr int length = 32;
    // What the integrator keeps of a sample: rounding errors would stay for ever with 1.
    constexpr double kept = 0.9999;
    const Chain stages = chain_of({
        split({{1, {}}, {-std::pow(kept, length), chain_of({delay_samples(length)})}}),
        loop({}, kept, chain_of({delay_samples(1)})),
        GainSpec{0, false, 1.0 / length},
    });
    return {"Moving average", "a comb and an integrator that forgets slowly, for 32 samples",
            stages};
}

StartingPoint phaser() {
    const RepeatSpec row{8, chain_of({first_order(ParametricShape::all_pass, 420)})};
    const StageSpec wet = loop(chain_of({row}), 0.62, chain_of({delay_samples(1)}));
    return {"Phaser", "eight all-passes with mix and feedback",
            chain_of({split({{0.5, {}}, {0.5, chain_of({wet})}})})};
}

StartingPoint echo() {
    const StageSpec repeats = loop(chain_of({delay_ms(300)}), 0.45, chain_of({low_pass(4000)}));
    return {"Echo", "a delay of 300 ms that is fed back through a low-pass",
            chain_of({split({{1, {}}, {0.5, chain_of({repeats})}})})};
}

} // namespace

std::vector<StartingPoint> starting_points() {
    const StageSpec all_pass = parametric(ParametricShape::all_pass, 1000, 0, 2);
    const StageSpec high_pass = first_order(ParametricShape::high_pass, 1000);
    const StageSpec low = low_pass(1000);
    return {
        {"Comb, fed forward", "the input and its delayed copy",
         chain_of({split({{1, {}}, {0.7, chain_of({delay_ms(2)})}})})},
        {"Comb, fed back", "the output, delayed, back into the input",
         chain_of({loop({}, 0.7, chain_of({delay_ms(2)}))})},
        {"Notch from two paths", "the input and an all-pass that turns it round at one frequency",
         chain_of({split({{0.5, {}}, {0.5, chain_of({all_pass})}})})},
        moving_average(),
        phaser(),
        {"Band-pass by subtraction", "one low-pass less another",
         chain_of({split({{1, chain_of({low_pass(4000)})}, {-1, chain_of({low_pass(250)})}})})},
        {"Bell from an all-pass", "the gain where the all-pass turns the input round",
         chain_of({equaliser(all_pass, -6)})},
        {"Shelf from an all-pass", "the gain where the first-order all-pass is -1",
         chain_of({equaliser(first_order(ParametricShape::all_pass, 1000), 6)})},
        {"All-pass from low and high", "two low-passes in a row, less two high-passes",
         chain_of({split({{1, chain_of({low, low})}, {-1, chain_of({high_pass, high_pass})}})})},
        {"Complementary pair", "a low-pass and what it takes away: together the input",
         chain_of({split(
             {{1, chain_of({low})}, {1, chain_of({split({{1, {}}, {-1, chain_of({low})}})})}})})},
        echo(),
    };
}

} // namespace syntonon
