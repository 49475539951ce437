// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/windowed.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/fir/ideal_taps.h"
#include "core/math/fine_spectrum.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<void> check_edges(const WindowedFir& method, double rate) {
    const bool two = has_two_edges(method.band);
    for (std::size_t i = 0; i < (two ? 2U : 1U); ++i) {
        const double hz = method.edges_hz[i];
        if (!(hz > 0 && hz < rate / 2)) {
            return refuse(fmt::format("edges_hz[{}]", i),
                          fmt::format("{} Hz is not between 0 Hz and half the sample rate ({} Hz)",
                                      hz, rate / 2),
                          "move it there");
        }
    }
    if (two && !(method.edges_hz[0] < method.edges_hz[1])) {
        return refuse("edges_hz[1]", "is not above the first edge", "let the edges rise");
    }
    return {};
}

// 1 where the band passes.
std::vector<LinePiece> lines_of(ClassicalBand band, double w0, double w1) {
    switch (band) {
    case ClassicalBand::high_pass:
        return {{w0, pi, 1, 1}};
    case ClassicalBand::band_pass:
        return {{w0, w1, 1, 1}};
    case ClassicalBand::band_stop:
        return {{0, w0, 1, 1}, {w1, pi, 1, 1}};
    case ClassicalBand::low_pass:
        break;
    }
    return {{0, w0, 1, 1}};
}

// Where the gain is to be 1: in the middle of the pass band, at its end where that is an end.
double reference_w(ClassicalBand band, double w0, double w1) {
    return band == ClassicalBand::high_pass   ? pi
           : band == ClassicalBand::band_pass ? (w0 + w1) / 2
                                              : 0;
}

struct Edges {
    double w0, w1;
};

struct Cut {
    std::vector<double> taps;
    WorkingCurve window;
};

Cut cut_by(const Window& window, std::span<const LinePiece> amplitude, std::size_t length,
           double delay) {
    const bool centred = delay == middle_of(length);
    Cut cut{ideal_taps(amplitude, length, delay), {}};
    cut.window.values =
        centred ? window_values(window, length) : window_values(window, length, delay);
    cut.window.title = named(names_of_windows(), window.shape).title;
    for (std::size_t n = 0; n < length; ++n) {
        cut.taps[n] *= cut.window.values[n];
    }
    if (centred) { // to the bit
        for (std::size_t n = 0; n < length / 2; ++n) {
            cut.taps[length - 1 - n] = cut.taps[n];
        }
    }
    return cut;
}

// "attenuation" and such, of what the window does to an ideal edge.
WorkingStep step_of_window(const Window& window) {
    WorkingStep step{"Window", {}};
    const WindowParameter parameter = parameter_of(window.shape);
    if (!parameter.name.empty()) {
        step.numbers.push_back({std::string(parameter.name), "the window's parameter",
                                window.parameter, std::string(parameter.unit)});
    }
    return step;
}

// A window halves the gain where the ideal filter jumps; half power lies aside.
WorkingStep step_of_edges(const std::vector<double>& taps, ClassicalBand band, const Edges& edges,
                          double rate) {
    WorkingStep step{"At the edges, which are where the gain is half", {}};
    const FineSpectrum spectrum(taps);
    const double inside = reference_w(band, edges.w0, edges.w1);
    const auto add = [&](const char* symbol, double w, double passes_at) {
        const double db = db_from_ratio(std::abs(spectrum.at(w, 2 * pi).h));
        const double half_power = crossing_between(spectrum, passes_at, w, std::sqrt(0.5));
        step.numbers.push_back({symbol, "edge", hz_from_rad_per_sample(w, rate), "Hz"});
        step.numbers.push_back({fmt::format("H({})", symbol), "level there", db, "dB"});
        step.numbers.push_back({fmt::format("{}(−3 dB)", symbol), "half power",
                                hz_from_rad_per_sample(half_power, rate), "Hz"});
    };
    add("f1", edges.w0, band == ClassicalBand::band_stop ? 0 : inside);
    if (has_two_edges(band)) {
        add("f2", edges.w1, band == ClassicalBand::band_stop ? pi : inside);
    }
    return step;
}

void scale_to_unity(std::vector<double>& taps, double w, double delay) {
    const double gain = std::abs(gain_about(taps, delay, w));
    if (gain > 0) {
        for (double& tap : taps) {
            tap /= gain;
        }
    }
}

constexpr const char* textbook = "Ideal impulse response times a window (Oppenheim and Schafer, "
                                 "Discrete-Time Signal Processing, "
                                 "3rd ed., sections 7.5, 7.6)";

