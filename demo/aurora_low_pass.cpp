// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/aurora_low_pass.h"

#include "core/design/fir/hug_corridor.h"
#include "core/study/kinds.h"
#include "core/study/wished.h"

#include <tuple>
#include <utility>

namespace syntonon {
namespace {

constexpr double rate_hz = 48000, pass_hz = 4000, stop_hz = 6000, half_hz = rate_hz / 2;

Goal falling_ceiling() {
    constexpr double at_stop_db = -40, octaves = 2, slope_db = -12; // from 6 to 24 kHz
    constexpr double whistle_low_hz = 15200, whistle_high_hz = 16000, pit_db = -72;
    Goal goal;
    goal.id = "hiss";
    goal.name = "Hiss and whistle";
    goal.target.points = {{stop_hz, at_stop_db, {}},
                          {half_hz, at_stop_db + octaves * slope_db, {}}};
    goal.target.open_ends = true; // below it the corridor says what is asked for
    goal.corridor = {{0, pass_hz, 0.25, 0.25, true, {}},
                     {stop_hz, half_hz, 0.0, {}, false, {}},
                     {whistle_low_hz, whistle_high_hz, pit_db, {}, true, {}}};
    return goal;
}

FirSpec equiripple() {
    FirSpec spec;
    spec.method = EquirippleFir{};
    spec.length = 49;
    spec.wish.bands = {{0, pass_hz, 1, {}, 1, {}}, {stop_hz, half_hz, 0, {}, 1, {}}};
    return spec;
}

// Nearly as the ceiling, from a few points.
FirSpec with_drawn_weights() {
    FirSpec spec = equiripple();
    spec.wish.weights = {{4000, 1, {}},   {6000, 1.8, {}}, {14500, 9, {}}, {15200, 60, {}},
                         {16000, 60, {}}, {16800, 12, {}}, {24000, 24, {}}};
    return spec;
}

FirSpec with_found_weights(const Goal& goal) {
    FirSpec spec = equiripple();
    const Brief brief = brief_for(resolved(goal, rate_hz, LevelOf::chain_alone), Axis(rate_hz));
    if (const auto found = hug_corridor(spec, brief, {})) {
        spec.wish.weights = found->weights;
    }
    return spec;
}

Chain chain_of(const FirSpec& spec) {
    Stage stage;
    stage.id = "low-pass";
    stage.spec = spec;
    Chain chain;
    chain.emplace_back(std::move(stage));
    return chain;
}

} // namespace

Study aurora_low_pass_study() {
    Study study;
    study.name = "Aurora, low-pass";
    study.sample_rate_hz = rate_hz;
    const Goal goal = falling_ceiling();
    study.goals.emplace_back(goal);
    Channel channel;
    channel.id = "aurora";
    channel.name = "Aurora";
    channel.goal = goal.id;
    channel.stages = chain_of(with_found_weights(goal));
    for (const auto& [id, name, spec] : {std::tuple("t1", "equiripple", equiripple()),
                                         {"t2", "drawn weights", with_drawn_weights()}}) {
        Take take;
        take.id = id;
        take.name = name;
        take.stages = chain_of(spec);
        channel.takes.emplace_back(take);
    }
    study.channels.emplace_back(std::move(channel));
    return study;
}

} // namespace syntonon
