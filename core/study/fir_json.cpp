// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/named_json.h"
#include "core/study/spec_json.h"
#include "core/study/tolerances_json.h"
#include "core/study/weight_json.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

// --- bands
// ----------------------------------------------------------------------------------------

void read_wish(ObjectReader& object, FirWish& wish) {
    wish.weights = read_weight_curve(object, "weights");
    wish.use_goal = object.boolean_or("use_goal", false);
    if (!object.has("bands")) {
        if (!wish.use_goal) {
            object.fail("bands", "are missing", "give bands, or use_goal");
        }
        return;
    }
    wish.bands.clear();
    object.each("bands", [&](ObjectReader band) {
        FirBand read;
        read.from_hz = band.number("from_hz");
        read.to_hz = band.number("to_hz");
        read.gain = band.number("gain");
        read.gain_to = band.optional_number("gain_to");
        read.weight = band.number_or("weight", 1);
        read.unknown = band.unknown();
        wish.bands.push_back(std::move(read));
    });
}

void write_wish(Json& object, const FirWish& wish) {
    if (wish.use_goal) {
        object.set("use_goal", true);
    }
    if (!wish.weights.empty()) {
        object.set("weights", weight_curve_json(wish.weights));
    }
    if (wish.use_goal && wish.bands == FirWish().bands) {
        return;
    }
    Json bands = Json::list();
    for (const FirBand& band : wish.bands) {
        Json json;
        json.set("from_hz", band.from_hz);
        json.set("to_hz", band.to_hz);
        json.set("gain", band.gain);
        if (band.gain_to) {
            json.set("gain_to", *band.gain_to);
        }
        if (band.weight != 1) {
            json.set("weight", band.weight);
        }
        json.set_unknown(band.unknown);
        bands.add(std::move(json));
    }
    object.set("bands", std::move(bands));
}

void read_delay(ObjectReader& object, std::optional<double>& delay) {
    delay = object.optional_number("delay_samples");
}
void write_delay(Json& object, const std::optional<double>& delay) {
    if (delay) {
        object.set("delay_samples", *delay);
    }
}

void read_symmetry(ObjectReader& object, FirSymmetry& symmetry) {
    read_named(object, "symmetry", names_of_symmetries(), symmetry);
}
void write_symmetry(Json& object, FirSymmetry symmetry) {
    if (symmetry != FirSymmetry::even) {
        object.set("symmetry", key_of_named(names_of_symmetries(), symmetry));
    }
}

// --- methods
// --------------------------------------------------------------------------------------

void read_method(ObjectReader& object, WindowedFir& method, FirWish& wish) {
    using By = WindowedFir::By;
    method.by = object.has("spec")                                            ? By::tolerances
                : object.has("bands") || object.boolean_or("use_goal", false) ? By::bands
                                                                              : By::edges;
    if (method.by == By::bands) {
        read_wish(object, wish);
    } else {
        if (!object.has("band")) {
            object.fail("band", "is missing", "name one, or give bands");
        }
        read_named(object, "band", names_of_bands(), method.band);
    }
    if (method.by == By::edges) {
        read_edges(object, "edges_hz", method.band, method.edges_hz);
        read_named(object, "scale", names_of_scales(), method.scale);
    }
    if (method.by == By::tolerances) {
        read_tolerances(object.object("spec"), method.band, method.tolerances);
        if (object.has("window") && object.text("window") != "kaiser") {
            object.fail("window", "goes with a length, not with a spec",
                        "leave it out: a Kaiser window follows from the spec");
        }
        return;
    }
    read_window(object, method.window);
    read_delay(object, method.delay_samples);
}
void write_method(Json& object, const WindowedFir& method, const FirWish& wish) {
    using By = WindowedFir::By;
    if (method.by == By::bands) {
        write_wish(object, wish);
    } else {
        object.set("band", key_of_named(names_of_bands(), method.band));
    }
    if (method.by == By::edges) {
        object.set("edges_hz", edges_json(method.edges_hz, WindowedFir().edges_hz, method.band));
        if (method.scale != WindowedFir().scale) {
            object.set("scale", key_of_named(names_of_scales(), method.scale));
        }
    }
    if (method.by == By::tolerances) {
        object.set("spec", tolerances_json(method.tolerances, method.band));
        return;
    }
    write_window(object, method.window);
    write_delay(object, method.delay_samples);
}

void read_method(ObjectReader& object, SampledFir& method, FirWish& wish) {
    read_delay(object, method.delay_samples);
    object.each("samples", [&](ObjectReader sample) {
        FirSample read;
        read.frequency_hz = sample.number("frequency_hz");
        if (sample.boolean_or("best", false)) {
            if (sample.has("gain")) {
                sample.fail("gain", "is given, and the best one is asked for", "leave out one");
            }
            read.gain.reset();
        } else {
            read.gain = sample.number("gain");
        }
        read.unknown = sample.unknown();
        method.samples.push_back(std::move(read));
    });
    if (method.samples.empty()) {
        read_named(object, "between", names_of_betweens(), method.between);
        read_wish(object, wish);
    }
}
void write_method(Json& object, const SampledFir& method, const FirWish& wish) {
    write_delay(object, method.delay_samples);
    if (method.samples.empty()) {
        if (method.between != SampledFir::Between::straight) {
            object.set("between", key_of_named(names_of_betweens(), method.between));
        }
        write_wish(object, wish);
        return;
    }
    Json samples = Json::list();
    for (const FirSample& sample : method.samples) {
        Json json;
        json.set("frequency_hz", sample.frequency_hz);
        if (sample.gain) {
            json.set("gain", *sample.gain);
        } else {
            json.set("best", true);
        }
        json.set_unknown(sample.unknown);
        samples.add(std::move(json));
    }
    object.set("samples", std::move(samples));
}

