// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/exchange.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/design.h"
#include "core/design/fir/exchange_reference.h"
#include "core/math/barycentric.h"
#include "core/math/fine_spectrum.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace syntonon {
namespace {

constexpr std::size_t points_per_extremum = 8;
constexpr double at_rest = 1e-8; // of largest against level

struct Extremum {
    ExchangePlace at;
    double error = 0; // signed, weighted
};

double largest_gain(const Amplitude& wanted) {
    double largest = 0;
    for (const AmplitudePiece& piece : wanted) {
        largest = std::max({largest, piece.weight * std::abs(piece.gain.at_from),
                            piece.weight * std::abs(piece.gain.at_to)});
    }
    return largest;
}

class Exchange {
public:
    Exchange(const LinearPhaseType& type, const Amplitude& wanted, const Watch& watch)
        : type_(type), wanted_(wanted), watch_(watch),
          rounding_(equiripple_rounding * largest_gain(wanted)) {}

    // The places of the reference, or why there are none.
    Expected<std::vector<ExchangePlace>> to_rest(std::vector<ExchangePlace> reference,
                                                 double close_enough) {
        constexpr int most_rounds = 120;
        rounds_.clear();
        std::size_t density = points_per_extremum;
        for (int round = 0; round < most_rounds; ++round) {
            if (watch_.is_stopped()) {
                return stopped();
            }
            level(reference);
            auto found = alternating(extrema(density));
            if (found.size() < reference.size()) {
                if (density > 8 * points_per_extremum) {
                    return no_alternation(found.size(), reference.size());
                }
                density *= 2;
                found = with_old_ones(std::move(found), reference);
                if (found.size() < reference.size()) {
                    continue;
                }
            }
            found = best_of(std::move(found), reference.size());
            double largest = 0;
            reference.clear();
            for (const Extremum& extremum : found) {
                largest = std::max(largest, std::abs(extremum.error));
                reference.push_back(extremum.at);
            }
            rounds_.push_back({std::abs(level_), largest});
            if (largest - std::abs(level_) <= close_enough * largest + rounding_) {
                level(reference);
                return reference;
            }
        }
        return refuse("",
                      fmt::format("the exchange did not come to rest in {} rounds: the ripple lies "
                                  "between {} and {}",
                                  most_rounds, text_with_digits(rounds_.back().level, 3),
                                  text_with_digits(rounds_.back().largest, 3)),
                      "take fewer taps, narrower gaps, or weights that differ less");
    }

    // What it came to, as taps. Between bands that lie far apart P hangs on its values in them by
    // many digits: what rounding left is found at the reference and taken out, as long as that
    // helps.
    std::vector<double> taps(const std::vector<ExchangePlace>& reference) {
        constexpr int most_times = 4;
        std::vector<double> taps = taps_of_p();
        double error = largest_error(taps, reference);
        for (int i = 0; i < most_times; ++i) {
            level(reference, [&](const ExchangePlace& at) {
                return gain_at(at) - amplitude_at(type_, taps, at.w);
            });
            std::vector<double> better = taps_of_p();
            for (std::size_t n = 0; n < taps.size(); ++n) {
                better[n] += taps[n];
            }
            const double now = largest_error(better, reference);
            if (!(now < error)) {
                break;
            }
            error = now;
            taps = std::move(better);
        }
        return taps;
    }
    // Of the error at the reference: no amplitude of this type has a smaller greatest one.
    double level() const { return std::abs(level_); }

    // Of the taps, at the extrema: weighted.
    double largest_error(const std::vector<double>& taps,
                         const std::vector<ExchangePlace>& reference) const {
        double largest = 0;
        for (const ExchangePlace& at : reference) {
            const double error = gain_at(at) - amplitude_at(type_, taps, at.w);
            largest = std::max(largest, wanted_[at.piece].weight * std::abs(error));
        }
        return largest;
    }

    const std::vector<ExchangeRound>& rounds() const { return rounds_; }

private:
    double amplitude(double w) const { return type_.factor(w) * p_->at(std::cos(w)); }
    std::vector<double> taps_of_p() const {
        std::vector<double> a;
        const auto count = static_cast<double>(type_.length());
        for (std::size_t k = 0; k <= type_.length() / 2; ++k) {
            a.push_back(amplitude(2 * pi * static_cast<double>(k) / count));
        }
        return taps_of_amplitude(type_, a);
    }
    double gain_at(const ExchangePlace& at) const { return wanted_[at.piece].gain.at(at.w); }
    double error_at(const ExchangePlace& at) const {
        return wanted_[at.piece].weight * (gain_at(at) - amplitude(at.w));
    }

