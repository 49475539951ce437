// What an FIR of a method gains by what it is given: length against attenuation, ripple or width of
// the transition, delay against attenuation.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir.h"
#include "core/design/fir/band_measures.h"

#include <string>
#include <vector>

namespace syntonon {

enum class TradeOf { attenuation, ripple, transition, delay };

struct TradePoint {
    FirSpec spec; // to take it
    int length = 0;
    double delay_samples = 0; // its own, or of its energy
    BandMeasures measures = {};
    std::optional<Filter> filter = {};
    std::string why = {}; // it could not be designed: with the way out; empty: it was

    // What the curve goes by, and what it tells: taps or samples; dB or Hz. Nothing where the bands
    // do not have it.
    double given(TradeOf of) const;
    std::optional<double> gained(TradeOf of, double sample_rate_hz) const;
};

// Which curves a spec can have: those of methods that are asked for bands, or edges.
std::vector<TradeOf> trades_of(const FirSpec& spec);

// A curve about a spec. Its points may be found in any order and from any thread. Where the length
// is given, lengths from 0.4 to 2 times it, of the same parity: of each the attenuation or ripple
// that it comes to; or how narrow gaps can be with the same greatest weighted error, all of them
// changed by the same ratio about their middles: by the goal's bands as bands of its own. Where the
// length follows from tolerances, these are changed instead. Delays from nearly none to the taps'
// middle.
class FirTrade {
public:
    // Refuses, naming the place, what is not asked for any band, and what design() refuses.
    static Expected<FirTrade> about(const FirSpec& spec, const Brief& brief, TradeOf of,
                                    const Watch& watch);

    TradeOf of() const { return of_; }
    std::size_t size() const { return begun_.size(); }
    TradePoint point(std::size_t i, const Watch& watch) const;
    const TradePoint& present() const { return present_; }
    // Of a spec that differs in its length, delay or gaps alone; nothing where it has no taps.
    std::optional<TradePoint> measured(const FirSpec& spec, const Filter& filter) const;

private:
    FirTrade(Brief brief, TradeOf of) : brief_(std::move(brief)), of_(of) {}
    TradePoint found(FirSpec spec, const Watch& watch) const;
    TradePoint narrowest(const FirSpec& spec, const Watch& watch) const;

    Brief brief_;
    TradeOf of_;
    TradePoint present_;
    std::vector<FirSpec> begun_; // of the points; gaps not yet found
};

} // namespace syntonon
