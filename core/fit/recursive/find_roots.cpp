// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/find_roots.h"

#include "core/curve/phase_parts.h"
#include "core/fit/recursive/vector_fit.h"
#include "core/math/seeded.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr Effort on_the_way{10, 1e-2, {}}, tried{20, 1e-3, {}}, at_the_end{100, 1e-5, {}};
constexpr double fine_db = 0.001;  // rms: nothing could show it
constexpr double worth_it = 0.999; // of the cost, else a change is none

int count_of(const RootFactors& factors, bool of_poles) {
    int count = 0;
    for (const RootFactor& factor : factors.all) {
        count += factor.is_pole != of_poles ? 0 : factor.is_pair ? 2 : 1;
    }
    return count;
}

ResponseAim with_minimum_phase(ResponseAim aim, double sample_rate_hz) {
    aim.phase_rad.clear();
    for (const double deg : minimum_phase_deg(aim.hz, aim.level_db, sample_rate_hz)) {
        aim.phase_rad.push_back(rad_from_deg(deg));
    }
    return aim;
}

// Zeros outside of the circle mirrored into it: the level stays.
RootFactors mirrored(RootFactors factors) {
    int single = 0;
    for (RootFactor& factor : factors.all) {
        factor.turn = factor.is_pole ? factor.turn : std::abs(factor.turn);
        single += !factor.is_pole && !factor.is_pair ? 1 : 0;
    }
    factors.is_inverted = false;
    if (single < 2) {
        return factors;
    }
    const Roots roots = roots_of(factors); // a pair that lay on both sides
    RootFactors paired = factors_of(roots);
    paired.is_inverted = false;
    return paired;
}

class RootsSearch {
public:
    RootsSearch(const ResponseAim& aim, double sample_rate_hz, const RootsWanted& wanted,
                const Watch& watch, const RootsSoFar& so_far)
        : aim_(aim), rate_hz_(sample_rate_hz), task_(aim, sample_rate_hz, wanted.greatest_q),
          wanted_(wanted), watch_(watch), so_far_(so_far) {}

    RootFactors found() {
        keep(refined(with_wanted_zeros(start()), at_the_end));
        watch_.report(0.3);
        shake();
        if (wanted_.least_greatest) {
            make_greatest_small();
        }
        return best_;
    }

private:
    bool minds_phase() const { return !aim_.phase_rad.empty(); }

    RootFactors start() const {
        RootFactors factors = vector_fit(minds_phase() ? aim_ : with_minimum_phase(aim_, rate_hz_),
                                         rate_hz_, wanted_.poles, watch_);
        task_.keep_within(factors);
        factors.gain_db = task_.best_gain_db(factors);
        return factors;
    }

    RootFactors refined(RootFactors factors, const Effort& effort) const {
        task_.refine(factors, effort, watch_);
        return minds_phase() ? factors : mirrored(std::move(factors));
    }

    // Those go whose lack costs least; new ones come from the origin, where they do nothing.
    RootFactors with_wanted_zeros(RootFactors factors) const {
        while (count_of(factors, false) > wanted_.zeros && !watch_.is_stopped()) {
            factors = with_fewer_zeros(factors);
        }
        for (int lack = wanted_.zeros - count_of(factors, false); lack > 0;) {
            const bool is_pair = lack > 1;
            factors.all.push_back({false, is_pair, 0, is_pair ? std::asinh(1.0) : 1.0});
            lack -= is_pair ? 2 : 1;
        }
        return factors;
    }

    RootFactors with_fewer_zeros(const RootFactors& factors) const {
        const int excess = count_of(factors, false) - wanted_.zeros;
        RootFactors best;
        double least = infinity;
        for (std::size_t i = 0; i < factors.all.size(); ++i) {
            const RootFactor factor = factors.all[i];
            if (factor.is_pole) {
                continue;
            }
            RootFactors without = factors;
            without.all.erase(without.all.begin() + static_cast<std::ptrdiff_t>(i));
            if (factor.is_pair && excess == 1) { // one of the pair stays
                without.all.push_back({false, false, factor.log_a, 1});
            }
            without.gain_db = task_.best_gain_db(without);
            if (const double cost = task_.cost(without); cost < least) {
                least = cost;
                best = std::move(without);
            }
        }
        return refined(std::move(best), on_the_way);
    }