    void level(const std::vector<ExchangePlace>& reference) {
        std::vector<double> x;
        for (const ExchangePlace& at : reference) {
            x.push_back(std::cos(at.w));
        }
        p_.emplace(std::move(x));
        level(reference, [this](const ExchangePlace& at) { return gain_at(at); });
    }
    // P leaves of what is wanted at the reference +-level, in turns, by weight.
    template <class Wanted>
    void level(const std::vector<ExchangePlace>& reference, const Wanted& wanted) {
        std::vector<double> f;
        double above = 0, below = 0;
        for (std::size_t i = 0; i < reference.size(); ++i) {
            const ExchangePlace& at = reference[i];
            const double gamma = p_->weights()[i] / type_.factor(at.w);
            f.push_back(wanted(at));
            above += gamma * f[i];
            below += (i % 2 == 0 ? gamma : -gamma) / wanted_[at.piece].weight;
        }
        level_ = above / below;
        for (std::size_t i = 0; i < reference.size(); ++i) {
            const ExchangePlace& at = reference[i];
            f[i] -= (i % 2 == 0 ? level_ : -level_) / wanted_[at.piece].weight;
            f[i] /= type_.factor(at.w);
        }
        p_->set_values(std::move(f));
    }

    // All local extrema of the error, piece by piece; ends count.
    std::vector<Extremum> extrema(std::size_t density) const {
        std::vector<Extremum> found;
        const double step = pi / static_cast<double>(density * (type_.unknowns() + 1));
        for (std::size_t i = 0; i < wanted_.size(); ++i) {
            const LinePiece& piece = wanted_[i].gain;
            const auto steps = std::max<std::size_t>(
                4, static_cast<std::size_t>(std::ceil((piece.to - piece.from) / step)));
            std::vector<Extremum> row;
            for (std::size_t k = 0; k <= steps; ++k) {
                const ExchangePlace at{std::lerp(piece.from, piece.to, double(k) / double(steps)),
                                       i};
                row.push_back({at, error_at(at)});
            }
            for (std::size_t k = 0; k <= steps; ++k) {
                const double here = row[k].error, sign = here < 0 ? -1 : 1;
                const bool first = k == 0 || sign * row[k - 1].error < sign * here;
                const bool last = k == steps || sign * row[k + 1].error <= sign * here;
                if (first && last) {
                    found.push_back(k == 0       ? at_end(row[0], row[1])
                                    : k == steps ? at_end(row[k], row[k - 1])
                                                 : refined(row[k - 1], row[k], row[k + 1]));
                }
            }
        }
        return found;
    }

    // An end that is higher than the next place on the grid may have a higher place between.
    Extremum at_end(const Extremum& end, const Extremum& next) const {
        const auto inside = [&](double part) {
            const ExchangePlace at{std::lerp(end.at.w, next.at.w, part), end.at.piece};
            return Extremum{at, error_at(at)};
        };
        const double sign = end.error < 0 ? -1 : 1;
        for (double part = 1e-4; part < 0.6; part *= 8) {
            const Extremum here = inside(part);
            if (sign * here.error <= sign * end.error) {
                return end;
            }
            const Extremum beyond = inside(std::min(8 * part, 1.0));
            if (sign * beyond.error < sign * here.error) {
                return end.at.w < next.at.w ? refined(end, here, beyond)
                                            : refined(beyond, here, end);
            }
        }
        return end;
    }

