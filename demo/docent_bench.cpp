// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/docent_bench.h"

#include "core/study/kinds.h"

#include <algorithm>

namespace syntonon {
namespace {

constexpr SignalLength whole{LengthUnit::seconds, 12};
constexpr double rumble_from_hz = 18, rumble_to_hz = 42;     // the floor
constexpr double whine_from_hz = 11200, whine_to_hz = 12400; // the fan's blades
constexpr double hum_hz = 237;                               // and its motor

void add_signal(Study& study, const char* id, const char* name, Recipe recipe) {
    study.test_signals.emplace_back(Signal{id, name, whole, std::move(recipe), {}});
}

Chain chain_of(std::initializer_list<std::pair<const char*, StageSpec>> stages) {
    Chain chain;
    for (const auto& [id, spec] : stages) {
        Stage stage;
        stage.id = id;
        stage.spec = spec;
        chain.emplace_back(std::move(stage));
    }
    return chain;
}

ClassicalSpec low_cut() {
    ClassicalSpec spec;
    spec.band = ClassicalBand::high_pass;
    spec.order = 4;
    spec.edges_hz = {78, 2000};
    return spec;
}

ClassicalSpec whine_stop() {
    ClassicalSpec spec;
    spec.family = ClassicalFamily::inverse_chebyshev;
    spec.band = ClassicalBand::band_stop;
    spec.order = 5;
    spec.edges_hz = {whine_from_hz, whine_to_hz};
    spec.stop_attenuation_db = 40;
    return spec;
}

// Everything in one, of a delay that a recording has no trouble with. Gaps between bands are
// narrow: where nothing is asked for, the gain would rise.
FirSpec clean_in_one() {
    FirSpec spec;
    spec.method = LeastSquaresFir{};
    spec.length = 4001;
    spec.wish.bands = {{0, rumble_to_hz, 0, {}, 10, {}},
                       {84, 225, 1, {}, 3, {}},
                       {hum_hz - 1, hum_hz + 1, 0, {}, 30, {}},
                       {249, whine_from_hz - 50, 1, {}, 1, {}},
                       {whine_from_hz, whine_to_hz, 0, {}, 10, {}},
                       {whine_to_hz + 50, 24000, 1, {}, 1, {}}};
    return spec;
}

Take take(const char* id, const char* name, Chain stages) {
    Take made;
    made.id = id;
    made.name = name;
    made.shown = false;
    made.stages = std::move(stages);
    return made;
}

} // namespace

void add_docent_bench(Study& study) {
    add_signal(study, "narration", "Narration", NarrationRecipe{118, -6, 7});
    add_signal(study, "rumble", "Rumble", BandNoiseRecipe{rumble_from_hz, rumble_to_hz, -30, 11});
    add_signal(study, "fan-whine", "Fan, its blades",
               BandNoiseRecipe{whine_from_hz, whine_to_hz, -30, 12});
    add_signal(study, "fan-hum", "Fan, its motor", ToneRecipe{hum_hz, 0, -30});
    add_signal(study, "fan", "Projector fan", MixRecipe{"fan-whine", "fan-hum", 0});
    add_signal(study, "noise", "Rumble and fan", MixRecipe{"rumble", "fan", 6});
    add_signal(study, "narration-noisy", "Narration with rumble and fan",
               MixRecipe{"narration", "noise", 6});
    const auto docent =
        std::ranges::find(study.channels, "docent", [](const auto& c) { return c->id; });
    Channel& channel = docent->edit();
    channel.bench = {"narration-noisy", "narration", {"take:recursive", "take:fir"}};
    channel.takes = {take("recursive", "recursive",
                          chain_of({{"low-cut", low_cut()},
                                    {"hum", parametric(ParametricShape::notch, hum_hz, 0, 12)},
                                    {"whine", whine_stop()}})),
                     take("fir", "FIR", chain_of({{"clean", clean_in_one()}}))};
}

} // namespace syntonon
