// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/equiripple_fir.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/fir/exchange.h"
#include "core/design/fir/phase_form.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <optional>
#include <utility>

namespace syntonon {
namespace {

constexpr const char* exchange_source =
    "Remez exchange (McClellan, Parks and Rabiner, 1973; barycentric after Filip, 2016)";

WorkingStep step_of_exchange(const Equiripple& found) {
    WorkingStep step{"Exchange",
                     {{"ε", "greatest weighted error of the taps", found.deviation, ""},
                      {"ε0", "no taps of this length have less (de la Vallée-Poussin)",
                       found.least_possible, ""}}};
    for (std::size_t i = 0; i < found.rounds.size(); ++i) {
        const std::string number = std::to_string(i + 1);
        step.numbers.push_back({"δ" + number, "level of the reference", found.rounds[i].level, ""});
        step.numbers.push_back({"E" + number, "greatest error found", found.rounds[i].largest, ""});
    }
    return step;
}

std::vector<double> in_hz(const std::vector<double>& w, double rate) {
    std::vector<double> hz;
    for (const double place : w) {
        hz.push_back(hz_from_rad_per_sample(place, rate));
    }
    return hz;
}

// Gaps in which nothing is asked for may be used without measure.
std::string note_of_gaps(const std::vector<double>& taps, const Amplitude& wanted, double rate) {
    constexpr double worth_saying = 2; // of the greatest gain asked for
    double asked = 0;
    for (const AmplitudePiece& piece : wanted) {
        asked = std::max({asked, std::abs(piece.gain.at_from), std::abs(piece.gain.at_to)});
    }
    const GapGain gap = greatest_outside(taps, wanted);
    return gap.gain > worth_saying * asked
               ? fmt::format("rises to {:+.1f} dB at {}, where nothing is asked for",
                             db_from_ratio(gap.gain),
                             frequency_text(hz_from_rad_per_sample(gap.w, rate)))
               : std::string();
}

FirMade made_of(const Equiripple& found, const Amplitude& wanted, double rate) {
    FirMade made{found.taps, exchange_source};
    made.steps = {step_of_exchange(found)};
    made.marked_hz = in_hz(found.extrema_w, rate);
    made.note = note_of_gaps(found.taps, wanted, rate);
    return made;
}

Expected<FirMade> linear(const LinearPhaseType& type, const Amplitude& wanted,
                         const FirTask& task) {
    if (auto ok = check_reach(type, wanted); !ok) {
        return tl::unexpected(ok.error());
    }
    return equiripple(type, wanted, task.watch).map([&](const Equiripple& found) {
        return made_of(found, wanted, task.brief.sample_rate_hz);
    });
}

// 1/2 z^-M and, at every other tap, those of a filter of half the length that passes everything up
// to twice the band's end.
Expected<FirMade> half_band(const Amplitude& wanted, const FirTask& task) {
    if (task.length % 4 != 3) {
        const std::size_t below = task.length < 3 ? 3 : (task.length + 1) / 4 * 4 - 1;
        return refuse("length",
                      fmt::format("a half-band filter has 3, 7, 11, … taps, not {}", task.length),
                      fmt::format("take {} or {}", below, below + 4));
    }
    const double end = wanted.front().gain.to, gain = wanted.front().gain.at_from;
    if (wanted.front().gain.from != 0 || wanted.front().gain.at_to != gain || !(end < pi / 2)) {
        return refuse("bands[0]", "is not level from 0 Hz to below a quarter of the sample rate",
                      "state it so; the rest of a half-band filter follows from it");
    }
    const LinearPhaseType half((task.length + 1) / 2, false);
    const auto found = equiripple(half, {{{0, 2 * end, gain, gain}, 1}}, task.watch);
    if (!found) {
        return tl::unexpected(found.error());
    }
    FirMade made{
        std::vector<double>(task.length, 0.0),
        "Half-band from a filter of half the length (Vaidyanathan and Nguyen, 1987), by the "
        "exchange"};
    for (std::size_t n = 0; n < found->taps.size(); ++n) {
        made.taps[2 * n] = found->taps[n] / 2;
    }
    made.taps[(task.length - 1) / 2] = gain / 2;
    Equiripple whole = *found;
    whole.deviation /= 2;
    whole.least_possible /= 2;
    for (ExchangeRound& round : whole.rounds) {
        round = {round.level / 2, round.largest / 2};
    }
    made.steps = {step_of_exchange(whole)};
    for (const double w : found->extrema_w) {
        made.marked_hz.push_back(hz_from_rad_per_sample(w / 2, task.brief.sample_rate_hz));
        made.marked_hz.push_back(hz_from_rad_per_sample(pi - w / 2, task.brief.sample_rate_hz));
    }
    std::ranges::sort(made.marked_hz);
    return made;
}

// The square of a magnitude with errors up to `error` over weight: about gain^2 + e^2 by 2 gain e,
// where the gain is 0 from 0 to e^2.
Amplitude squared(const Amplitude& wanted, double error) {
    Amplitude square;
    for (const AmplitudePiece& piece : wanted) {
        const double e = error / piece.weight, gain = piece.gain.at_from;
        const double middle = gain == 0 ? e * e / 2 : gain * gain + e * e;
        const double room = gain == 0 ? e * e / 2 : 2 * gain * e;
        square.push_back({{piece.gain.from, piece.gain.to, middle, middle}, error / room});
    }
    return square;
}

// Taps whose square's spectrum is that of the symmetric ones.
Expected<std::vector<double>> factor_of(const std::vector<double>& square, const Watch& watch) {
    const std::size_t length = (square.size() + 1) / 2;
    const std::size_t whole = quick_fft_length(std::max<std::size_t>(64 * length, 65536));
    RealFft fft(whole);
    std::ranges::fill(fft.signal(), 0.0);
    std::ranges::copy(square, fft.signal().begin());
    fft.to_spectrum();
    std::vector<double> magnitude;
    for (const auto& bin : fft.spectrum()) {
        magnitude.push_back(std::sqrt(std::abs(bin)));
    }
    if (watch.is_stopped()) {
        return stopped();
    }
    return taps_of_magnitude(magnitude, length, 0);
}

// The error that the exchange leaves of a square with room for `error` falls as that grows: where
// they are equal the square just touches 0.
Expected<FirMade> magnitude_only(const Amplitude& wanted, const FirTask& task) {
    for (const AmplitudePiece& piece : wanted) {
        if (piece.gain.at_from != piece.gain.at_to || piece.gain.at_from < 0) {
            return refuse("bands", "slope or are negative: magnitude only takes level bands",
                          "use form linear, or steps");
        }
    }
    const LinearPhaseType type(2 * task.length - 1, false);
    const auto left_of = [&](double error) {
        return equiripple(type, squared(wanted, error), task.watch);
    };
    // Both by logarithms, in which the one is nearly a straight line over the other: by the chord
    // between the last two, and by halves where that leads out of what is left.
    double low = 1e-8, high = 1;
    std::optional<Equiripple> best;
    double error = 0.01, last_error = 0, last_excess = 0;
    constexpr double near = 1e-9;
    for (int i = 0; i < 60 && high / low > 1 + near; ++i) {
        const auto found = left_of(error);
        if (!found) {
            return tl::unexpected(found.error());
        }
        if (found->deviation <= error) {
            best = *found;
            high = error;
        } else {
            low = error;
        }
        const double excess = std::log(found->deviation / error);
        const double chord =
            i > 0 ? excess * std::log(error / last_error) / (excess - last_excess) : -excess / 2;
        last_error = std::exchange(error, error * std::exp(-chord));
        last_excess = excess;
        // A little beyond it, so that the root is soon between two that are near.
        error *= 1 + (excess > 0 ? near : -near) / 2;
        error = error > low && error < high ? error : std::sqrt(low * high);
    }
    if (!best) {
        return refuse("length", fmt::format("{} taps leave errors above 1", task.length),
                      "take more taps");
    }
    const auto taps = factor_of(best->taps, task.watch);
    if (!taps) {
        return tl::unexpected(taps.error());
    }
    FirMade made{
        *taps,
        "Minimum phase of the least magnitude error: the exchange on the square, lifted until "
        "it touches 0, and its factor (Herrmann and Schuessler, 1970)"};
    made.steps = {{"Magnitude", {{"ε", "greatest weighted error of |H|", high, ""}}},
                  step_of_exchange(*best)};
    made.marked_hz = in_hz(best->extrema_w, task.brief.sample_rate_hz);
    return made;
}

struct Found {
    std::size_t length;
    Equiripple filter;
};

// The shortest that meets an error of 1, from an estimate on: up until it does, down until it does
// not.
class Shortest {
public:
    Shortest(const Amplitude& wanted, const FirTask& task, bool odd_only)
        : wanted_(wanted), task_(task), step_(odd_only ? 2 : 1) {}

