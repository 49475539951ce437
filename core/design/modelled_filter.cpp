// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/modelled_filter.h"

#include "core/design/mapped_roots.h"
#include "core/filter/form.h"
#include "core/filter/modelled/ladder.h"
#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/filter/modelled/state_variable_filter_kernel.h"
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <memory>
#include <numbers>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using modelled::LadderBuild;
using modelled::LadderKnobs;
using modelled::LadderResponse;
using modelled::LadderType;
using modelled::StateVariableBuild;
using modelled::StateVariableKnobs;
using modelled::StateVariableResponse;

// w0 / w: the set frequency over the poles' own rate.
double swing_of(LadderType type) {
    return type == LadderType::transistor ? 1 : std::sqrt(18.0 / 19);
}

// Where a pole's output has its zeros, in units of the poles' own rate.
std::vector<Complex> zeros_of_pole(LadderType type, std::size_t pole) {
    const std::size_t degree = modelled::ladder_poles - pole;
    if (type == LadderType::transistor) {
        return std::vector<Complex>(degree, -1.0);
    }
    const auto ascending = modelled::ladder_polynomial(type, pole);
    std::vector<double> c(ascending.begin(), ascending.begin() + std::ptrdiff_t(degree) + 1);
    std::ranges::reverse(c);
    const auto found = polynomial_zeros(c);
    return found ? found->zeros : std::vector<Complex>();
}

std::vector<Complex> zeros_of(const LadderBuild& build, const std::vector<Complex>& poles) {
    std::vector<Complex> zeros;
    const auto at_origin = [&](std::size_t count) { zeros.insert(zeros.end(), count, 0.0); };
    const auto of_pole = [&](std::size_t pole) {
        for (const Complex& zero : zeros_of_pole(build.type, pole)) {
            zeros.push_back(zero / swing_of(build.type));
        }
    };
    switch (build.response) {
    case LadderResponse::low_24:
        break;
    case LadderResponse::low_18:
        of_pole(3);
        break;
    case LadderResponse::low_12:
        of_pole(2);
        break;
    case LadderResponse::low_6:
        of_pole(1);
        break;
    case LadderResponse::band_24:
        at_origin(2);
        break;
    case LadderResponse::band_12:
        at_origin(1);
        of_pole(2);
        break;
    case LadderResponse::high_24:
        at_origin(4);
        break;
    case LadderResponse::high_12:
        at_origin(2);
        of_pole(2);
        break;
    case LadderResponse::notch:
        zeros = {{0, 1}, {0, -1}};
        of_pole(2);
        break;
    case LadderResponse::all_pass:
        for (const Complex& pole : poles) {
            zeros.push_back(-std::conj(pole));
        }
        break;
    }
    return zeros;
}

// Of c2 s^2 + c1 s + c0.
void add_roots(double c2, double c1, double c0, std::vector<Complex>& out) {
    const auto found = quadratic_roots(c2, c1, c0);
    out.insert(out.end(), found.begin(), found.end());
}

// Both roots and their conjugates as quadratics, each about as large as the set frequency.
AnalogCascade sections_of(const ModelledRoots& roots, double rad_per_s) {
    const auto poles = analog_pairs(roots.poles), zeros = analog_pairs(roots.zeros);
    AnalogCascade cascade;
    double gain = roots.gain;
    for (std::size_t i = 0; i < poles.size(); ++i) {
        const auto polynomial = [&](const std::vector<RootPair>& pairs) {
            std::array<double, 3> c = {0, 0, 1}; // of s over the set frequency
            if (i < pairs.size()) {
                const RootPair& pair = pairs[i];
                const int count = pair.count();
                for (std::size_t k = 0; k <= std::size_t(count); ++k) {
                    c.at(std::size_t(2 - count) + k) = static_cast<double>(pair.c.at(k));
                }
            }
            return c;
        };
        const auto b = polynomial(zeros), a = polynomial(poles);
        const double w = rad_per_s;
        cascade.sections.push_back(
            {gain * b[0] / (w * w), gain * b[1] / w, gain * b[2], a[0] / (w * w), a[1] / w, a[2]});
        gain = 1;
    }
    return cascade;
}

