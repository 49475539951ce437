// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/find_roots.h"

#include "core/curve/phase_parts.h"
#include "core/fit/recursive/vector_fit.h"
#include "core/math/seeded.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

namespace syntonon {
namespace {

constexpr Effort roots_on_the_way{10, 1e-2, {}}, roots_tried{25, 1e-3, {}},
    roots_promising{40, 1e-4, {}}, roots_at_the_end{100, 1e-5, {}};
constexpr double roots_fine_db = 0.001;  // rms: nothing could show it
constexpr double roots_worth_it = 0.999; // of the cost, else a change is none

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

// What searches spend most of their time on has fewer places, so many for each number that is
// turned.
ResponseAim thinned(const ResponseAim& aim, std::size_t numbers) {
    constexpr std::size_t places_a_number = 3, least = 200;
    const std::size_t count = std::max(least, places_a_number * numbers);
    if (count >= aim.size()) {
        return aim;
    }
    ResponseAim few;
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t at = i * (aim.size() - 1) / (count - 1);
        few.hz.push_back(aim.hz[at]);
        few.level_db.push_back(aim.level_db[at]);
        few.weight.push_back(aim.weight[at]);
        if (!aim.phase_rad.empty()) {
            few.phase_rad.push_back(aim.phase_rad[at]);
        }
    }
    const bool any = std::ranges::any_of(few.weight, [](double weight) { return weight > 0; });
    return any ? few : aim;
}

// A pair of poles and the pair of zeros next to it: together a bell.
struct Bell {
    RootFactor *poles, *zeros;
    double size_db; // how far it leaves its mean
};

class RootsSearch {
public:
    RootsSearch(const ResponseAim& aim, double sample_rate_hz, const RootsWanted& wanted,
                const Watch& watch, const RootsSoFar& so_far)
        : aim_(aim), few_(thinned(aim, number_count(wanted))), rate_hz_(sample_rate_hz),
          task_(aim, sample_rate_hz, wanted.greatest_q),
          rough_(few_, sample_rate_hz, wanted.greatest_q), wanted_(wanted), watch_(watch),
          so_far_(so_far) {}

    RootFactors found() {
        keep(roughly(with_wanted_zeros(start()), roots_at_the_end));
        watch_.report(0.1);
        shake();
        if (!watch_.is_stopped()) {
            keep(refined(best_, roots_at_the_end));
        }
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

    static std::size_t number_count(const RootsWanted& wanted) {
        return static_cast<std::size_t>(wanted.poles) + static_cast<std::size_t>(wanted.zeros) + 1;
    }

    RootFactors refined_by(const JointRoots& task, RootFactors factors,
                           const Effort& effort) const {
        task.refine(factors, effort, watch_);
        return minds_phase() ? factors : mirrored(std::move(factors));
    }
    RootFactors refined(RootFactors factors, const Effort& effort) const {
        return refined_by(task_, std::move(factors), effort);
    }
    RootFactors roughly(RootFactors factors, const Effort& effort) const {
        return refined_by(rough_, std::move(factors), effort);
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
            without.gain_db = rough_.best_gain_db(without);
            if (const double cost = rough_.cost(without); cost < least) {
                least = cost;
                best = std::move(without);
            }
        }
        return roughly(std::move(best), roots_on_the_way);
    }

    void keep(RootFactors factors) {
        best_ = std::move(factors);
        if (so_far_) {
            so_far_(best_);
        }
    }

    std::vector<Bell> bells_of(RootFactors& factors) const {
        std::vector<Bell> bells;
        for (RootFactor& poles : factors.all) {
            RootFactor* nearest = nullptr;
            for (RootFactor& zeros : factors.all) {
                const auto off = [&](const RootFactor& f) {
                    return std::abs(f.log_a - poles.log_a);
                };
                if (!zeros.is_pole && zeros.is_pair
                    && (nearest == nullptr || off(zeros) < off(*nearest))) {
                    nearest = &zeros;
                }
            }
            if (poles.is_pole && poles.is_pair && nearest != nullptr) {
                bells.push_back({&poles, nearest, size_db(poles, *nearest)});
            }
        }
        return bells;
    }

    double size_db(const RootFactor& poles, const RootFactor& zeros) const {
        std::vector<double> level(few_.size(), 0.0);
        add_level(std::array{poles, zeros}, rough_.grid(), level);
        double sum = 0, squares = 0;
        for (const double db : level) {
            sum += db;
            squares += db * db;
        }
        const auto count = static_cast<double>(level.size());
        return std::sqrt(std::max(0.0, squares / count - sum * sum / (count * count)));
    }