void read_method(ObjectReader& object, LeastSquaresFir& method, FirWish& wish) {
    read_symmetry(object, method.symmetry);
    read_delay(object, method.delay_samples);
    read_wish(object, wish);
}
void write_method(Json& object, const LeastSquaresFir& method, const FirWish& wish) {
    write_symmetry(object, method.symmetry);
    write_delay(object, method.delay_samples);
    write_wish(object, wish);
}

void read_method(ObjectReader& object, EquirippleFir& method, FirWish& wish) {
    method.by_tolerances = object.has("spec");
    if (method.by_tolerances) {
        if (!object.has("band")) {
            object.fail("band", "is missing", "name the one that spec speaks of");
        }
        read_named(object, "band", names_of_bands(), method.band);
        read_tolerances(object.object("spec"), method.band, method.tolerances);
        return;
    }
    read_symmetry(object, method.symmetry);
    read_named(object, "form", names_of_forms(), method.form);
    read_wish(object, wish);
    method.by_tolerances = wish.use_goal && !object.has("length");
}
void write_method(Json& object, const EquirippleFir& method, const FirWish& wish) {
    if (method.by_tolerances && !wish.use_goal) {
        object.set("band", key_of_named(names_of_bands(), method.band));
        object.set("spec", tolerances_json(method.tolerances, method.band));
        return;
    }
    write_symmetry(object, method.symmetry);
    if (method.form != EquirippleFir::Form::linear) {
        object.set("form", key_of_named(names_of_forms(), method.form));
    }
    write_wish(object, wish);
}

template <class Pulse>
concept RollsOff = requires(Pulse pulse) {
    pulse.roll_off;
};
template <RollsOff Pulse>
void read_method(ObjectReader& object, Pulse& method, FirWish&) {
    method.symbol_rate_hz = object.number("symbol_rate_hz");
    method.roll_off = object.number("roll_off");
}
template <RollsOff Pulse>
void write_method(Json& object, const Pulse& method, const FirWish&) {
    object.set("symbol_rate_hz", method.symbol_rate_hz);
    object.set("roll_off", method.roll_off);
}

void read_method(ObjectReader& object, GaussianPulseFir& method, FirWish&) {
    method.symbol_rate_hz = object.number("symbol_rate_hz");
    method.bandwidth_time = object.number("bandwidth_time");
}
void write_method(Json& object, const GaussianPulseFir& method, const FirWish&) {
    object.set("symbol_rate_hz", method.symbol_rate_hz);
    object.set("bandwidth_time", method.bandwidth_time);
}

void read_method(ObjectReader& object, MovingAverageFir& method, FirWish&) {
    method.power = object.integer_or("power", 1);
}
void write_method(Json& object, const MovingAverageFir& method, const FirWish&) {
    object.set("power", method.power);
}

void read_method(ObjectReader& object, SavitzkyGolayFir& method, FirWish&) {
    method.degree = object.integer_or("degree", method.degree);
    method.derivative = object.integer_or("derivative", 0);
}
void write_method(Json& object, const SavitzkyGolayFir& method, const FirWish&) {
    object.set("degree", method.degree);
    object.set("derivative", method.derivative);
}

void read_method(ObjectReader& object, FractionalDelayFir& method, FirWish&) {
    method.delay_samples = object.number("delay_samples");
    read_named(object, "interpolation", names_of_fir_interpolations(), method.by);
    if (method.by == FractionalDelayFir::By::least_squares) {
        method.band_hz = object.number("band_hz");
    }
}
void write_method(Json& object, const FractionalDelayFir& method, const FirWish&) {
    object.set("delay_samples", method.delay_samples);
    object.set("interpolation", key_of_named(names_of_fir_interpolations(), method.by));
    if (method.by == FractionalDelayFir::By::least_squares) {
        object.set("band_hz", method.band_hz);
    }
}

void read_method(ObjectReader& object, FromChainFir& method, FirWish&) {
    if (object.has("window")) {
        read_window(object, method.window);
    }
}
void write_method(Json& object, const FromChainFir& method, const FirWish&) {
    if (method != FromChainFir()) {
        write_window(object, method.window);
    }
}

} // namespace

void read_spec(ObjectReader& object, FirSpec& spec) {
    if (!object.has("method")) {
        object.fail("method", "is missing", "use " + keys_of(names_of_methods()));
        return;
    }
    std::size_t index = 0;
    read_named(object, "method", names_of_methods(), index);
    spec.method = fir_method(index);
    const bool may_follow = object.has("spec")
                            || (std::holds_alternative<EquirippleFir>(spec.method)
                                && object.boolean_or("use_goal", false));
    if (!may_follow || object.has("length")) {
        if (!object.has("length")) {
            object.fail("length", "is missing", "give the number of taps");
        }
        spec.length = object.integer_or("length", spec.length);
    }
    if (object.has("phase")) {
        read_named(object, "phase", names_of_phases(), spec.phase);
    }
    spec.phase_share = object.number_or("phase_share", spec.phase_share);
    std::visit([&](auto& method) { read_method(object, method, spec.wish); }, spec.method);
}

void write_spec(Json& object, const FirSpec& spec) {
    object.set("method", key_of_named(names_of_methods(), spec.method.index()));
    if (!length_follows(spec)) {
        object.set("length", spec.length);
    }
    if (spec.phase != FirPhase::as_made) {
        object.set("phase", key_of_named(names_of_phases(), spec.phase));
    }
    if (spec.phase == FirPhase::between) {
        object.set("phase_share", spec.phase_share);
    }
    std::visit([&](const auto& method) { write_method(object, method, spec.wish); }, spec.method);
}

} // namespace syntonon
