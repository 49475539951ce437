// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/curve_json.h"

#include "core/curve/worked_out.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

// Beside a reference to a file: enough to go on with when it is missing.
constexpr double kept_points_an_octave = 96;

void fail(ObjectReader& object, const Problem& problem) {
    if (!object.log().problem) {
        object.fail(problem.place, problem.reason, problem.way_out);
    }
}

void check_samples(ObjectReader& object, const ImpulseResponse& impulse) {
    const auto& samples = impulse.samples;
    if (samples.empty() || samples.size() > most_impulse_samples) {
        object.fail("samples", fmt::format("has {} samples", samples.size()),
                    fmt::format("give 1 to {}", most_impulse_samples));
    }
    const auto odd = std::ranges::find_if_not(samples, [](double x) { return std::isfinite(x); });
    if (odd != samples.end()) {
        object.fail(fmt::format("samples[{}]", odd - samples.begin()), "is not a finite number",
                    "give a number");
    }
    if (!samples.empty() && std::ranges::all_of(samples, [](double x) { return x == 0; })) {
        object.fail("samples", "are silent", "measure it again, or remove the curve");
    }
}

HarmonicLevels read_harmonic(ObjectReader object) {
    HarmonicLevels levels;
    levels.order = object.integer_or("order", 2);
    levels.frequency_hz = object.numbers("frequency_hz");
    levels.level_db = object.numbers("level_db");
    levels.noise_db = object.numbers("noise_db");
    const auto& hz = levels.frequency_hz;
    if (levels.order < 2) {
        object.fail("order", "is below 2", "give 2 for the first above the fundamental");
    }
    if (hz.empty() || hz.front() <= 0
        || std::ranges::adjacent_find(hz, std::greater_equal()) != hz.end()) {
        object.fail("frequency_hz", "does not ascend from above 0", "sort it");
    }
    for (const auto& [key, values] :
         {std::pair("level_db", &levels.level_db), std::pair("noise_db", &levels.noise_db)}) {
        if (values->size() != hz.size()) {
            object.fail(key,
                        fmt::format("has {} values for {} frequencies", values->size(), hz.size()),
                        "give as many");
        }
    }
    for (const auto& [key, values] :
         {std::pair("frequency_hz", &levels.frequency_hz), std::pair("level_db", &levels.level_db),
          std::pair("noise_db", &levels.noise_db)}) {
        if (!std::ranges::all_of(*values, [](double x) { return std::isfinite(x); })) {
            object.fail(key, "holds what is not a finite number", "give numbers");
        }
    }
    levels.unknown = object.unknown();
    return levels;
}

Measurement read_impulse(ObjectReader object) {
    Measurement measured;
    measured.impulse.sample_rate_hz = read_sample_rate(object);
    measured.impulse.begins_at = object.integer_or("begins_at", 0);
    if (object.has("file")) {
        measured.file.path = object.text("file");
        measured.file.digest = object.text_or("digest", "");
        measured.file.channel = object.integer_or("channel", 1);
        if (measured.file.path.empty() || measured.file.channel < 1) {
            object.fail("file", "names no channel of a file", "give its path, and 1 or more");
        }
    } else {
        measured.impulse.samples = object.numbers("samples");
        check_samples(object, measured.impulse);
    }
    object.each("harmonics", [&](ObjectReader harmonic) {
        measured.harmonics.push_back(read_harmonic(std::move(harmonic)));
    });
    measured.unknown = object.unknown();
    return measured;
}

void read_points(ObjectReader& object, Curve& curve) {
    curve.frequency_hz = object.numbers("frequency_hz");
    curve.magnitude_db = object.numbers("magnitude_db");
    curve.phase_deg = object.numbers("phase_deg");
    if (auto ok = check(curve); !ok) {
        fail(object, ok.error());
    }
}

void write_points(Json& object, const std::vector<double>& frequency_hz,
                  const std::vector<double>& magnitude_db, const std::vector<double>& phase_deg) {
    object.set("frequency_hz", Json::numbers(frequency_hz));
    object.set("magnitude_db", Json::numbers(magnitude_db));
    if (!phase_deg.empty()) {
        object.set("phase_deg", Json::numbers(phase_deg));
    }
}

Json harmonic_json(const HarmonicLevels& levels) {
    Json object;
    object.set("order", levels.order);
    object.set("frequency_hz", Json::numbers(levels.frequency_hz));
    object.set("level_db", Json::numbers(levels.level_db));
    object.set("noise_db", Json::numbers(levels.noise_db));
    return object.set_unknown(levels.unknown);
}