    void keep(RootFactors factors) {
        best_ = std::move(factors);
        cost_ = task_.cost(best_);
        if (so_far_) {
            so_far_(best_);
        }
    }

    double place_of(std::size_t i) const { return log_image(aim_.hz[i], rate_hz_); }

    // Some pairs of a pole and a zero, by chance, at other places, where together they make a bell
    // as high as what is left over there; or the zero somewhere else.
    RootFactors shaken(Seeded& random) const {
        constexpr double least_share = 0.1, greatest_share = 0.9;
        const double share = random.between(least_share, greatest_share);
        const bool apart = random.uniform() < 0.5;
        RootFactors factors = best_;
        std::vector<RootFactor*> poles, zeros;
        for (RootFactor& factor : factors.all) {
            if (factor.is_pair && random.uniform() < share) {
                (factor.is_pole ? poles : zeros).push_back(&factor);
            }
        }
        const std::vector<double> level = task_.level_db(best_);
        for (std::size_t i = 0; i < std::min(poles.size(), zeros.size()); ++i) {
            const std::size_t place = random.below(aim_.size());
            const double left_db = aim_.level_db[place] - level[place];
            const double damping = std::exp(random.between(-3, 1));
            const double log_a = place_of(place);
            *poles[i] = {true, true, log_a, std::log(damping)};
            *zeros[i] = apart ? RootFactor{false, true, place_of(random.below(aim_.size())),
                                           std::asinh(std::exp(random.between(-3, 1)) / 2)}
                              : RootFactor{false, true, log_a,
                                           std::asinh(damping * ratio_from_db(left_db) / 2)};
        }
        factors.gain_db = task_.best_gain_db(factors);
        return factors;
    }

    // See find_sections.cpp.
    void shake() {
        constexpr double promising = 1.5; // of the cost
        // A step's work grows with the square of the numbers: about as long whatever the order.
        const int numbers = wanted_.poles + wanted_.zeros + 1;
        const auto most_tries =
            static_cast<std::size_t>(std::clamp(22'000 / (numbers * numbers), 4, 60));
        Seeded random(1);
        const bool can_move = std::min(wanted_.poles, wanted_.zeros) >= 2;
        for (std::size_t k = 0; k < most_tries && can_move && !watch_.is_stopped(); ++k) {
            if (cost_ < fine_db * fine_db) {
                return;
            }
            RootFactors other = refined(shaken(random), tried);
            if (task_.cost(other) < promising * cost_) {
                other = refined(std::move(other), at_the_end);
            }
            if (task_.cost(other) < worth_it * cost_) {
                keep(std::move(other));
            }
            watch_.report(0.3 + 0.5 * static_cast<double>(k) / static_cast<double>(most_tries));
        }
    }

    void make_greatest_small() {
        constexpr Effort effort{40, 1e-3, {}};
        double worst = task_.worst_db(best_);
        RootFactors now = best_;
        for (const double power : powers_to_greatest) {
            task_.refine(now, effort, watch_, power);
            RootFactors other = minds_phase() ? now : mirrored(now);
            if (const double error = task_.worst_db(other); error < worst) {
                worst = error;
                keep(std::move(other));
            }
            if (watch_.is_stopped()) {
                return;
            }
        }
    }

    const ResponseAim& aim_;
    double rate_hz_;
    JointRoots task_;
    RootsWanted wanted_;
    const Watch& watch_;
    const RootsSoFar& so_far_;
    RootFactors best_;
    double cost_ = infinity;
};

} // namespace

RootFactors find_roots(const ResponseAim& aim, double sample_rate_hz, const RootsWanted& wanted,
                       const Watch& watch, const RootsSoFar& so_far) {
    return RootsSearch(aim, sample_rate_hz, wanted, watch, so_far).found();
}

} // namespace syntonon