    // Parabolas through three places (R. P. Brent, Algorithms for Minimization without Derivatives,
    // 1973, section 5.2), each time through the best ones.
    Extremum refined(Extremum a, Extremum b, Extremum c) const {
        constexpr int most_steps = 12;
        constexpr double worth_a_step = 1e-11; // of the error
        for (int i = 0; i < most_steps; ++i) {
            const double left = b.at.w - a.at.w, right = c.at.w - b.at.w;
            const double rise = (b.error - a.error) / left, fall = (b.error - c.error) / right;
            const double bend = (rise + fall) / (left + right);
            if (bend * b.error <= 0) {
                break;
            }
            // Where the parabola is level, and by how much it is higher there.
            const double step = (rise * right - fall * left) / (rise + fall) / 2;
            const double w = b.at.w + step;
            if (!(w > a.at.w && w < c.at.w) || w == b.at.w
                || std::abs(bend) * step * step < worth_a_step * std::abs(b.error)) {
                break;
            }
            const Extremum next{{w, b.at.piece}, error_at({w, b.at.piece})};
            const bool is_better = std::abs(next.error) > std::abs(b.error);
            Extremum& far = w < b.at.w ? a : c;
            Extremum& near = w < b.at.w ? c : a;
            if (is_better) {
                near = b;
                b = next;
            } else {
                far = next;
            }
        }
        return b;
    }

    // One for each change of sign: the greatest.
    static std::vector<Extremum> alternating(const std::vector<Extremum>& all) {
        std::vector<Extremum> kept;
        for (const Extremum& extremum : all) {
            if (kept.empty() || (kept.back().error < 0) != (extremum.error < 0)) {
                kept.push_back(extremum);
            } else if (std::abs(extremum.error) > std::abs(kept.back().error)) {
                kept.back() = extremum;
            }
        }
        return kept;
    }

    // Where too few were found, places of the reference, where the error has its level, help out.
    std::vector<Extremum> with_old_ones(std::vector<Extremum> found,
                                        const std::vector<ExchangePlace>& reference) const {
        for (const ExchangePlace& at : reference) {
            found.push_back({at, error_at(at)});
        }
        std::ranges::sort(found, [](const Extremum& a, const Extremum& b) {
            return std::pair(a.at.w, a.at.piece) < std::pair(b.at.w, b.at.piece);
        });
        return alternating(found);
    }

    // So many that alternate, with the greatest errors; the greatest of all among them.
    static std::vector<Extremum> best_of(std::vector<Extremum> all, std::size_t count) {
        const auto size = [&](std::size_t i) { return std::abs(all[i].error); };
        while (all.size() > count) {
            std::size_t least = 0;
            for (std::size_t i = 1; i < all.size(); ++i) {
                least = size(i) < size(least) ? i : least;
            }
            const std::size_t last = all.size() - 1;
            if (all.size() == count + 1) {
                all.erase(size(0) < size(last) ? all.begin() : all.end() - 1);
            } else if (least == 0 || least == last) {
                all.erase(all.begin() + static_cast<std::ptrdiff_t>(least));
            } else {
                const std::size_t first = size(least - 1) < size(least + 1) ? least - 1 : least;
                const auto at = all.begin() + static_cast<std::ptrdiff_t>(first);
                all.erase(at, at + 2);
            }
        }
        return all;
    }

    static tl::unexpected<Problem> no_alternation(std::size_t found, std::size_t wanted) {
        return refuse("",
                      fmt::format("the error changes its sign at {} places only and should at {}: "
                                  "what is asked for can be had all but exactly, or the digits of "
                                  "a double are used up",
                                  found, wanted),
                      "take fewer taps");
    }

