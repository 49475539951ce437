// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/hug_corridor.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/math/fine_spectrum.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

namespace syntonon {
namespace {

constexpr double unbounded = std::numeric_limits<double>::infinity();

// The corridor at one frequency, as gains; the gain that is aimed at.
struct CorridorPlace {
    double hz = 0;
    double lower = 0, upper = unbounded; // ratios
    double aim = 0;
    std::size_t point = 0; // of the weights', whose it is
};

double between(const std::vector<double>& x, const std::vector<double>& y, double at) {
    const auto above = std::ranges::upper_bound(x, at);
    if (above == x.begin() || above == x.end()) {
        return above == x.begin() ? y.front() : y.back();
    }
    const auto i = static_cast<std::size_t>(above - x.begin());
    const double low = std::max(x[i - 1], x[i] * 1e-9); // from 0 Hz
    const double part = std::log(std::max(at, low) / low) / std::log(x[i] / low);
    return y[i - 1] + (y[i] - y[i - 1]) * part;
}

const AmplitudePiece* piece_at(const Amplitude& wanted, double w) {
    const auto found = std::ranges::find_if(
        wanted, [&](const AmplitudePiece& piece) { return w <= piece.gain.to * (1 + 1e-12); });
    return found != wanted.end() && w >= found->gain.from * (1 - 1e-12) ? &*found : nullptr;
}

class Hug {
public:
    Hug(const FirSpec& spec, const Brief& brief, const Watch& watch, const Amplitude& base)
        : spec_(spec), brief_(brief), watch_(watch), base_(base),
          squares_(std::holds_alternative<LeastSquaresFir>(spec.method)) {
        spec_.wish.weights.clear();
        for (const WishedPart& part : *brief.wished) {
            if (!part.lower_db.empty() || !part.upper_db.empty()) {
                add_part(part);
            }
        }
        weights_.assign(points_hz_.size(), 1);
    }

    Expected<HugRound> best(const std::function<void(const HugRound&)>& on_round) {
        std::optional<HugRound> best;
        int in_vain = 0;
        for (int round = 0; round < most_rounds && in_vain < most_in_vain; ++round) {
            const auto made = designed();
            if (!made && best) {
                break; // stopped, or weights that are too far apart
            }
            if (!made) {
                return tl::unexpected(made.error());
            }
            const bool is_better =
                !best || made->worst_margin_db > best->worst_margin_db + worth_a_round_db;
            in_vain = is_better ? 0 : in_vain + 1;
            if (!best || made->worst_margin_db > best->worst_margin_db) {
                best = *made;
                if (on_round) {
                    on_round(*best);
                }
            }
            weigh(best->worst_margin_db);
        }
        return *best;
    }
    bool has_corridor() const { return !places_.empty(); }

private:
    static constexpr int most_rounds = 80, most_in_vain = 8;
    static constexpr double worth_a_round_db = 1e-3;

    double w_of(double hz) const { return rad_per_sample_from_hz(hz, brief_.sample_rate_hz); }

    // Sixteen places a ripple; a point of the weights for each ripple, at both ends for certain.
    void add_part(const WishedPart& part) {
        constexpr double places_a_ripple = 16, most_points = 48;
        const double from = part.frequency_hz.front(), to = part.frequency_hz.back();
        const double ripple = brief_.sample_rate_hz / spec_.length;
        const double points = std::clamp(std::ceil((to - from) / ripple), 1.0, most_points);
        const double low = std::max(from, std::min(ripple / 4, to / 2)); // weights have no 0 Hz
        const std::size_t first = points_hz_.size();
        for (double k = 0; k <= points; ++k) {
            points_hz_.push_back(low + (to - low) * k / points);
        }
        const int count = static_cast<int>(std::ceil((to - from) / ripple * places_a_ripple)) + 2;
        for (int i = 0; i <= count; ++i) {
            CorridorPlace place;
            place.hz = from + (to - from) * i / count;
            if (!part.lower_db.empty()) {
                place.lower = ratio_from_db(between(part.frequency_hz, part.lower_db, place.hz));
            }
            if (!part.upper_db.empty()) {
                place.upper = ratio_from_db(between(part.frequency_hz, part.upper_db, place.hz));
            }
            const AmplitudePiece* piece = piece_at(base_, w_of(place.hz));
            place.aim = piece != nullptr ? std::abs(piece->gain.at(w_of(place.hz)))
                        : place.lower > 0 && std::isfinite(place.upper)
                            ? (place.lower + place.upper) / 2
                            : place.lower;
            place.point = first
                          + static_cast<std::size_t>(std::clamp(
                              std::round((place.hz - low) / (to - low) * points), 0.0, points));
            places_.push_back(place);
        }
    }

    Expected<HugRound> designed() {
        HugRound round;
        round.weights = curve();
        FirSpec spec = spec_;
        spec.wish.weights = round.weights;
        const auto made = design(spec, brief_, watch_);
        if (!made) {
            return tl::unexpected(made.error());
        }
        const auto values = std::get<Taps>(made->filter.form()).values();
        round.taps.assign(values.begin(), values.end());
        const FineSpectrum spectrum(round.taps);
        gains_.clear();
        round.worst_margin_db = unbounded;
        for (const CorridorPlace& place : places_) {
            const double gain = std::abs(spectrum.at(place.hz, brief_.sample_rate_hz).h);
            gains_.push_back(gain);
            const double margin = margin_db(place, gain);
            if (margin < round.worst_margin_db) {
                round.worst_margin_db = margin;
                round.worst_hz = place.hz;
            }
        }
        return round;
    }

