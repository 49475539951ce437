// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/brightwater.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/study/analog_side.h"
#include "core/study/chain.h"
#include "core/study/kinds.h"
#include "core/study/starting_points.h"
#include "demo/docent_bench.h"

#include <cmath>
#include <complex>
#include <cstdint>
#include <fmt/format.h>
#include <numbers>

namespace syntonon {
namespace {

using Shape = ParametricShape;

constexpr double sample_rate_hz = 48000;

// SplitMix64 (Steele, Lea, Flood, OOPSLA 2014): the same numbers on every machine, which the
// standard library's distributions do not promise.
class Random {
public:
    explicit Random(std::uint64_t seed) : state_(seed) {}
    double between(double low, double high) {
        state_ += 0x9e3779b97f4a7c15u;
        std::uint64_t z = state_;
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
        z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
        z ^= z >> 31;
        return low + (high - low) * static_cast<double>(z >> 11) * 0x1p-53;
    }

private:
    std::uint64_t state_;
};

// What a loudspeaker and its place in the dome do, as sections; a seat row hears each a little
// differently.
struct Loudspeaker {
    std::string name;
    std::uint64_t seed;
    std::vector<ParametricSpec> colouration;
    double reflection_ms; // the dome's shell
};

const Loudspeaker& zenith() {
    static const Loudspeaker speaker = {
        "Zenith",
        0x5a31,
        {parametric(Shape::high_pass, 33, 0, 0.9), parametric(Shape::peak, 63, 7.6, 2.4),
         parametric(Shape::low_shelf, 120, 3.4, 0.7), parametric(Shape::peak, 186, -4.4, 2.2),
         parametric(Shape::peak, 870, 5.0, 1.5), parametric(Shape::high_shelf, 7400, -3.4, 0.7),
         parametric(Shape::peak, 2900, 1.2, 3.0)},
        3.1};
    return speaker;
}

const Loudspeaker& sunrise() {
    static const Loudspeaker speaker = {
        "Sunrise",
        0x51e7,
        {parametric(Shape::high_pass, 41, 0, 1.1), parametric(Shape::peak, 78, 8.2, 3.0),
         parametric(Shape::peak, 141, -3.6, 2.0), parametric(Shape::peak, 320, 4.8, 1.8),
         parametric(Shape::peak, 1450, -4.6, 1.6), parametric(Shape::peak, 3600, 5.4, 2.2),
         parametric(Shape::high_shelf, 9000, -4.2, 0.7)},
        2.3};
    return speaker;
}

// To so many places: a quotient of whole numbers is the double nearest to the decimal fraction, so
// it is written as one.
double rounded(double value, int places) {
    const double parts = std::pow(10, places);
    return std::round(value * parts) / parts;
}

// Rows sit further from the dome's axis one by one: modes shift, reflections grow later and
// stronger.
Curve measure(const Loudspeaker& speaker, int row) {
    Random random(speaker.seed + static_cast<std::uint64_t>(row) * 977);
    std::vector<Filter> heard;
    for (ParametricSpec spec : speaker.colouration) {
        spec.frequency_hz *= 1 + row * random.between(-0.02, 0.02);
        spec.gain_db *= 1 + row * random.between(-0.06, 0.06);
        heard.push_back(*parametric_filter(spec, sample_rate_hz));
    }
    struct Reflection {
        double seconds, strength, corner_hz;
    };
    std::vector<Reflection> reflections;
    for (int i = 0; i < 5; ++i) {
        reflections.push_back(
            {(speaker.reflection_ms + 1.7 * i + 0.4 * row + random.between(-0.2, 0.2)) * 1e-3,
             (0.075 + 0.012 * row) * std::pow(0.72, i), random.between(350, 900)});
    }
    Curve curve;
    curve.name = fmt::format("{}, row {}", speaker.name, static_cast<char>('A' + row));
    curve.id = fmt::format("{}-{}", speaker.name == "Zenith" ? "zenith" : "sunrise",
                           static_cast<char>('a' + row));
    constexpr int points_an_octave = 24;
    for (int i = 0; i <= points_an_octave * 10 - 8; ++i) {
        const double hz = rounded(20 * std::exp2(i / static_cast<double>(points_an_octave)), 2);
        std::complex<double> sum = 1;
        for (const Reflection& r : reflections) {
            // Averaged over the microphone's grid of places, so the comb fades towards high
            // frequencies.
            const double fade = 1 / (1 + std::pow(hz / r.corner_hz, 2));
            sum += std::polar(r.strength * fade, -2 * pi * hz * r.seconds);
        }
        double level =
            db_from_ratio(std::abs(sum)) - 0.24 * std::log2(hz / 1000); // air and distance
        double phase = std::arg(sum);
        for (const Filter& filter : heard) {
            const ResponsePoint at = filter.response_at(hz, sample_rate_hz);
            level += at.magnitude_db;
            phase += at.phase_rad;
        }
        curve.frequency_hz.push_back(hz);
        curve.magnitude_db.push_back(rounded(level, 2));
        curve.phase_deg.push_back(rounded(wrapped_deg(deg_from_rad(phase)), 1));
    }
    return curve;
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

Channel channel(std::string id, std::string name, const std::string& measured,
                const std::vector<ParametricSpec>& specs) {
    Channel made;
    made.id = std::move(id);
    made.name = std::move(name);
    made.goal = "dome";
    if (!measured.empty()) {
        made.measured = {{measured}};
    }
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

// The sky's light in sound: a phaser of eight all-passes, swept by hand.
Channel aurora() {
    Channel made;
    made.id = "aurora";
    made.name = "Aurora";
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
    Channel made = channel("plenum", "Plenum", "", {});
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

} // namespace

Study brightwater_study() {
    Study study;
    study.name = "Brightwater dome";
    study.sample_rate_hz = sample_rate_hz;
    for (const Loudspeaker* speaker : {&zenith(), &sunrise()}) {
        for (int row = 0; row < 4; ++row) {
            study.curves.emplace_back(measure(*speaker, row));
        }
    }
    study.goals.emplace_back(house_goal());
    study.channels.emplace_back(channel(
        "zenith", "Zenith", "zenith-a",
        {parametric(Shape::high_pass, 24, 0, 0.8), parametric(Shape::peak, 63, -6.8, 2.2),
         parametric(Shape::low_shelf, 120, -3.0, 0.7), parametric(Shape::peak, 186, 4.2, 2.2),
         parametric(Shape::peak, 870, -4.6, 1.4), parametric(Shape::high_shelf, 7200, 3.2, 0.7)}));
    study.channels.emplace_back(channel(
        "sunrise", "Sunrise", "sunrise-a",
        {parametric(Shape::high_pass, 24, 0, 0.8), parametric(Shape::peak, 78, -7.4, 2.8),
         parametric(Shape::peak, 320, -4.2, 1.8), parametric(Shape::peak, 1450, 3.4, 1.6)}));
    study.goals.emplace_back(docent_goal());
    study.channels.emplace_back(channel(
        "docent", "Docent", "",
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
    study.deliveries = {
        delivery("table", FileFormat::csv, NumberType::real64, 17, FeedbackSign::subtracted),
        delivery("json", FileFormat::json, NumberType::real64, 17, FeedbackSign::subtracted),
        delivery("c-float", FileFormat::c_header, NumberType::real32, 9, FeedbackSign::added)};
    return study;
}

} // namespace syntonon
