// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/fit/recursive/joint_delays.h"
#include "core/math/seeded.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

constexpr Effort delays_tried{25, 1e-3, {}}, delays_at_the_end{150, 1e-6, {}};
constexpr double delays_worth_it = 0.999; // of the cost, else a change is none

class DelaysSearch {
public:
    DelaysSearch(const DelayAim& aim, double sample_rate_hz, int order, double most_q,
                 const Watch& watch, const std::function<void(const AllPasses&)>& so_far)
        : aim_(aim), rate_hz_(sample_rate_hz), most_q_(most_q), order_(order),
          task_(aim, sample_rate_hz, most_q), watch_(watch), so_far_(so_far) {}

    AllPasses found(bool least_greatest) {
        keep(refined(start(), delays_at_the_end));
        if (aim_.by_phase()) {
            AllPasses other = refined(idle(), delays_at_the_end);
            if (task_.cost(other) < cost_) {
                keep(std::move(other));
            }
        }
        watch_.report(0.2);
        shake();
        if (least_greatest) {
            make_greatest_small();
        }
        if (aim_.by_phase()) {
            make_delay_whole(least_greatest);
        }
        return best_;
    }

private:
    double angle(std::size_t i) const { return rad_per_sample_from_hz(aim_.hz[i], rate_hz_); }

    // A pair turns the phase by 2 pi in all, which is the area under its delay: so each stands
    // where it fills as much of what lacks to one common delay, as wide as that asks for.
    AllPasses start() const {
        std::vector<double> area = {0};
        for (std::size_t i = 1; i < aim_.size(); ++i) {
            area.push_back(area.back()
                           + (aim_.delay_samples[i] + aim_.delay_samples[i - 1]) / 2
                                 * (angle(i) - angle(i - 1)));
        }
        const double width = angle(aim_.size() - 1) - angle(0);
        const double common = (pi * order_ + area.back()) / width;
        const double least = 0.2 * pi * order_ / width; // fills a little everywhere
        const auto lack = [&](std::size_t i) {
            return std::max(common - aim_.delay_samples[i], least);
        };
        std::vector<double> filled = {0};
        for (std::size_t i = 1; i < aim_.size(); ++i) {
            filled.push_back(filled.back()
                             + (lack(i) + lack(i - 1)) / 2 * (angle(i) - angle(i - 1)));
        }
        AllPasses made;
        for (int left = order_, before = 0; left > 0;) {
            const int of = left > 1 ? 2 : 1;
            const double want = filled.back() * (before + of / 2.0) / order_;
            const auto at =
                static_cast<std::size_t>(std::ranges::lower_bound(filled, want) - filled.begin());
            made.poles.push_back(pole_at(std::min(at, aim_.size() - 1), of,
                                         pi * of / lack(std::min(at, aim_.size() - 1))));
            left -= of;
            before += of;
        }
        task_.choose_delay(made);
        return made;
    }

    // All of them near half the rate, where they leave the phase as it is.
    AllPasses idle() const {
        constexpr double highest = 0.489; // of the rate; see JointDelays::refine
        const double place = log_image(highest * rate_hz_, rate_hz_);
        AllPasses made;
        for (int left = order_; left > 0; left -= left > 1 ? 2 : 1) {
            made.poles.push_back({true, left > 1, place, left > 1 ? 0.0 : 1.0});
        }
        task_.choose_delay(made);
        return made;
    }

    // As wide, in rad, where it is half as late.
    RootFactor pole_at(std::size_t place, int order, double width_rad) const {
        const double log_a = log_image(aim_.hz[place], rate_hz_), a = std::exp(log_a);
        const double damping = width_rad * (1 + a * a) / (2 * a);
        return {true, order == 2, log_a, order == 2 ? std::log(damping) : 1};
    }

    AllPasses refined(AllPasses all, const Effort& effort) const {
        task_.refine(all, effort, watch_);
        return all;
    }

    void keep(AllPasses all) {
        best_ = std::move(all);
        cost_ = task_.cost(best_);
        if (so_far_) {
            so_far_(best_);
        }
    }

    // See find_sections.cpp.
    void shake() {
        constexpr double promising = 1.5; // of the cost
        const int most_tries = std::clamp(400 / (order_ + 1), 8, 60);
        Seeded random(1);
        for (int k = 0; k < most_tries && order_ > 1 && !watch_.is_stopped(); ++k) {
            AllPasses other = best_;
            const double share = random.between(0.1, 0.5);
            for (RootFactor& pole : other.poles) {
                if (random.uniform() < share) {
                    const int order = pole.is_pair ? 2 : 1;
                    pole = pole_at(random.below(aim_.size()), order,
                                   std::exp(random.between(std::log(0.01), 0)));
                }
            }
            task_.choose_delay(other);
            other = refined(std::move(other), delays_tried);
            if (task_.cost(other) < promising * cost_) {
                other = refined(std::move(other), delays_at_the_end);
            }
            if (task_.cost(other) < delays_worth_it * cost_) {
                keep(std::move(other));
            }
            watch_.report(0.2 + 0.6 * k / most_tries);
        }
    }

    void make_greatest_small() {
        AllPasses now = best_;
        double worst = task_.worst(best_);
        for (const double power : powers_to_greatest) {
            task_.refine(now, delays_at_the_end, watch_, power);
            if (const double error = task_.worst(now); error < worst) {
                worst = error;
                keep(now);
            }
        }
    }

    void make_delay_whole(bool least_greatest) {
        DelayAim with_delay = aim_;
        with_delay.up_to_a_delay = false;
        best_.delay_samples = std::round(best_.delay_samples);
        JointDelays(with_delay, rate_hz_, most_q_)
            .refine(best_, delays_at_the_end, watch_,
                    least_greatest ? powers_to_greatest.back() : 2);
    }

    const DelayAim& aim_;
    double rate_hz_, most_q_;
    int order_;
    JointDelays task_;
    const Watch& watch_;
    const std::function<void(const AllPasses&)>& so_far_;
    AllPasses best_;
    double cost_ = infinity;
};

} // namespace

AllPasses find_delays(const DelayAim& aim, double sample_rate_hz, int order, double most_q,
                      bool least_greatest, const Watch& watch,
                      const std::function<void(const AllPasses&)>& so_far) {
    return DelaysSearch(aim, sample_rate_hz, order, most_q, watch, so_far).found(least_greatest);
}

} // namespace syntonon