// s = (1/g) (z - 1) / (z + 1), s in units of the set frequency.
Roots mapped(const ModelledRoots& roots, double g) {
    Roots found;
    const auto to_circle = [&](const std::vector<Complex>& from, Complex& gain) {
        std::vector<Complex> to;
        for (const Complex& root : from) {
            const Complex below = 1.0 - g * root;
            if (std::abs(below) < 1e-12) { // a zero as far out as can be: a sample's delay
                found.delay_samples += 1;
                gain *= -(1.0 + g * root) / g;
            } else {
                to.push_back((1.0 + g * root) / below);
                gain *= below / g;
            }
        }
        return to;
    };
    Complex above = 1, below = 1;
    found.zeros = to_circle(roots.zeros, above);
    found.poles = to_circle(roots.poles, below);
    found.zeros.insert(found.zeros.end(), roots.poles.size() - roots.zeros.size(), -1.0);
    found.gain = roots.gain * (above / below).real();
    return found;
}

Filter oversampled(Filter inner, std::size_t doublings) {
    for (std::size_t level = doublings; level > 0; --level) {
        inner = Oversampled{std::move(inner), modelled::doubling_filters.at(level - 1)};
    }
    return inner;
}

double inner_rate_hz(std::size_t doublings, double rate_hz) {
    return rate_hz * static_cast<double>(std::size_t(1) << doublings);
}

Filter sampled(const ModelledRoots& roots, double g) {
    const Filter analog = sections_of(roots, 1);
    return Filter(std::get<Cascade>(bilinear_image(analog, 1 / g).form()), mapped(roots, g));
}

template <class Kernel>
class ModelComputation final : public Computation {
public:
    template <class Made>
    ModelComputation(const Made& model, double sample_rate_hz) {
        kernel_.prepare(model.build, sample_rate_hz);
        kernel_.set(0, model.knobs);
    }
    void process(std::span<double> block) noexcept override {
        for (double& sample : block) {
            typename Kernel::Row row = {sample};
            kernel_.process(&row, 1);
            sample = row[0];
        }
    }
    void reset() noexcept override { kernel_.reset(); }

private:
    Kernel kernel_;
};

std::unique_ptr<Computation> computation_of(const LadderModel& model, double rate_hz) {
    return std::make_unique<ModelComputation<modelled::LadderFilter<1>>>(model, rate_hz);
}
std::unique_ptr<Computation> computation_of(const StateVariableModel& model, double rate_hz) {
    return std::make_unique<ModelComputation<modelled::StateVariableFilter<1>>>(model, rate_hz);
}

// What a step of each takes, one voice, at its own rate.
struct StepCost {
    int multiplies = 0, adds = 0, states = 0;
};
StepCost step_cost(const LadderBuild& build) {
    constexpr int newton = 3, of_stage_multiplies = 10, of_stage_adds = 6, stages = 5;
    constexpr int solved_multiplies = 45, solved_adds = 30, mixed = 10;
    const int rounds = build.saturating ? newton : 1;
    const int of_stages = build.saturating ? stages : 0;
    return {rounds * (solved_multiplies + of_stages * of_stage_multiplies) + mixed,
            rounds * (solved_adds + of_stages * of_stage_adds) + mixed, 8};
}
StepCost step_cost(const StateVariableBuild& build) {
    const int count = static_cast<int>(build.in_series);
    return {8 * count + (build.saturating ? 12 : 0), 9 * count + (build.saturating ? 6 : 0),
            2 * count};
}

template <class Build>
Cost cost_of(const Build& build) {
    const StepCost step = step_cost(build);
    Cost all;
    all.multiplies = step.multiplies;
    all.adds = step.adds;
    all.state_words = step.states;
    for (std::size_t level = build.doublings; level > 0; --level) {
        const int sections = static_cast<int>(modelled::doubling_filters.at(level - 1).count);
        all.multiplies = 2 * (all.multiplies + sections) + 1;
        all.adds = 2 * (all.adds + 2 * sections) + 1;
        all.state_words += std::int64_t{4} * sections;
    }
    return all;
}

