// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/ways/candidates.h"

#include "core/base/units.h"
#include "core/study/classical_goal.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

FirWish bands_of_requirements(const Goal& goal) {
    FirWish wish;
    wish.bands.clear();
    for (const Requirement& requirement : goal.requirements) {
        if (const auto* ripple = std::get_if<RippleRequirement>(&requirement.spec)) {
            // Gains from 1 - room to 1 + room.
            const double room = std::tanh(ripple->max_db * std::log(10.0) / 40);
            wish.bands.push_back({ripple->from_hz, ripple->to_hz, 1, {}, 1 / room, {}});
        } else if (const auto* down = std::get_if<AttenuationRequirement>(&requirement.spec)) {
            wish.bands.push_back(
                {down->from_hz, down->to_hz, 0, {}, ratio_from_db(down->min_db), {}});
        }
    }
    std::ranges::sort(wish.bands, {}, &FirBand::from_hz);
    return wish;
}

FirWish wish_of(const ResolvedGoal& goal, const Brief& brief) {
    FirWish wish;
    wish.use_goal = brief.wished != nullptr && !brief.wished->empty();
    return wish.use_goal ? wish : bands_of_requirements(*goal.goal);
}

// The least error that is allowed anywhere, against the greatest gain asked for.
double attenuation_asked(const FirWish& wish, const Brief& brief) {
    constexpr double usual_db = 60;
    const auto wanted = wish.use_goal ? amplitude_of_corridor(brief)
                                      : amplitude_of(wish, brief, Least::greatest_error);
    double room = std::numeric_limits<double>::infinity(), gain = 0;
    for (const AmplitudePiece& piece : wanted.value_or(Amplitude{})) {
        room = std::min(room, 1 / piece.weight);
        gain = std::max({gain, std::abs(piece.gain.at_from), std::abs(piece.gain.at_to)});
    }
    return std::isfinite(room) && gain > 0 ? db_from_ratio(gain / room) : usual_db;
}

bool passes_half_rate(const FirWish& wish, const Brief& brief) {
    const auto wanted = amplitude_of(wish, brief);
    return wanted && !wanted->empty() && wanted->back().gain.to >= pi
           && wanted->back().gain.at_to != 0;
}

// A window that is not about the middle is cut off: the smoother it ends, the less that turns the
// phase.
std::vector<double> parameters_to_try(WindowShape shape, double attenuation_db, bool has_delay) {
    std::vector<double> tried;
    switch (shape) {
    case WindowShape::kaiser:
        for (const double more_db : {0.0, 4.0, 10.0, -6.0}) {
            tried.push_back(kaiser_beta(attenuation_db + more_db));
        }
        if (has_delay) {
            for (const double more_db : {30.0, 60.0, 90.0}) {
                tried.push_back(kaiser_beta(attenuation_db + more_db));
            }
        }
        return tried;
    case WindowShape::dolph_chebyshev:
        for (const double more_db : {0.0, 8.0, 16.0, -8.0}) {
            tried.push_back(std::clamp(attenuation_db + more_db, 10.0, 300.0));
        }
        return tried;
    case WindowShape::tukey:
        return {0.25, 0.5, 0.75};
    case WindowShape::gaussian:
        return {0.5, 0.4, 0.33, 0.27, 0.22};
    case WindowShape::cosine_power:
        return {1, 2, 3, 4, 6};
    default:
        return {0};
    }
}

// By the goal's tolerances: of the band with the most sides that it has some for.
Expected<ClassicalSpec> recursive_for(const ResolvedGoal& goal) {
    ClassicalSpec spec;
    spec.by_tolerances = true;
    for (const ClassicalBand band :
         {ClassicalBand::band_pass, ClassicalBand::band_stop, ClassicalBand::high_pass}) {
        if (const auto tolerances = tolerances_from(goal, band, spec.tolerances)) {
            spec.band = band;
            spec.tolerances = *tolerances;
            return spec;
        }
    }
    return tolerances_from(goal, ClassicalBand::low_pass, spec.tolerances)
        .map([&](const Tolerances& tolerances) {
            spec.band = ClassicalBand::low_pass;
            spec.tolerances = tolerances;
            return spec;
        });
}

// One FIR after the other, all asked for the same.
class Firs {
public:
    // `tolerances`: of a goal that a classical filter would do for.
    Firs(FirWish wish, const Brief& brief, const Expected<ClassicalSpec>& tolerances)
        : wish_(std::move(wish)), brief_(brief), tolerances_(tolerances) {}