    static double margin_db(const CorridorPlace& place, double gain) {
        double margin = unbounded;
        if (std::isfinite(place.upper)) {
            margin = db_from_ratio(place.upper / gain);
        }
        if (place.lower > 0) {
            margin = std::min(margin, db_from_ratio(gain / place.lower));
        }
        return margin;
    }

    // The error that is left at a place when so much margin is kept, above the aim or below it.
    static double room(const CorridorPlace& place, double margin_db, bool above) {
        constexpr double least = 1e-6;
        const double kept = ratio_from_db(margin_db);
        if (above && std::isfinite(place.upper)) {
            return std::max(place.upper / kept - place.aim, least * place.upper);
        }
        if (!above && place.lower > 0) {
            return std::max(place.aim - place.lower * kept, least * place.lower);
        }
        return unbounded;
    }
    static double least_room(const CorridorPlace& place, double margin_db) {
        return std::min(room(place, margin_db, true), room(place, margin_db, false));
    }

    void weigh(double margin_db) { squares_ ? weigh_squares(margin_db) : weigh_errors(margin_db); }
    // The curve is straight between the points: what counts is the room at these, not near them.
    void weigh_errors(double margin_db) {
        for (std::size_t p = 0; p < points_hz_.size(); ++p) {
            const CorridorPlace* nearest = nullptr;
            for (const CorridorPlace& place : places_) {
                if (place.point == p
                    && (nearest == nullptr
                        || std::abs(place.hz - points_hz_[p])
                               < std::abs(nearest->hz - points_hz_[p]))) {
                    nearest = &place;
                }
            }
            weights_[p] = 1 / (least_room(*nearest, margin_db) * base_weight(points_hz_[p]));
        }
    }
    // By the greatest error near each point against what is allowed there.
    void weigh_squares(double margin_db) {
        constexpr double power = 1.2, least = 0.2;
        std::vector<double> errors(points_hz_.size(), least);
        for (std::size_t i = 0; i < places_.size(); ++i) {
            const CorridorPlace& place = places_[i];
            const double off = gains_[i] - place.aim;
            double& error = errors[place.point];
            error = std::max(error, std::abs(off) / room(place, margin_db, off > 0));
        }
        for (std::size_t p = 0; p < points_hz_.size(); ++p) {
            weights_[p] *= std::pow(errors[p], power);
        }
    }
    double base_weight(double hz) const {
        const AmplitudePiece* piece = piece_at(base_, w_of(hz));
        return piece != nullptr ? piece->weight : 1;
    }

    // About 1, as far as the limits allow; without what lies on a line.
    WeightCurve curve() const {
        const auto [least, greatest] = std::ranges::minmax_element(weights_);
        const double middle = std::sqrt(*least) * std::sqrt(*greatest);
        WeightCurve all;
        for (std::size_t p = 0; p < points_hz_.size(); ++p) {
            const double weight =
                std::clamp(weights_[p] / middle, fir_weights.least, fir_weights.greatest);
            // Where parts of the corridor touch, it jumps.
            constexpr double jump = 1 + 1e-7;
            const double hz = all.empty() ? points_hz_[p]
                                          : std::max(points_hz_[p], all.back().frequency_hz * jump);
            all.push_back({hz, weight, {}});
        }
        return thinned(all);
    }
    static WeightCurve thinned(const WeightCurve& all) {
        constexpr double alike = 1.002;
        WeightCurve kept{all.front()};
        std::size_t from = 0;
        for (std::size_t i = 2; i <= all.size(); ++i) {
            const bool is_end = i == all.size();
            bool bends = is_end;
            for (std::size_t k = from + 1; k < i && !bends; ++k) {
                const double on_line =
                    weight_at(WeightCurve{all[from], all[i]}, all[k].frequency_hz);
                bends = std::abs(std::log(all[k].weight / on_line)) > std::log(alike);
            }
            if (bends && all.size() > 1) {
                kept.push_back(all[i - 1]);
                from = i - 1;
            }
        }
        return kept;
    }

    FirSpec spec_;
    const Brief& brief_;
    const Watch& watch_;
    const Amplitude& base_; // without a curve
    bool squares_;
    std::vector<CorridorPlace> places_;
    std::vector<double> gains_; // at the places
    std::vector<double> points_hz_, weights_;
};

Expected<void> check_method(const FirSpec& spec) {
    const auto* equiripple = std::get_if<EquirippleFir>(&spec.method);
    const bool weighs =
        std::holds_alternative<LeastSquaresFir>(spec.method)
        || (equiripple != nullptr && equiripple->form == EquirippleFir::Form::linear);
    if (!weighs) {
        return refuse("method", "does not weigh errors", "take least squares or equiripple");
    }
    if (length_follows(spec)) {
        return refuse("length", "follows from the corridor, which is filled already",
                      "give a length");
    }
    return {};
}

} // namespace

Expected<HugRound> hug_corridor(const FirSpec& spec, const Brief& brief, const Watch& watch,
                                const std::function<void(const HugRound&)>& on_round) {
    if (auto ok = check_method(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    const bool squares = std::holds_alternative<LeastSquaresFir>(spec.method);
    const auto base =
        amplitude_of(spec.wish, brief, squares ? Least::squared_error : Least::greatest_error);
    if (!base) {
        return tl::unexpected(base.error());
    }
    if (brief.wished == nullptr) {
        return refuse("use_goal", "the channel has no goal whose corridor could be filled",
                      "choose one (Goal pane)");
    }
    Hug hug(spec, brief, watch, *base);
    if (!hug.has_corridor()) {
        return refuse("use_goal", "the channel's goal has no corridor to fill", "draw one");
    }
    return hug.best(on_round);
}

} // namespace syntonon