class ModelWay final : public WayOfComputing {
public:
    ModelWay(const FilterModel& model, double sample_rate_hz)
        : model_(model), sample_rate_hz_(sample_rate_hz) {}

    const FilterModel& model() const { return model_; }

    std::unique_ptr<Computation> start() const override {
        return std::visit([&](const auto& model) { return computation_of(model, sample_rate_hz_); },
                          model_);
    }
    bool is_like(const WayOfComputing& other) const override {
        const auto* same = dynamic_cast<const ModelWay*>(&other);
        return same != nullptr && same->model_ == model_
               && same->sample_rate_hz_ == sample_rate_hz_;
    }
    std::size_t bytes() const override { return sizeof(ModelWay); }
    // The stages' bend holds it.
    bool stays_within_bounds() const override {
        return std::visit([](const auto& model) { return model.build.saturating; }, model_);
    }
    Cost cost(const Filter&) const override {
        return std::visit([](const auto& model) { return cost_of(model.build); }, model_);
    }

private:
    FilterModel model_;
    double sample_rate_hz_;
};

template <class Made>
Filter computed(Filter linear, const Made& model, const Axis& axis) {
    return Computed{std::move(linear),
                    std::make_shared<const ModelWay>(FilterModel(model), axis.sample_rate_hz)};
}

} // namespace

ModelledRoots modelled_roots(const LadderBuild& build, const LadderKnobs& knobs) {
    ModelledRoots roots;
    roots.poles = modelled::small_signal_poles(build.type, knobs.resonance);
    roots.zeros = zeros_of(build, roots.poles);
    // What the numerator's highest power is times, in units of the poles' own rate: the first tap
    // that is there.
    const auto mix = modelled::ladder_mix(build.type, build.response);
    const std::size_t degree = roots.zeros.size();
    const double k = knobs.resonance * modelled::ladder_limit(build.type);
    const double lost = mix.is_low ? build.bass_compensation * k * mix.rest_gain : 0;
    const double highest = mix.taps.at(modelled::ladder_poles - degree);
    roots.gain =
        (1 + lost) * highest * std::pow(swing_of(build.type), static_cast<double>(degree) - 4);
    return roots;
}

ModelledRoots modelled_roots(const StateVariableBuild& build, const StateVariableKnobs& knobs) {
    // The integrators of a shelf are not set to its frequency, but moved by its gain.
    const auto c =
        modelled::state_variable_coefficients(build.response, 1, knobs.resonance, knobs.gain_db, 8);
    const double moved = 1 / c.moved;
    ModelledRoots roots;
    add_roots(moved * moved, c.damping * moved, 1, roots.poles);
    const double n2 = c.of_input, n1 = c.of_input * c.damping + c.of_band,
                 n0 = c.of_input + c.of_low;
    add_roots(n2 * moved * moved, n1 * moved, n0, roots.zeros);
    roots.gain = n2 != 0 ? n2 : (n1 != 0 ? n1 / moved : n0 / (moved * moved));
    return roots;
}

Filter modelled_filter(const LadderBuild& build, const LadderKnobs& knobs, const Axis& axis) {
    const ModelledRoots roots = modelled_roots(build, knobs);
    if (axis.is_analog()) {
        return sections_of(roots, 2 * std::numbers::pi * knobs.frequency_hz);
    }
    // Where its stages saturate it is set lower, so as to swing where it should.
    const auto c = modelled::ladder_coefficients(
        build.type, knobs.frequency_hz, knobs.resonance,
        inner_rate_hz(build.doublings, axis.sample_rate_hz), build.prewarped);
    return computed(oversampled(sampled(roots, c.g * swing_of(build.type)), build.doublings),
                    LadderModel{build, knobs}, axis);
}

