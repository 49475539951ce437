// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/trade.h"

#include "core/base/units.h"
#include "core/design/fir/asked_bands.h"
#include "core/filter/form.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

void scale_gaps(Tolerances& t, double ratio) {
    for (std::size_t i = 0; i < 2; ++i) {
        const double middle = (t.pass_edges_hz[i] + t.stop_edges_hz[i]) / 2;
        t.pass_edges_hz[i] = std::lerp(middle, t.pass_edges_hz[i], ratio);
        t.stop_edges_hz[i] = std::lerp(middle, t.stop_edges_hz[i], ratio);
    }
}

void scale_ripple(Tolerances& t, double ratio) {
    const double middle = (t.pass_ratio[0] + t.pass_ratio[1]) / 2;
    t.pass_ratio = {std::lerp(middle, t.pass_ratio[0], ratio),
                    std::lerp(middle, t.pass_ratio[1], ratio)};
    t.pass_ripple_db *= ratio;
}

void lower_stop_band(Tolerances& t, double db) {
    t.stop_attenuation_db = std::max(t.stop_attenuation_db + db, 1.0);
    t.stop_ratio *= ratio_from_db(-db);
}

// --- the points to be
// -----------------------------------------------------------------------------

std::vector<FirSpec> of_tolerances(const FirSpec& spec, TradeOf of) {
    std::vector<FirSpec> all;
    const auto add = [&](const auto& change) {
        all.push_back(spec);
        change(*tolerances_in_force(all.back()));
    };
    constexpr int steps = 8;
    for (int k = -steps; k <= steps; ++k) {
        switch (of) {
        case TradeOf::attenuation:
            add([&](Tolerances& t) { lower_stop_band(t, 3.0 * k); });
            break;
        case TradeOf::ripple:
            add([&](Tolerances& t) { scale_ripple(t, std::exp2(k / 3.0)); });
            break;
        case TradeOf::transition:
            add([&](Tolerances& t) { scale_gaps(t, std::exp2(k / 8.0)); });
            break;
        case TradeOf::delay:
            break;
        }
    }
    return all;
}

std::vector<FirSpec> of_lengths(const FirSpec& spec, int count) {
    constexpr double least = 0.4, most = 2;
    const int step =
        2 * std::max(1, static_cast<int>(std::lround((most - least) * spec.length / (2 * count))));
    const int down = static_cast<int>(spec.length * (1 - least)) / step;
    std::vector<FirSpec> all;
    for (int length = spec.length - down * step; length <= most * spec.length; length += step) {
        if (length >= 3) {
            all.push_back(spec);
            all.back().length = length;
        }
    }
    return all;
}

std::vector<FirSpec> of_delays(const FirSpec& spec) {
    constexpr int steps = 32;
    std::vector<FirSpec> all;
    const double middle = middle_of(static_cast<std::size_t>(spec.length));
    for (int k = 1; k <= steps; ++k) {
        all.push_back(spec);
        auto& delay = *delay_of_its_own(all.back());
        delay = k < steps ? std::optional(middle * k / steps) : std::nullopt;
    }
    return all;
}

std::vector<FirSpec> points_of(const FirSpec& spec, TradeOf of) {
    constexpr int many = 40, few = 20; // gaps are looked for in several designs each
    return of == TradeOf::delay                              ? of_delays(spec)
           : tolerances_in_force(spec) != nullptr            ? of_tolerances(spec, of)
           : of == TradeOf::transition && !is_by_edges(spec) ? of_lengths(spec, few)
                                                             : of_lengths(spec, many);
}

// The corridor's shortest as one of given length, that others can be compared with.
Expected<FirSpec> with_length(FirSpec spec, const Brief& brief, const Watch& watch) {
    if (!length_follows(spec) || tolerances_in_force(spec) != nullptr) {
        return spec;
    }
    return design(spec, brief, watch).map([&](const Design& made) {
        spec.length = static_cast<int>(std::get<Taps>(made.filter.form()).values().size());
        std::get<EquirippleFir>(spec.method).by_tolerances = false;
        return spec;
    });
}

} // namespace

double TradePoint::given(TradeOf of) const {
    return of == TradeOf::delay ? delay_samples : length;
}

std::optional<double> TradePoint::gained(TradeOf of, double sample_rate_hz) const {
    switch (of) {
    case TradeOf::ripple:
        return measures.ripple_db;
    case TradeOf::transition:
        return measures.transition_w
                   ? std::optional(hz_from_rad_per_sample(*measures.transition_w, sample_rate_hz))
                   : std::nullopt;
    case TradeOf::attenuation:
    case TradeOf::delay:
        break;
    }
    return measures.attenuation_db;
}

