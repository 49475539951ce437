// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/hump_commands.h"

#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/base/units.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double transition = 1.15; // between what is kept and what is taken away
constexpr double lowest_heard_hz = 32;
constexpr double least_depth_db = 10; // of a filter that is worth its place

double depth_db(const Hump& hump) {
    return std::max(least_depth_db, std::ceil(hump.stands_db));
}

double centre_hz(const Hump& hump) {
    return hump.is_line ? hump.at_hz : std::sqrt(std::max(hump.from_hz, 1.0) * hump.to_hz);
}

// To three digits, outwards: numbers that a person would have typed.
double rounded(double hz, double (*towards)(double)) {
    const double unit = std::pow(10, std::floor(std::log10(std::max(hz, 1e-3))) - 2);
    return towards(hz / unit + (towards(0.5) > 0.5 ? -1e-9 : 1e-9)) * unit;
}
double down(double hz) {
    return rounded(hz, [](double x) { return std::floor(x); });
}
double up(double hz) {
    return rounded(hz, [](double x) { return std::ceil(x); });
}

// Room to either side of a line: what makes it is never quite steady.
Hump with_room(Hump hump) {
    constexpr double line_room = 0.003;
    if (hump.is_line) {
        hump.from_hz = hump.at_hz * (1 - line_room);
        hump.to_hz = hump.at_hz * (1 + line_room);
        return hump;
    }
    // As exact as the eye: half a percent wide of what is meant is still that.
    constexpr double close = 1.002;
    hump.from_hz = down(hump.from_hz * close);
    hump.to_hz = up(hump.to_hz / close);
    return hump;
}

void part_passbands(Goal& goal, const Hump& hump) {
    const double from = down(hump.from_hz / transition), to = up(hump.to_hz * transition);
    Corridor parted;
    for (const CorridorRange& range : goal.corridor) {
        const bool passes = range.below_db.has_value() && !slopes(range);
        if (!passes || range.to_hz <= from || range.from_hz >= to) {
            parted.push_back(range);
            continue;
        }
        if (range.from_hz < from) {
            parted.push_back(range);
            parted.back().to_hz = from;
        }
        if (range.to_hz > to) {
            parted.push_back(range);
            parted.back().from_hz = to;
        }
    }
    goal.corridor = std::move(parted);
}

StageSpec notch_at(const Hump& hump) {
    const double width = hump.is_line ? hump.at_hz / 30 : hump.to_hz - hump.from_hz;
    const double q = std::clamp(centre_hz(hump) / width, 0.3, 60.0);
    const double hz = hump.is_line ? hump.at_hz : up(centre_hz(hump));
    return parametric(ParametricShape::notch, hz, 0, std::round(q * 10) / 10);
}

// Below its edge a high-pass of order n falls by 6 n dB an octave: at the hump's peak it is as deep
// as the hump stands out.
StageSpec high_pass_above(const Hump& hump) {
    ClassicalSpec spec;
    spec.band = ClassicalBand::high_pass;
    spec.order = 4;
    const double edge = hump.to_hz * std::pow(10, depth_db(hump) / (20.0 * spec.order));
    spec.edges_hz[0] = up(std::clamp(edge, hump.to_hz, 3 * hump.to_hz));
    return spec;
}

StageSpec band_stop_around(const Hump& hump, const Axis& axis) {
    ClassicalSpec spec;
    spec.family = ClassicalFamily::inverse_chebyshev;
    spec.band = ClassicalBand::band_stop;
    spec.by_tolerances = true;
    spec.tolerances.stop_edges_hz = {hump.from_hz, hump.to_hz};
    spec.tolerances.pass_edges_hz = {down(hump.from_hz / transition),
                                     std::min(up(hump.to_hz * transition), 0.98 * axis.end_hz())};
    spec.tolerances.pass_ripple_db = 0.5;
    spec.tolerances.stop_attenuation_db = depth_db(hump);
    return spec;
}