Filter modelled_filter(const StateVariableBuild& build, const StateVariableKnobs& knobs,
                       const Axis& axis) {
    const ModelledRoots roots = modelled_roots(build, knobs);
    if (axis.is_analog()) {
        return repeated(sections_of(roots, 2 * std::numbers::pi * knobs.frequency_hz),
                        build.in_series);
    }
    const auto c = modelled::state_variable_coefficients(
        build.response, knobs.frequency_hz, knobs.resonance, knobs.gain_db,
        inner_rate_hz(build.doublings, axis.sample_rate_hz), build.prewarped);
    const double g = c.g / c.moved;
    Filter linear = sampled(roots, g);
    if (build.in_series > 1) {
        const auto& one = std::get<Cascade>(linear.form());
        Cascade all;
        for (std::size_t i = 0; i < build.in_series; ++i) {
            all.sections.insert(all.sections.end(), one.sections.begin(), one.sections.end());
        }
        linear = build.doublings > 0 ? Filter(all) : repeated(linear, build.in_series);
    }
    return computed(oversampled(std::move(linear), build.doublings),
                    StateVariableModel{build, knobs}, axis);
}

namespace {

StateVariableModel plain_one(const LadderModel& ladder) {
    constexpr double greatest_resonance = 0.98;
    StateVariableModel plain;
    plain.knobs.frequency_hz = ladder.knobs.frequency_hz;
    plain.knobs.resonance = std::min(ladder.knobs.resonance, greatest_resonance);
    switch (ladder.build.response) {
    case LadderResponse::low_24:
    case LadderResponse::low_18:
        plain.build.in_series = 2;
        break;
    case LadderResponse::band_24:
        plain.build.in_series = 2;
        plain.build.response = StateVariableResponse::band;
        break;
    case LadderResponse::band_12:
        plain.build.response = StateVariableResponse::band;
        break;
    case LadderResponse::high_24:
        plain.build.in_series = 2;
        plain.build.response = StateVariableResponse::high;
        break;
    case LadderResponse::high_12:
        plain.build.response = StateVariableResponse::high;
        break;
    case LadderResponse::notch:
        plain.build.response = StateVariableResponse::notch;
        break;
    case LadderResponse::all_pass:
        plain.build.in_series = 2;
        plain.build.response = StateVariableResponse::all_pass;
        break;
    case LadderResponse::low_12:
    case LadderResponse::low_6:
        break;
    }
    if (plain.build.in_series == 2) { // as resonant together as one would be
        plain.knobs.resonance = 1 - std::sqrt(1 - plain.knobs.resonance);
    }
    return plain;
}

} // namespace

std::optional<double> modelled_frequency_hz(const Filter& chain) {
    const auto* row = std::get_if<Series>(&chain.form());
    for (const Filter& part : row != nullptr ? row->parts : std::vector{chain}) {
        if (const auto model = model_of(part)) {
            return std::visit([](const auto& made) { return made.knobs.frequency_hz; }, *model);
        }
    }
    return std::nullopt;
}

bool has_ladder(const Filter& chain) {
    const auto is_ladder = [](const Filter& part) {
        const auto model = model_of(part);
        return model && std::holds_alternative<LadderModel>(*model);
    };
    const auto* row = std::get_if<Series>(&chain.form());
    return row != nullptr ? std::ranges::any_of(row->parts, is_ladder) : is_ladder(chain);
}

std::optional<Filter> with_state_variables(const Filter& chain, const Axis& axis) {
    const auto* row = std::get_if<Series>(&chain.form());
    std::vector<Filter> parts = row != nullptr ? row->parts : std::vector{chain};
    bool has_ladder = false;
    for (Filter& part : parts) {
        const auto model = model_of(part);
        const auto* ladder = model ? std::get_if<LadderModel>(&*model) : nullptr;
        if (ladder != nullptr) {
            const StateVariableModel plain = plain_one(*ladder);
            part = modelled_filter(plain.build, plain.knobs, axis);
            has_ladder = true;
        }
    }
    return has_ladder ? std::optional(series(parts)) : std::nullopt;
}

std::optional<FilterModel> model_of(const Filter& filter) {
    const auto* computed = std::get_if<Computed>(&filter.form());
    const auto* way =
        computed != nullptr ? dynamic_cast<const ModelWay*>(computed->way.get()) : nullptr;
    return way != nullptr ? std::optional(way->model()) : std::nullopt;
}

} // namespace syntonon