Expected<FirMade> by_edges(const WindowedFir& method, const FirTask& task, double delay) {
    const double rate = task.brief.sample_rate_hz;
    if (auto ok = check_edges(method, rate); !ok) {
        return tl::unexpected(ok.error());
    }
    const Edges edges{rad_per_sample_from_hz(method.edges_hz[0], rate),
                      rad_per_sample_from_hz(method.edges_hz[1], rate)};
    const auto lines = lines_of(method.band, edges.w0, edges.w1);
    if (delay == middle_of(task.length)) {
        if (auto ok = check_reach({task.length, false}, {{lines.back(), 1}}); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    Cut cut = cut_by(method.window, lines, task.length, delay);
    if (method.scale == WindowedFir::Scale::unity) {
        scale_to_unity(cut.taps, reference_w(method.band, edges.w0, edges.w1), delay);
    }
    FirMade made{std::move(cut.taps), textbook};
    made.steps = {step_of_window(method.window),
                  step_of_edges(made.taps, method.band, edges, rate)};
    made.window = std::move(cut.window);
    return made;
}

Expected<FirMade> by_bands(const WindowedFir& method, const FirTask& task, double delay) {
    const auto lines = joined_wish(task, delay);
    if (!lines) {
        return tl::unexpected(lines.error());
    }
    Cut cut = cut_by(method.window, *lines, task.length, delay);
    FirMade made{std::move(cut.taps), textbook};
    made.steps = {step_of_window(method.window)};
    made.window = std::move(cut.window);
    return made;
}

// Of the allowed one: 1 is on the limit.
double greatest_error(const std::vector<double>& taps, const Amplitude& wanted) {
    constexpr double places_a_tap = 8;
    const FineSpectrum spectrum(taps);
    double greatest = 0;
    for (const AmplitudePiece& piece : wanted) {
        const auto steps = static_cast<int>(
            std::ceil((piece.gain.to - piece.gain.from) / pi * places_a_tap * double(taps.size())));
        for (int k = 0; k <= steps; ++k) {
            const double w = std::lerp(piece.gain.from, piece.gain.to, double(k) / steps);
            const double gain = std::abs(spectrum.at(w, 2 * pi).h);
            greatest = std::max(greatest, piece.weight * std::abs(gain - piece.gain.at(w)));
        }
    }
    return greatest;
}

struct KaiserPlan {
    double attenuation_db, transition, beta, length;
    std::vector<LinePiece> lines; // jumping in the middle of the transitions
};

KaiserPlan plan_of(const Amplitude& wanted) {
    KaiserPlan plan{0, pi, 0, 0, {}};
    double from = 0;
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        const LinePiece& line = wanted[i].gain;
        plan.attenuation_db = std::max(plan.attenuation_db, db_from_ratio(wanted[i].weight));
        double to = pi;
        if (i + 1 < wanted.size()) {
            to = (line.to + wanted[i + 1].gain.from) / 2;
            plan.transition = std::min(plan.transition, wanted[i + 1].gain.from - line.to);
        }
        if (line.at_from != 0) {
            plan.lines.push_back({from, to, line.at_from, line.at_from});
        }
        from = to;
    }
    plan.beta = kaiser_beta(plan.attenuation_db);
    plan.length = kaiser_length(plan.attenuation_db, plan.transition);
    return plan;
}

Expected<FirMade> by_tolerances(const WindowedFir& method, const FirTask& task) {
    const auto wanted = amplitude_of(method.tolerances, method.band, task.brief.sample_rate_hz);
    if (!wanted) {
        return tl::unexpected(wanted.error());
    }
    const KaiserPlan plan = plan_of(*wanted);
    if (!(plan.length < most_windowed)) {
        return refuse("spec", fmt::format("takes about {:.0f} taps", plan.length),
                      fmt::format("widen the transition: {} are the most", most_windowed));
    }
    const bool odd_only = plan.lines.back().to >= pi;
    auto length = static_cast<std::size_t>(std::ceil(plan.length));
    length += odd_only && length % 2 == 0 ? 1 : 0;
    const std::size_t estimate = length;
    const Window window{WindowShape::kaiser, plan.beta, {}};
    Cut cut;
    double error = 2;
    for (; length <= estimate + estimate / 2 + 16;
         length += std::max<std::size_t>(1, estimate / 256) * (odd_only ? 2 : 1)) {
        if (task.watch.is_stopped()) {
            return stopped();
        }
        cut = cut_by(window, plan.lines, length, middle_of(length));
        error = greatest_error(cut.taps, *wanted);
        if (error <= 1) {
            break;
        }
    }
    if (error > 1) {
        return refuse(
            "spec", "is not met by a Kaiser window of half as many taps again as its formula says",
            "use the equiripple method");
    }
    FirMade made{std::move(cut.taps), textbook};
    made.steps = {
        {"Kaiser's formulas (1974)",
         {{"A", "attenuation: the smaller of the allowed errors", plan.attenuation_db, "dB"},
          {"Δω", "narrowest transition", plan.transition, "rad/sample"},
          {"β", "of the window", plan.beta, ""},
          {"N", "length by the formula", plan.length, "taps"},
          {"N", "length that meets it", static_cast<double>(length), "taps"},
          {"ε", "greatest error against the allowed one", error, ""}}}};
    made.window = std::move(cut.window);
    return made;
}

} // namespace

Expected<FirMade> made(const WindowedFir& method, const FirTask& task) {
    if (method.by == WindowedFir::By::tolerances) {
        return by_tolerances(method, task);
    }
    if (auto ok = check_length(task.length, most_windowed); !ok) {
        return tl::unexpected(ok.error());
    }
    const double delay = method.delay_samples.value_or(middle_of(task.length));
    for (auto ok : {check_delay(delay, task.length), check(method.window)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    return method.by == WindowedFir::By::edges ? by_edges(method, task, delay)
                                               : by_bands(method, task, delay);
}

} // namespace syntonon