StageSpec fir_band_stop_around(const Hump& hump, const Axis& axis) {
    const double from = hump.from_hz, to = hump.to_hz, end = axis.end_hz();
    const double below = down(from / transition), above = std::min(up(to * transition), 0.98 * end);
    FirSpec spec;
    spec.method = EquirippleFir{};
    const double stop = ratio_from_db(-depth_db(hump)), pass = 0.02;
    spec.wish.bands = {{0, below, 1, {}, 1, {}},
                       {from, to, 0, {}, std::max(1.0, pass / stop), {}},
                       {above, end, 1, {}, 1, {}}};
    // As Kaiser's estimate for an equiripple FIR says (J. F. Kaiser, ISCAS 1974), made odd.
    const double width = std::min(from - below, above - to) / axis.sample_rate_hz;
    const double taps = (-10 * std::log10(pass * stop) - 13) / (14.6 * width) + 1;
    spec.length = 2 * static_cast<int>(std::ceil(taps / 2)) + 1;
    return spec;
}

constexpr double most_fir_taps = 4000;

} // namespace

bool reaches_the_low_end(const Hump& hump) {
    return hump.from_hz < lowest_heard_hz;
}

QString words_for(HumpOffer offer, const Hump& hump) {
    switch (offer) {
    case HumpOffer::stopband:
        return tr("stopband of the goal");
    case HumpOffer::ceiling:
        return tr("corridor range");
    case HumpOffer::notch:
        return tr("notch");
    case HumpOffer::band_stop:
        return reaches_the_low_end(hump) ? tr("high-pass stage") : tr("band-stop stage");
    case HumpOffer::fir_band_stop:
        break;
    }
    return tr("FIR band-stop");
}

bool can_take(const Session& session, HumpOffer offer, const Hump& hump) {
    const Axis axis = session.axis();
    const bool has_room_above = hump.to_hz * transition < axis.end_hz();
    if (offer == HumpOffer::band_stop) {
        return reaches_the_low_end(hump) || has_room_above;
    }
    if (offer == HumpOffer::fir_band_stop) {
        const Hump wide = with_room(hump);
        const double width = wide.from_hz - wide.from_hz / transition;
        return !axis.is_analog() && !reaches_the_low_end(hump) && has_room_above
               && 4 * axis.sample_rate_hz / width < most_fir_taps;
    }
    return session.channel() != nullptr;
}

void take_offer(Session& session, HumpOffer offer, const Hump& found) {
    const Hump hump = with_room(found);
    const Axis axis = session.axis();
    switch (offer) {
    case HumpOffer::stopband:
        edit_goal(session, tr("Stop %1").arg(shown_words(range_text(hump.from_hz, hump.to_hz))),
                  [&](Goal& goal) {
                      part_passbands(goal, hump);
                      goal.requirements.push_back(
                          {AttenuationRequirement{hump.from_hz, hump.to_hz, depth_db(hump)}});
                  });
        return;
    case HumpOffer::ceiling:
        edit_goal(
            session, tr("Corridor range %1").arg(shown_words(range_text(hump.from_hz, hump.to_hz))),
            [&](Goal& goal) {
                part_passbands(goal, hump);
                goal.corridor.push_back({hump.from_hz, hump.to_hz, -depth_db(hump), {}, true});
            });
        return;
    case HumpOffer::notch:
        add_stage(session, notch_at(hump));
        return;
    case HumpOffer::band_stop:
        add_stage(session,
                  reaches_the_low_end(hump) ? high_pass_above(hump) : band_stop_around(hump, axis));
        return;
    case HumpOffer::fir_band_stop:
        add_stage(session, fir_band_stop_around(hump, axis));
        return;
    }
}

QString text_of(const Hump& hump) {
    const QString where = hump.is_line ? shown_words(frequency_text(hump.at_hz))
                                       : shown_words(range_text(hump.from_hz, hump.to_hz));
    return tr("%1 stands %2 dB out").arg(where).arg(std::round(hump.stands_db));
}

} // namespace syntonon