    // Any one, or rather one that does little.
    static Bell& chosen(std::vector<Bell>& bells, bool by_size, Seeded& random) {
        constexpr double least_db = 0.05;
        if (!by_size) {
            return bells[random.below(bells.size())];
        }
        const auto share = [](const Bell& bell) { return 1 / (bell.size_db + least_db); };
        double all = 0;
        for (const Bell& bell : bells) {
            all += share(bell);
        }
        double left = random.between(0, all);
        const auto at = std::ranges::find_if(
            bells, [&](const Bell& bell) { return (left -= share(bell)) <= 0; });
        return at != bells.end() ? *at : bells.back();
    }

    // Anywhere, or rather where much is left over.
    std::size_t place_to_go(const std::vector<double>& left_db, bool by_error,
                            Seeded& random) const {
        if (!by_error) {
            return random.below(few_.size());
        }
        std::vector<double> sums;
        double sum = 0;
        for (std::size_t i = 0; i < left_db.size(); ++i) {
            sum += few_.weight[i] * left_db[i] * left_db[i];
            sums.push_back(sum);
        }
        const auto at = std::ranges::lower_bound(sums, random.between(0, sum)) - sums.begin();
        return std::min(static_cast<std::size_t>(at), few_.size() - 1);
    }

    // One bell or two, by chance, somewhere else, as high as what is left over there; or the zeros
    // on their own somewhere else again.
    RootFactors shaken(Seeded& random) const {
        constexpr double guided = 0.5, apart = 0.15;
        RootFactors factors = best_;
        std::vector<double> left_db = rough_.level_db(best_);
        std::ranges::transform(few_.level_db, left_db, left_db.begin(), std::minus());
        const std::size_t count = 1 + random.below(2);
        for (std::size_t k = 0; k < count; ++k) {
            auto bells = bells_of(factors);
            if (bells.empty()) {
                break;
            }
            Bell& bell = chosen(bells, random.uniform() < guided, random);
            const std::size_t to = place_to_go(left_db, random.uniform() < guided, random);
            const double damping = std::exp(random.between(-3, 1));
            *bell.poles = {true, true, place_of(to), std::log(damping)};
            *bell.zeros = random.uniform() < apart
                              ? RootFactor{false, true, place_of(random.below(few_.size())),
                                           std::asinh(std::exp(random.between(-3, 1)) / 2)}
                              : RootFactor{false, true, place_of(to),
                                           std::asinh(damping * ratio_from_db(left_db[to]) / 2)};
        }
        factors.gain_db = rough_.best_gain_db(factors);
        return factors;
    }

    double place_of(std::size_t i) const { return log_image(few_.hz[i], rate_hz_); }

    // See find_sections.cpp.
    void shake() {
        constexpr double worth_more = 1.5; // of the cost
        // A step's work grows with the square of the numbers: about as long whatever the order.
        constexpr double work = 46.0 * 61 * 61 * 200;
        const auto numbers = static_cast<double>(number_count(wanted_));
        const auto most_tries = static_cast<std::size_t>(
            std::clamp(work / (numbers * numbers * static_cast<double>(few_.size())), 4.0, 200.0));
        Seeded random(1);
        const bool can_move = std::min(wanted_.poles, wanted_.zeros) >= 2;
        double cost = rough_.cost(best_);
        for (std::size_t k = 0; k < most_tries && can_move && !watch_.is_stopped(); ++k) {
            if (cost < roots_fine_db * roots_fine_db) {
                return;
            }
            RootFactors other = roughly(shaken(random), roots_tried);
            if (rough_.cost(other) < worth_more * cost) {
                other = roughly(std::move(other), roots_promising);
            }
            if (rough_.cost(other) < roots_worth_it * cost) {
                cost = rough_.cost(other);
                keep(std::move(other));
            }
            watch_.report(0.1 + 0.7 * static_cast<double>(k) / static_cast<double>(most_tries));
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
    ResponseAim few_;
    double rate_hz_;
    JointRoots task_, rough_;
    RootsWanted wanted_;
    const Watch& watch_;
    const RootsSoFar& so_far_;
    RootFactors best_;
};

} // namespace

RootFactors find_roots(const ResponseAim& aim, double sample_rate_hz, const RootsWanted& wanted,
                       const Watch& watch, const RootsSoFar& so_far) {
    return RootsSearch(aim, sample_rate_hz, wanted, watch, so_far).found();
}

} // namespace syntonon