    const LinearPhaseType& type_;
    const Amplitude& wanted_;
    const Watch& watch_;
    double rounding_;
    std::optional<Barycentric> p_;
    double level_ = 0;
    std::vector<ExchangeRound> rounds_;
};

LinearPhaseType half_as_long(const LinearPhaseType& type) {
    // The parity stays: the type must.
    const std::size_t half = type.length() / 2;
    return {half + (half % 2 == type.length() % 2 ? 0 : 1), type.is_odd()};
}

// A start that is near: the reference of a filter of half the length, found in the same way.
std::vector<ExchangePlace> start_of(const LinearPhaseType& type, const Amplitude& wanted,
                                    const Watch& watch) {
    constexpr std::size_t short_enough = 30;
    constexpr double roughly = 1e-2;
    const std::size_t count = type.unknowns() + 1;
    if (type.unknowns() <= std::max(short_enough, 4 * exchange_bands(wanted).size())) {
        return evenly_spread(wanted, count);
    }
    const LinearPhaseType half = half_as_long(type);
    const auto found =
        Exchange(half, wanted, watch).to_rest(start_of(half, wanted, watch), roughly);
    if (!found) {
        return evenly_spread(wanted, count);
    }
    auto start = drawn_out(wanted, *found, count);
    const bool rises =
        std::ranges::adjacent_find(
            start, [](const ExchangePlace& a, const ExchangePlace& b) { return !(a.w < b.w); })
        == start.end();
    return rises ? start : evenly_spread(wanted, count);
}

Expected<void> check(const LinearPhaseType& type, const Amplitude& wanted) {
    for (std::size_t i = 0; i + 1 < wanted.size(); ++i) {
        const LinePiece& a = wanted[i].gain;
        const LinePiece& b = wanted[i + 1].gain;
        if (a.to == b.from && std::abs(a.at_to - b.at_from) > 1e-9) {
            return refuse("", "jumps without a gap between: no filter follows",
                          "leave a gap for the transition");
        }
    }
    if (exchange_bands(wanted).size() > type.unknowns()) {
        return refuse("",
                      fmt::format("{} bands are too many for {} taps",
                                  exchange_bands(wanted).size(), type.length()),
                      "take more taps");
    }
    return {};
}

// A band does not begin where the type is 0 anyway: there P alone says nothing.
Amplitude within_reach(const LinearPhaseType& type, Amplitude wanted) {
    const double aside = pi / (16.0 * static_cast<double>(type.unknowns() + 1));
    for (AmplitudePiece& piece : wanted) {
        const LinePiece whole = piece.gain;
        if (type.is_zero_at_0() && piece.gain.from < aside) {
            piece.gain.from = std::min(aside, (whole.from + whole.to) / 2);
        }
        if (type.is_zero_at_pi() && piece.gain.to > pi - aside) {
            piece.gain.to = std::max(pi - aside, (whole.from + whole.to) / 2);
        }
        piece.gain.at_from = whole.at(piece.gain.from);
        piece.gain.at_to = whole.at(piece.gain.to);
    }
    return wanted;
}

} // namespace

GapGain greatest_outside(const std::vector<double>& taps, const Amplitude& wanted) {
    constexpr int places = 64;
    const FineSpectrum spectrum(taps);
    GapGain greatest;
    double from = 0;
    for (std::size_t i = 0; i <= wanted.size(); ++i) {
        const double to = i < wanted.size() ? wanted[i].gain.from : pi;
        for (int k = 0; k <= places && to > from; ++k) {
            const double w = std::lerp(from, to, double(k) / places);
            const double gain = std::abs(spectrum.at(w, 2 * pi).h);
            if (gain > greatest.gain) {
                greatest = {gain, w};
            }
        }
        from = i < wanted.size() ? wanted[i].gain.to : pi;
    }
    return greatest;
}

Expected<Equiripple> equiripple(const LinearPhaseType& type, const Amplitude& wanted,
                                const Watch& watch) {
    if (auto ok = check(type, wanted); !ok) {
        return tl::unexpected(ok.error());
    }
    const Amplitude reached = within_reach(type, wanted);
    Exchange exchange(type, reached, watch);
    const auto reference = exchange.to_rest(start_of(type, reached, watch), at_rest);
    if (!reference) {
        return tl::unexpected(reference.error());
    }
    Equiripple made;
    made.taps = exchange.taps(*reference);
    made.rounds = exchange.rounds();
    made.least_possible = exchange.level();
    for (const ExchangePlace& at : *reference) {
        made.extrema_w.push_back(at.w);
    }
    made.deviation = exchange.largest_error(made.taps, *reference);
    // What rounding does to the taps is a little more between the extrema than at them.
    constexpr double at_extrema = 0.1;
    const double most = made.least_possible * (1 + at_extrema * equiripple_excess)
                        + equiripple_rounding * largest_gain(reached);
    if (!(made.deviation <= most)) {
        const double outside = greatest_outside(made.taps, reached).gain;
        if (outside == 0) {
            return refuse("",
                          "what is asked for can be had exactly: no error is left to be leveled",
                          "take fewer taps, or ask for more");
        }
        return refuse(
            "",
            fmt::format("where nothing is asked for its gain would rise to {:.0f} dB, and the "
                        "digits of a double would be used up there",
                        20 * std::log10(outside)),
            "narrow the widest gap, or state a band there with a low weight");
    }
    return made;
}

} // namespace syntonon