std::vector<TradeOf> trades_of(const FirSpec& spec) {
    if (!is_asked_for_bands(spec)) {
        return {};
    }
    std::vector<TradeOf> all{TradeOf::attenuation, TradeOf::ripple, TradeOf::transition};
    if (delay_of_its_own(spec) != nullptr) {
        all.push_back(TradeOf::delay);
    }
    return all;
}

Expected<FirTrade> FirTrade::about(const FirSpec& spec, const Brief& brief, TradeOf of,
                                   const Watch& watch) {
    const auto offered = trades_of(spec);
    if (std::ranges::find(offered, of) == offered.end()) {
        return refuse("method", "has no such curve for what it is asked",
                      "state it by edges, bands or the goal");
    }
    auto own = with_length(spec, brief, watch);
    if (own && of == TradeOf::transition) {
        own = with_own_bands(*own, brief);
    }
    if (!own) {
        return tl::unexpected(own.error());
    }
    FirTrade trade(brief, of);
    const auto made = design(*own, brief, watch);
    const auto present = made ? trade.measured(*own, made->filter) : std::nullopt;
    if (!present) {
        return made ? refuse("method", "has no taps to measure", "choose another")
                    : tl::unexpected(made.error());
    }
    trade.present_ = *present;
    trade.begun_ = points_of(*own, of);
    return trade;
}

std::optional<TradePoint> FirTrade::measured(const FirSpec& spec, const Filter& filter) const {
    const auto* taps = std::get_if<Taps>(&filter.form());
    const auto asked = taps != nullptr ? bands_asked_for(spec, brief_, taps->values())
                                       : Expected<Amplitude>(refuse("", "", ""));
    if (!asked) {
        return std::nullopt;
    }
    TradePoint point{spec, static_cast<int>(taps->values().size())};
    point.filter = filter;
    point.measures = band_measures(taps->values(), *asked);
    const auto* delay = delay_of_its_own(spec);
    point.delay_samples = of_ != TradeOf::delay ? point.measures.delay_samples
                          : delay != nullptr    ? delay->value_or(middle_of(taps->values().size()))
                                                : middle_of(taps->values().size());
    return point;
}

TradePoint FirTrade::found(FirSpec spec, const Watch& watch) const {
    const auto made = design(spec, brief_, watch);
    if (const auto point = made ? measured(spec, made->filter) : std::nullopt) {
        return *point;
    }
    TradePoint none{std::move(spec)};
    none.length = none.spec.length;
    none.why = made ? "it has no taps" : to_text(made.error());
    return none;
}

// The narrowest gaps that leave no greater error than the present filter has.
TradePoint FirTrade::narrowest(const FirSpec& spec, const Watch& watch) const {
    const auto with_gaps = [&](double ratio) {
        FirSpec made = spec;
        scale_gaps(made.wish.bands, ratio);
        return found(made, watch);
    };
    constexpr double step = 1.25, close_enough = 1e-6;
    constexpr int most_steps = 8, halvings = 7;
    const auto is_met = [&](const TradePoint& point) {
        return point.why.empty()
               && point.measures.error <= present_.measures.error * (1 + close_enough);
    };
    double ratio = static_cast<double>(present_.length) / spec.length;
    TradePoint best = with_gaps(ratio);
    const bool begins_met = is_met(best);
    double met = ratio, missed = ratio;
    for (int k = 0; k < most_steps && !watch.is_stopped(); ++k) {
        ratio *= begins_met ? 1 / step : step;
        const TradePoint tried = with_gaps(ratio);
        const bool meets = is_met(tried);
        (meets ? met : missed) = ratio;
        if (meets) {
            best = tried;
        }
        if (meets != begins_met) {
            break;
        }
    }
    if (!is_met(best)) {
        best.why = "no gaps are wide enough; allow a greater error";
        return best;
    }
    for (int k = 0; k < halvings && missed < met && !watch.is_stopped(); ++k) {
        ratio = std::sqrt(met * missed);
        const TradePoint tried = with_gaps(ratio);
        (is_met(tried) ? met : missed) = ratio;
        if (is_met(tried)) {
            best = tried;
        }
    }
    return best;
}

TradePoint FirTrade::point(std::size_t i, const Watch& watch) const {
    const FirSpec& spec = begun_.at(i);
    const bool looks_for_gaps =
        of_ == TradeOf::transition && !is_by_edges(spec) && tolerances_in_force(spec) == nullptr;
    if (spec == present_.spec) {
        return present_;
    }
    return looks_for_gaps ? narrowest(spec, watch) : found(spec, watch);
}

} // namespace syntonon