    void add_all(const Goal& goal) {
        add_equiripple();
        add("Least squares", LeastSquaresFir{});
        add_delayed(goal);
        add_sampled();
        add_windowed(goal);
    }
    std::vector<WayCandidate> all;

private:
    FirSpec spec(FirMethod method) const {
        FirSpec spec;
        spec.method = std::move(method);
        spec.wish = wish_;
        return spec;
    }
    static std::function<StageSpec(int)> of_length(FirSpec spec) {
        return [spec = std::move(spec)](int length) {
            FirSpec made = spec;
            made.length = length;
            return StageSpec(made);
        };
    }
    void add(std::string name, FirMethod method) {
        all.push_back({std::move(name), {of_length(spec(std::move(method)))}});
    }
    void add_sampled() {
        SampledFir best;
        best.between = SampledFir::Between::best;
        all.push_back({"Sampled", {of_length(spec(best)), of_length(spec(SampledFir{}))}});
    }
    void add_equiripple() {
        std::optional<StageSpec> estimate;
        if (wish_.use_goal && amplitude_of_corridor(brief_)) {
            EquirippleFir by_corridor;
            by_corridor.by_tolerances = true;
            estimate = StageSpec(spec(by_corridor));
        }
        FirSpec turned = spec(EquirippleFir{});
        turned.phase = FirPhase::minimum;
        EquirippleFir magnitude;
        magnitude.form = EquirippleFir::Form::magnitude_only;
        all.push_back({"Equiripple", {of_length(spec(EquirippleFir{}))}, true, estimate});
        all.push_back({"Equiripple, minimum phase", {of_length(turned)}, true, estimate});
        constexpr double usually = 0.85; // it takes fewer taps than linear phase does
        all.push_back(
            {"Equiripple in magnitude", {of_length(spec(magnitude))}, true, estimate, usually});
    }
    // With the delay that the goal asks for, or else a good part of the middle's.
    void add_delayed(const Goal& goal) {
        if (const auto asked = delay_asked(goal)) {
            WayCandidate squares{"Least squares, goal's delay",
                                 {delayed(LeastSquaresFir{}, *asked)}};
            WayCandidate sampled{"Sampled, goal's delay", {delayed(SampledFir{}, *asked)}};
            sampled.longest = longest_with(*asked);
            for (WayCandidate* each : {&squares, &sampled}) {
                each->by_whole_goal = true;
                all.push_back(std::move(*each));
            }
            return;
        }
        const FirSpec usual = spec(LeastSquaresFir{});
        all.push_back({"Least squares, 2/3 delay", {[usual](int length) {
                           constexpr double part = 2.0 / 3;
                           FirSpec made = usual;
                           made.length = length;
                           // To a tenth of a sample, as one would state it.
                           std::get<LeastSquaresFir>(made.method).delay_samples =
                               std::round(10 * part * middle_of(static_cast<std::size_t>(length)))
                               / 10;
                           return StageSpec(made);
                       }}});
    }
    // Never later than a length can.
    template <class Method>
    std::function<StageSpec(int)> delayed(Method method, double delay_samples) const {
        return [usual = spec(method), method, delay_samples](int length) {
            FirSpec made = usual;
            Method turned = method;
            turned.delay_samples =
                std::min(delay_samples, 2 * middle_of(static_cast<std::size_t>(length)));
            made.method = turned;
            made.length = length;
            return StageSpec(made);
        };
    }
    // A window about a delay of its own is cut off at the start, the worse the longer it is.
    static int longest_with(double delay_samples) {
        constexpr int times = 4;
        return std::max(32, static_cast<int>(std::ceil(times * (delay_samples + 1))));
    }
    std::optional<double> delay_asked(const Goal& goal) const {
        std::optional<double> asked;
        for (const Requirement& requirement : goal.requirements) {
            const auto* delay = std::get_if<GroupDelayRequirement>(&requirement.spec);
            if (delay != nullptr && delay->value) {
                asked = samples_of(*delay->value, brief_.sample_rate_hz);
            }
        }
        return asked;
    }
    void add_windowed(const Goal& goal) {
        const auto asked = delay_asked(goal);
        const double down_db = attenuation_asked(wish_, brief_);
        for (const NamedValue<WindowShape>& shape : names_of_windows()) {
            if (shape.value == WindowShape::drawn) {
                continue;
            }
            WayCandidate candidate{fmt::format("Window: {}", shape.title)};
            candidate.is_even = false; // their ripples do not fall with each tap
            candidate.by_whole_goal = asked.has_value();
            candidate.longest = asked ? std::optional(longest_with(*asked)) : std::nullopt;
            for (const double parameter :
                 parameters_to_try(shape.value, down_db, asked.has_value())) {
                WindowedFir method = windowed();
                method.window = {shape.value, parameter, {}};
                candidate.variants.push_back(asked ? delayed(method, *asked)
                                                   : of_length(spec(method)));
            }
            all.push_back(std::move(candidate));
        }
    }

    // Of a filter with one or two edges these lie amid the transitions. A goal of any other form is
    // followed as it is.
    WindowedFir windowed() const {
        WindowedFir method;
        method.by = tolerances_ ? WindowedFir::By::edges : WindowedFir::By::bands;
        if (tolerances_) {
            const Tolerances& t = tolerances_->tolerances;
            method.band = tolerances_->band;
            for (std::size_t i = 0; i < 2; ++i) {
                method.edges_hz[i] = (t.pass_edges_hz[i] + t.stop_edges_hz[i]) / 2;
            }
        }
        return method;
    }

    FirWish wish_;
    const Brief& brief_;
    const Expected<ClassicalSpec>& tolerances_;
};

void add_recursive(const Expected<ClassicalSpec>& usual, std::vector<WayCandidate>& all) {
    for (const NamedValue<ClassicalFamily>& family : names_of_families()) {
        WayCandidate candidate{std::string(family.title), {}, false};
        if (usual) {
            ClassicalSpec spec = *usual;
            spec.family = family.value;
            candidate.variants.emplace_back([spec](int) { return StageSpec(spec); });
        } else {
            candidate.obstacle = to_text(usual.error());
        }
        all.push_back(std::move(candidate));
    }
}

} // namespace

WayCandidates way_candidates(const ResolvedGoal& goal, const Brief& brief) {
    const FirWish wish = wish_of(goal, brief);
    const auto recursive = recursive_for(goal);
    Firs firs(wish, brief, recursive);
    if (!brief.axis().is_analog()) { // an FIR is a row of samples
        firs.add_all(*goal.goal);
    }
    WayCandidates found{std::move(firs.all), passes_half_rate(wish, brief) ? 2 : 1};
    add_recursive(recursive, found.all);
    return found;
}

} // namespace syntonon