    Expected<Found> from(std::size_t estimate) {
        std::size_t length = std::max<std::size_t>(3, estimate);
        length += step_ == 2 && length % 2 == 0 ? 1 : 0;
        std::optional<Found> met;
        std::size_t failed = 0; // the longest that does not
        std::size_t stride = step_;
        while (!met || failed + step_ < met->length) {
            if (length > most_equiripple) {
                return refuse("spec", fmt::format("takes more than {} taps", most_equiripple),
                              "widen the transition or allow more error");
            }
            auto found = equiripple({length, false}, wanted_, task_.watch);
            if (!found) {
                return tl::unexpected(found.error());
            }
            if (found->deviation <= 1) {
                met = Found{length, std::move(*found)};
            } else {
                failed = std::max(failed, length);
                first_failed_ = found->deviation;
            }
            if (met && (failed > 0 || met->length <= 3)) {
                if (met->length <= 3 || failed + step_ >= met->length) {
                    break;
                }
                length = failed + (met->length - failed) / 2 / step_ * step_;
            } else if (met) {
                length = std::max<std::size_t>(3, length > stride + 3 ? length - stride : 3);
                stride *= 2;
            } else {
                length += stride;
                stride *= 2;
            }
        }
        return std::move(*met);
    }
    // Of the longest length that fails.
    double error_below() const { return first_failed_; }
    std::size_t step() const { return step_; }

private:
    const Amplitude& wanted_;
    const FirTask& task_;
    std::size_t step_;
    double first_failed_ = 0;
};

// Between bands that do not touch; of those that all do, a guess.
double narrowest_gap(const Amplitude& wanted) {
    double least = pi;
    for (std::size_t i = 0; i + 1 < wanted.size(); ++i) {
        const double gap = wanted[i + 1].gain.from - wanted[i].gain.to;
        least = gap > 0 ? std::min(least, gap) : least;
    }
    return least < pi ? least : pi / 16;
}

// Where bands touch, an amplitude can be within both only if what they allow overlaps.
Expected<void> check_jumps(const Amplitude& wanted, double rate) {
    for (std::size_t i = 0; i + 1 < wanted.size(); ++i) {
        const AmplitudePiece &a = wanted[i], &b = wanted[i + 1];
        const double jump = std::abs(a.gain.at_to - b.gain.at_from);
        if (a.gain.to == b.gain.from && jump > 1 / a.weight + 1 / b.weight) {
            return refuse("use_goal",
                          fmt::format("the corridor jumps at {}: no length can follow it",
                                      frequency_text(hz_from_rad_per_sample(a.gain.to, rate))),
                          "leave a gap there");
        }
    }
    return {};
}

Expected<FirMade> shortest(const Amplitude& wanted, const FirTask& task, bool odd_only) {
    const double gap = narrowest_gap(wanted);
    double pass_error = 1, stop_error = 1; // the smallest
    for (const AmplitudePiece& piece : wanted) {
        double& error = piece.gain.at_from != 0 ? pass_error : stop_error;
        error = std::min(error, 1 / piece.weight);
    }
    const double kaiser = kaiser_estimate(pass_error, stop_error, gap);
    const double herrmann = herrmann_estimate(pass_error, stop_error, gap);
    const double estimate = herrmann > 0 ? herrmann : kaiser;
    if (!(estimate < most_equiripple)) {
        return refuse("spec", fmt::format("takes about {:.0f} taps", estimate),
                      fmt::format("widen the transition or allow more error: {} are the most",
                                  most_equiripple));
    }
    Shortest search(wanted, task, odd_only);
    auto found = search.from(static_cast<std::size_t>(std::max(3.0, std::round(estimate))));
    if (!found) {
        return tl::unexpected(found.error());
    }
    FirMade made = made_of(found->filter, wanted, task.brief.sample_rate_hz);
    made.steps.insert(
        made.steps.begin(),
        {"Length",
         {{"N", "found", static_cast<double>(found->length), "taps"},
          {"ε", "its greatest error against the allowed one", found->filter.deviation, ""},
          {"ε−",
           search.step() == 1 ? "that of one tap fewer: not met"
                              : "that of two taps fewer: not met",
           search.error_below(), ""},
          {"NK", "Kaiser's estimate (1974)", kaiser, "taps"},
          {"NH", "estimate by Herrmann, Rabiner and Chan (1973)", herrmann, "taps"}}});
    return made;
}

Expected<FirMade> by_tolerances(const EquirippleFir& method, const FirTask& task) {
    return amplitude_of(method.tolerances, method.band, task.brief.sample_rate_hz)
        .and_then([&](const Amplitude& wanted) {
            return shortest(wanted, task,
                            method.band == ClassicalBand::high_pass
                                || method.band == ClassicalBand::band_stop);
        });
}

Expected<FirMade> by_corridor(const EquirippleFir& method, const FirTask& task) {
    if (method.form != EquirippleFir::Form::linear || method.symmetry != FirSymmetry::even) {
        return refuse(method.symmetry != FirSymmetry::even ? "symmetry" : "form",
                      "goes with a length", "give one, or leave this out");
    }
    return amplitude_of_corridor(task.brief).and_then([&](const Amplitude& wanted) {
        if (auto ok = check_jumps(wanted, task.brief.sample_rate_hz); !ok) {
            return Expected<FirMade>(tl::unexpected(ok.error()));
        }
        const LinePiece& last = wanted.back().gain;
        return shortest(wanted, task, last.to >= pi && last.at_to != 0)
            .map_error([](Problem problem) {
                if (problem.place == "spec") {
                    problem = {"use_goal", "the corridor " + problem.reason,
                               "leave the target more room between its bands, or widen the "
                               "corridor"};
                }
                return problem;
            });
    });
}

} // namespace

double kaiser_estimate(double pass_error, double stop_error, double transition_rad) {
    const double attenuation = -10 * std::log10(pass_error * stop_error);
    return (attenuation - 13) / (14.6 * transition_rad / (2 * pi)) + 1;
}

double herrmann_estimate(double pass_error, double stop_error, double transition_rad) {
    const double p = std::log10(std::max(pass_error, stop_error));
    const double s = std::log10(std::min(pass_error, stop_error));
    const double width = transition_rad / (2 * pi);
    const double d =
        (0.005309 * p * p + 0.07114 * p - 0.4761) * s - (0.00266 * p * p + 0.5941 * p + 0.4278);
    const double f = 11.01217 + 0.51244 * (p - s);
    return d / width - f * width + 1;
}

Expected<FirMade> made(const EquirippleFir& method, const FirTask& task) {
    if (method.by_tolerances) {
        return task.wish.use_goal ? by_corridor(method, task) : by_tolerances(method, task);
    }
    if (auto ok = check_length(task.length, most_equiripple); !ok) {
        return tl::unexpected(ok.error());
    }
    const bool is_odd = method.symmetry == FirSymmetry::odd;
    if (is_odd && method.form != EquirippleFir::Form::linear) {
        return refuse("symmetry", "odd goes with form linear only", "take even symmetry");
    }
    const bool weighs = method.form != EquirippleFir::Form::half_band;
    const auto wanted = weighs ? weighted_amplitude_of(task.wish, task.brief, Least::greatest_error)
                               : amplitude_of(task.wish, task.brief, Least::greatest_error);
    if (!wanted) {
        return tl::unexpected(wanted.error());
    }
    switch (method.form) {
    case EquirippleFir::Form::half_band:
        return half_band(*wanted, task);
    case EquirippleFir::Form::magnitude_only:
        return magnitude_only(*wanted, task);
    case EquirippleFir::Form::linear:
        break;
    }
    return linear({task.length, is_odd}, *wanted, task);
}

} // namespace syntonon