Json impulse_json(const Measurement& measured) {
    Json object;
    object.set("sample_rate_hz", measured.impulse.sample_rate_hz);
    if (measured.impulse.begins_at != 0) {
        object.set("begins_at", static_cast<int>(measured.impulse.begins_at));
    }
    if (measured.file.path.empty()) {
        object.set("samples", Json::samples(measured.impulse.samples));
    } else {
        object.set("file", measured.file.path).set("digest", measured.file.digest);
        if (measured.file.channel != 1) {
            object.set("channel", measured.file.channel);
        }
    }
    if (!measured.harmonics.empty()) {
        object.set("harmonics", list_json(measured.harmonics, harmonic_json));
    }
    return object.set_unknown(measured.unknown);
}

void write_origin(Json& object, const Curve& curve) {
    const CurveOrigin& origin = *curve.origin;
    const Measurement& measured = *origin.measured;
    if (!measured.is_impulse()) {
        write_points(object, measured.frequency_hz, measured.magnitude_db, measured.phase_deg);
    } else {
        object.set("impulse", impulse_json(measured));
        if (!measured.file.path.empty()) {
            const Curve thin = thinned(curve, kept_points_an_octave);
            object.set("delay_s", thin.delay_s);
            write_points(object, thin.frequency_hz, thin.magnitude_db, thin.phase_deg);
        }
    }
    for (const auto& [key, id] :
         {std::pair("gate", &origin.gate), std::pair("microphone", &origin.microphone)}) {
        if (!id->empty()) {
            object.set(key, *id);
        }
    }
    if (origin.middle_s) {
        object.set("middle_s", *origin.middle_s);
    }
}

constexpr std::pair<const char*, double Gate::*> gate_times[] = {
    {"from_s", &Gate::from_s},
    {"full_from_s", &Gate::full_from_s},
    {"full_to_s", &Gate::full_to_s},
    {"to_s", &Gate::to_s}};

} // namespace

Curve read_curve(ObjectReader object) {
    Curve curve;
    curve.id = object.text("id");
    curve.name = object.text_or("name", curve.id);
    curve.colour = object.text_or("colour", "");
    curve.source = object.text_or("source", "");
    const std::string gate = object.text_or("gate", "");
    const std::string microphone = object.text_or("microphone", "");
    if (object.has("impulse")) {
        curve.origin = CurveOrigin{read_impulse(object.object("impulse")), gate, microphone,
                                   object.optional_number("middle_s")};
    }
    if (!curve.origin || !curve.origin->measured->file.path.empty()) {
        curve.delay_s = object.number_or("delay_s", 0);
        read_points(object, curve);
    }
    if (!curve.origin && !microphone.empty()) {
        keep_as_measured(curve);
        curve.origin->microphone = microphone;
    }
    curve.unknown = object.unknown();
    return curve;
}

Json curve_json(const Curve& curve) {
    Json object;
    object.set("id", curve.id);
    object.set("name", curve.name);
    if (!curve.colour.empty()) {
        object.set("colour", curve.colour);
    }
    if (!curve.source.empty()) {
        object.set("source", curve.source);
    }
    if (curve.origin) {
        write_origin(object, curve);
    } else {
        if (curve.delay_s != 0) {
            object.set("delay_s", curve.delay_s);
        }
        write_points(object, curve.frequency_hz, curve.magnitude_db, curve.phase_deg);
    }
    return object.set_unknown(curve.unknown);
}

NamedGate read_gate(ObjectReader& object) {
    NamedGate named;
    named.id = object.text("id");
    named.name = object.text_or("name", named.id);
    for (const auto& [key, time] : gate_times) {
        named.gate.*time = object.number(key);
    }
    named.gate.cycles = object.optional_number("cycles");
    if (auto ok = check(named.gate); !ok) {
        fail(object, ok.error());
    }
    named.unknown = object.unknown();
    return named;
}

Json gate_json(const NamedGate& named) {
    Json object;
    object.set("id", named.id).set("name", named.name);
    for (const auto& [key, time] : gate_times) {
        object.set(key, named.gate.*time);
    }
    if (named.gate.cycles) {
        object.set("cycles", *named.gate.cycles);
    }
    return object.set_unknown(named.unknown);
}

} // namespace syntonon
