// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/brightwater.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/study/analog_side.h"
#include "core/study/chain.h"
#include "core/study/compared_chain.h"
#include "core/study/kinds.h"
#include "core/study/origins.h"
#include "core/study/starting_points.h"
#include "demo/docent_bench.h"
#include "demo/dome.h"

#include <cmath>
#include <complex>
#include <cstdint>
#include <fmt/format.h>
#include <numbers>

namespace syntonon {
namespace {

using Shape = ParametricShape;

constexpr double sample_rate_hz = 48000;

// To so many places: a quotient of whole numbers is the double nearest to the decimal fraction, so
// it is written as one.
double rounded(double value, int places) {
    const double parts = std::pow(10, places);
    return std::round(value * parts) / parts;
}

// Of the direct sound and the first reflections, by cycles: what is long below is short above.
NamedGate dome_gate() {
    return {"dome-gate", "five cycles", {-0.006, -0.004, 0.08, 0.12, 5}, {}};
}

// What the microphone in the dome adds, as its maker would write it down.
Curve dome_microphone() {
    Curve microphone;
    microphone.id = "microphone-7";
    microphone.name = "Microphone 7";
    microphone.source = "simulated microphone";
    const Filter adds = *parametric_filter(dome_microphone_section(), sample_rate_hz);
    constexpr double points_an_octave = 6;
    for (int i = 0; i <= 60; ++i) {
        const double hz = rounded(20 * std::exp2(i / points_an_octave), 1);
        microphone.frequency_hz.push_back(hz);
        microphone.magnitude_db.push_back(
            rounded(adds.response_at(hz, sample_rate_hz).magnitude_db, 2));
    }
    return microphone;
}

// In whole parts of 2^-22, so that every machine writes the same numbers.
ImpulseResponse as_written(ImpulseResponse impulse) {
    constexpr double parts = 1 << 22;
    for (double& x : impulse.samples) {
        x = std::round(x * parts) / parts;
    }
    return impulse;
}

Curve measured_at(const DomeLoudspeaker& loudspeaker, int row, const Study& study) {
    Curve curve;
    curve.name = fmt::format("{}, {}", loudspeaker.name, dome_row_name(row));
    curve.id = fmt::format("{}-{}", loudspeaker.id, static_cast<char>('a' + row));
    curve.source = "simulated room";
    Measurement measured;
    measured.impulse = as_written(dome_response(loudspeaker, row, sample_rate_hz));
    curve.origin = CurveOrigin{std::move(measured), "dome-gate", "microphone-7", {}};
    return *worked_out(study, curve);
}

MeasuredSet all_rows(const std::string& loudspeaker) {
    MeasuredSet set;
    for (int row = 0; row < dome_rows; ++row) {
        set.push_back({fmt::format("{}-{}", loudspeaker, static_cast<char>('a' + row)), 1, {}});
    }
    return set;
}

Goal house_goal() {
    Goal goal;
    goal.id = "dome";
    goal.name = "Dome house curve";
    goal.target.points = {{20, 2.0, {}}, {60, 1.6, {}}, {1000, 0, {}}, {20000, -2.0, {}}};
    goal.corridor = {{40, 250, 2, 2, {}}, {250, 16000, 2, 2, {}}};
    return goal;
}

// The same magnitude with the delay of half its taps at every frequency. Not on the lanes: its
// level is the chain's own.
Take as_one_fir(const Chain& chain) {
    constexpr int length = 16383;
    FirSpec spec;
    spec.method = FromChainFir();
    spec.phase = FirPhase::linear;
    spec.length = length;
    Take take;
    take.id = "t3";
    take.name = "one FIR, linear phase";
    take.shown = false;
    take.stages = chain;
    Stage fir;
    fir.spec = spec;
    give_fresh_ids(fir, take.stages);
    take.stages.emplace_back(fir);
    return take;
}

// The weights and takes that a week of work leaves behind.
void add_history(Study& study) {
    Goal& goal = study.goals.front().edit();
    goal.weights.points = {
        {60, 0.5, {}}, {400, 1, {}}, {1500, 3, {}}, {6000, 3, {}}, {14000, 0.7, {}}};
    Channel& zenith_channel = study.channels.front().edit();
    Take untouched, first_pass;
    untouched.id = "t1";
    untouched.name = "as built";
    first_pass.id = "t2";
    first_pass.name = "first pass";
    first_pass.stages.assign(zenith_channel.stages.begin(), zenith_channel.stages.begin() + 3);
    zenith_channel.takes = {std::move(untouched), std::move(first_pass),
                            as_one_fir(zenith_channel.stages)};
}

// A speaker's microphone beside the projector: its fan sings at 237 Hz, the floor rumbles.
Goal docent_goal() {
    Goal goal;
    goal.id = "docent";
    goal.name = "Docent microphone";
    goal.target.points = {{90, 0, {}}, {10000, 0, {}}};
    goal.target.open_ends = true;
    goal.corridor = {{320, 10000, 1, 1}, {5, 30, -16, std::nullopt, true}};
    goal.requirements = {{AttenuationRequirement{236.5, 237.5, 20}},
                         {CrossingRequirement{-3, 70, 85}},
                         {RippleRequirement{400, 8000, 1}},
                         {DelayVariationRequirement{400, 8000, Duration{1, TimeUnit::ms}}},
                         {PeakGainRequirement{1}},
                         {SettlingTimeRequirement{5, Duration{80, TimeUnit::ms}}},
                         {LatencyRequirement{Duration{0, TimeUnit::samples}}},
                         {SectionsRequirement{4}}};
    return goal;
}

// A resonance that lifts speech a little: a pole pair in front of a zero pair, to be dragged.
Stage presence() {
    constexpr double centre_hz = 3100, narrow_hz = 900, wide_hz = 990;
    const auto root = [](double bandwidth_hz) {
        return std::polar(std::exp(-pi * bandwidth_hz / sample_rate_hz),
                          rad_per_sample_from_hz(centre_hz, sample_rate_hz));
    };
    const std::complex<double> zero = root(wide_hz), pole = root(narrow_hz);
    Stage stage;
    stage.id = "presence";
    stage.name = "Presence";
    // 1 at 0 Hz
    stage.spec = RootsSpec{{zero, std::conj(zero)},
                           {pole, std::conj(pole)},
                           std::norm(1.0 - pole) / std::norm(1.0 - zero)};
    return stage;
}

Channel channel(std::string id, std::string name, bool measured,
                const std::vector<ParametricSpec>& specs) {
    Channel made;
    made.id = std::move(id);
    made.name = std::move(name);
    made.goal = "dome";
    made.measured = measured ? all_rows(made.id) : MeasuredSet{};
    for (const ParametricSpec& spec : specs) {
        Stage stage;
        stage.id = fmt::format("s{}", made.stages.size() + 1);
        stage.spec = spec;
        made.stages.push_back(std::move(stage));
    }
    return made;
}

Delivery delivery(std::string id, FileFormat format, NumberType number, int digits,
                  FeedbackSign sign) {
    Delivery made;
    made.name = id;
    made.id = std::move(id);
    made.layout.format = format;
    made.layout.number = number;
    made.layout.digits = digits;
    made.layout.feedback = sign;
    made.channels = {"zenith", "sunrise", "docent"}; // Aurora is no cascade of sections
    return made;
}

// The same channels as a processor's words.
Delivery delivery_for(const char* processor, Structure structure, FileFormat format, const char* id,
                      const char* name, std::vector<std::string> channels) {
    Delivery made;
    made.id = id;
    made.name = name;
    made.channels = std::move(channels);
    made.layout.format = format;
    made.processor = processor;
    made.structure = structure;
    return made;
}

// Two of the channels into a processor on the network: a simulated one answers at that address.
Delivery rack() {
    Delivery made = delivery_for("kestrel-board", Structure::transposed_form_2, FileFormat::csv,
                                 "rack", "Dome rack", {"zenith", "sunrise"});
    made.device.address = "127.0.0.1:65001";
    return made;
}

// The sky's light in sound: notes through a ladder, opened by an envelope with each, and a phaser
// of eight all-passes, swept by hand.
Channel aurora() {
    Channel made;
    made.id = "aurora";
    made.name = "Aurora";
    LadderSpec ladder;
    ladder.type = modelled::LadderType::diode;
    ladder.frequency_hz = 420;
    ladder.resonance = 0.82;
    ladder.drive_db = -9;
    ladder.bass_compensation = 0.3;
    Stage first;
    first.id = "ladder";
    first.spec = ladder;
    made.stages.emplace_back(std::move(first));
    made.bench.signal = "chord";
    made.bench.compared = {std::string(key_of_state_variables)};
    made.bench.modulation.envelope_oct = 3.2;
    made.bench.modulation.attack_ms = 15;
    made.bench.modulation.decay_ms = 900;
    made.bench.modulation.sustain = 0.15;
    made.bench.modulation.oscillator_oct = 0.15;
    made.bench.modulation.oscillator_hz = 4.5;
    made.bench.modulation.velocity_oct = 0.5;
    for (const StartingPoint& point : starting_points()) {
        if (point.title == "Phaser") {
            for (const auto& stage : point.stages) {
                Stage own = *stage;
                give_fresh_ids(own, made.stages);
                made.stages.emplace_back(std::move(own));
            }
        }
    }
    return made;
}

// Four notes, one after the other, held together.
NotesRecipe aurora_chord() {
    NotesRecipe chord;
    constexpr double held_to_s = 2.2;
    chord.notes = {{0, held_to_s, 45, 0.9},
                   {0.15, held_to_s, 52, 0.7},
                   {0.3, held_to_s, 57, 0.75},
                   {0.45, held_to_s, 61, 0.8}};
    return chord;
}

// The filter before the converters: what the microphones in the plenum pick up above half the
// sample rate must not come back as something that can be heard.
ClassicalSpec anti_alias_filter() {
    ClassicalSpec spec;
    spec.family = ClassicalFamily::elliptic;
    spec.band = ClassicalBand::low_pass;
    spec.by_tolerances = true;
    spec.tolerances.pass_edges_hz[0] = 16000;
    spec.tolerances.stop_edges_hz[0] = 23000;
    spec.tolerances.pass_ripple_db = 0.5;
    spec.tolerances.stop_attenuation_db = 60;
    return spec;
}

// Up to that frequency.
Goal plenum_goal(const char* id, const char* name, double to_hz) {
    Goal goal;
    goal.id = id;
    goal.name = name;
    goal.target.points = {{20, 0, {}}, {16000, 0, {}}};
    goal.target.open_ends = true;
    goal.requirements = {{RippleRequirement{0, 16000, 0.5}},
                         {AttenuationRequirement{23000, to_hz, 60}},
                         {DelayVariationRequirement{20, 10000, Duration{0.05, TimeUnit::ms}}},
                         {SettlingTimeRequirement{5, Duration{2, TimeUnit::ms}}}};
    return goal;
}

Channel plenum() {
    Channel made = channel("plenum", "Plenum", false, {});
    made.domain = Domain::analog;
    made.goal = "plenum";
    Stage stage;
    stage.id = "s1";
    stage.spec = anti_alias_filter();
    made.stages.emplace_back(std::move(stage));
    return made;
}

// The same mapped, as a processor would do it.
Channel mapped_plenum(const Study& study) {
    Briefs briefs;
    Channel made =
        *mapped_channel(study, *channel_of(study, "plenum"), PlaneMapping::bilinear, briefs);
    made.id = "plenum-sampled";
    made.name = "Plenum z";
    made.goal = "plenum-sampled";
    return made;
}

Study made_study() {
    Study study;
    study.name = "Brightwater dome";
    study.sample_rate_hz = sample_rate_hz;
    study.gates = {dome_gate()};
    study.microphones.emplace_back(dome_microphone());
    for (const DomeLoudspeaker& loudspeaker : dome_loudspeakers()) {
        for (int row = 0; row < dome_rows; ++row) {
            study.curves.emplace_back(measured_at(loudspeaker, row, study));
        }
    }
    study.goals.emplace_back(house_goal());
    study.channels.emplace_back(channel(
        "zenith", "Zenith", true,
        {parametric(Shape::high_pass, 24, 0, 0.8), parametric(Shape::peak, 63, -6.8, 2.2),
         parametric(Shape::low_shelf, 120, -3.0, 0.7), parametric(Shape::peak, 186, 4.2, 2.2),
         parametric(Shape::peak, 870, -4.6, 1.4), parametric(Shape::high_shelf, 7200, 3.2, 0.7)}));
    study.channels.emplace_back(channel(
        "sunrise", "Sunrise", true,
        {parametric(Shape::high_pass, 24, 0, 0.8), parametric(Shape::peak, 78, -7.4, 2.8),
         parametric(Shape::peak, 320, -4.2, 1.8), parametric(Shape::peak, 1450, 3.4, 1.6)}));
    study.channels.emplace_back(channel("sunset", "Sunset", true, {}));
    study.goals.emplace_back(docent_goal());
    study.channels.emplace_back(channel(
        "docent", "Docent", false,
        {parametric(Shape::high_pass, 78, 0, 0.7071), parametric(Shape::notch, 237, 0, 12)}));
    study.channels.back().edit().goal = "docent";
    study.channels.back().edit().stages.emplace_back(presence());
    study.channels.emplace_back(aurora());
    study.goals.emplace_back(plenum_goal("plenum", "Before the converters", greatest_analog_hz));
    study.goals.emplace_back(
        plenum_goal("plenum-sampled", "The same, sampled", sample_rate_hz / 2));
    study.channels.emplace_back(plenum());
    study.channels.emplace_back(mapped_plenum(study));
    add_history(study);
    add_docent_bench(study);
    study.test_signals.emplace_back(
        Signal{"chord", "Chord", {LengthUnit::seconds, 3}, aurora_chord(), {}});
    study.deliveries = {
        delivery("table", FileFormat::csv, NumberType::real64, 17, FeedbackSign::subtracted),
        delivery("json", FileFormat::json, NumberType::real64, 17, FeedbackSign::subtracted),
        delivery("c-float", FileFormat::c_header, NumberType::real32, 9, FeedbackSign::added),
        delivery_for("reed-28", Structure::direct_form_1, FileFormat::hex_words, "amplifiers",
                     "Amplifier chips", {"zenith", "sunrise", "sunset"}),
        rack(),
        delivery_for("kestrel-board", Structure::transposed_form_2, FileFormat::cpp_class,
                     "firmware", "Firmware", {"docent"}),
        delivery_for("orrery-core", Structure::normalised_lattice, FileFormat::verilog,
                     "simulation", "Simulation", {"zenith"}),
        delivery_for("", Structure::direct_form_1, FileFormat::lv2, "equaliser", "Dome equaliser",
                     {"zenith"})};
    return study;
}

} // namespace

Study brightwater_study() {
    static const Study study = made_study();
    return study;
}

} // namespace syntonon
