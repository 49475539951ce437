// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/find_sections.h"

#include "core/base/units.h"
#include "core/math/seeded.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>

namespace syntonon {
namespace {

constexpr Effort alone{8, 1e-2, {}}, on_the_way{8, 1e-3, {}}, tried{20, 1e-3, {}},
    at_the_end{100, 1e-4, {}};
constexpr double least_gain_db = 0.05; // what does less is left out
constexpr double worth_it = 0.999;     // of the cost, else a change is none
constexpr double fine_db = 0.05;       // rms: nobody could measure more

// A stretch over which what is left has one sign.
struct Bump {
    std::size_t first, last, top; // places
    double area = 0;              // weighted
};

std::vector<Bump> bumps_in(const std::vector<double>& left, const std::vector<double>& weight) {
    std::vector<Bump> bumps;
    for (std::size_t i = 0; i < left.size(); ++i) {
        const bool goes_on = !bumps.empty() && (left[i] > 0) == (left[i - 1] > 0);
        if (!goes_on) {
            bumps.push_back({i, i, i});
        }
        Bump& bump = bumps.back();
        bump.last = i;
        bump.area += std::abs(left[i]) * weight[i];
        const auto size = [&](std::size_t k) { return std::abs(left[k]) * weight[k]; };
        bump.top = size(i) > size(bump.top) ? i : bump.top;
    }
    std::ranges::stable_sort(bumps, std::greater(), &Bump::area);
    return bumps;
}

// A bell that fills the bump: its top, and as wide as where half of it is passed.
SectionNumbers bell_for(const Bump& bump, const std::vector<double>& left,
                        const std::vector<double>& hz) {
    const double half = std::abs(left[bump.top]) / 2;
    std::size_t low = bump.top, high = bump.top;
    while (low > bump.first && std::abs(left[low - 1]) > half) {
        --low;
    }
    while (high < bump.last && std::abs(left[high + 1]) > half) {
        ++high;
    }
    const double width_oct = std::max(std::log2(hz[high] / hz[low]), 0.05);
    const double q = 1 / (2 * std::sinh(std::numbers::ln2 / 2 * width_oct));
    return {ParametricShape::peak, std::log2(hz[bump.top]), left[bump.top], std::log2(q)};
}

class Search {
public:
    Search(const JointSections& task, const SectionsCorrection& method, const CorrectionAim& aim,
           std::size_t count, const Watch& watch, const SectionsSoFar& so_far)
        : task_(task), method_(method), aim_(aim), count_(count), watch_(watch), so_far_(so_far) {}

    std::vector<SectionNumbers> found() {
        grow();
        keep(refined_well(task_, sections_));
        exchange();
        std::erase_if(sections_, [](const SectionNumbers& section) {
            return std::abs(section.gain_db) < least_gain_db;
        });
        keep(within_limits(std::move(sections_)));
        shake();
        std::ranges::stable_sort(sections_, {}, &SectionNumbers::log2_hz);
        return sections_;
    }

private:
    using Sections = std::vector<SectionNumbers>;

    Sections refined(Sections sections, const Effort& effort, std::size_t first = 0) const {
        task_.refine(sections, effort, watch_, {}, first);
        return sections;
    }

    // Both ways, since each comes to rest elsewhere.
    Sections refined_well(const JointSections& task, Sections sections) const {
        task.refine(sections, at_the_end, watch_);
        Effort by_sine = at_the_end;
        by_sine.bounding = Bounding::by_sine;
        Sections other = sections;
        task.refine(other, by_sine, watch_);
        return task.cost(other) < task.cost(sections) ? other : sections;
    }

    bool is_fine() const { return cost_ < fine_db * fine_db || is_within_tolerance(); }

    bool is_within_tolerance() const {
        const std::vector<double> left = task_.left_over(sections_);
        for (std::size_t i = 0; method_.tolerance_db && i < left.size(); ++i) {
            if (aim_.weight[i] > 0 && std::abs(left[i]) > *method_.tolerance_db) {
                return false;
            }
        }
        return method_.tolerance_db.has_value();
    }

    // With one more: the best of the largest bumps, and of a shelf at either end.
    std::optional<Sections> with_one_more(const Sections& sections) const {
        constexpr std::size_t most_bumps = 8;
        const std::vector<double> left = task_.left_over(sections);
        const std::vector<Bump> bumps = bumps_in(left, aim_.weight);
        Sections tries;
        for (std::size_t i = 0; i < std::min(most_bumps, bumps.size()); ++i) {
            tries.push_back(bell_for(bumps[i], left, aim_.hz));
        }
        add_shelves(left, tries);
        std::optional<Sections> best;
        double least = infinity;
        for (const SectionNumbers& one : tries) {
            Sections with = sections;
            with.push_back(one);
            with = refined(std::move(with), alone, sections.size());
            if (const double cost = task_.cost(with); cost < least) {
                least = cost;
                best = std::move(with);
            }
        }
        return best;
    }

    void add_shelves(const std::vector<double>& left, Sections& tries) const {
        const std::size_t third = left.size() / 3;
        const auto mean = [&](std::size_t from, std::size_t to) {
            return std::accumulate(left.begin() + static_cast<std::ptrdiff_t>(from),
                                   left.begin() + static_cast<std::ptrdiff_t>(to), 0.0)
                   / static_cast<double>(to - from);
        };
        tries.push_back({ParametricShape::low_shelf, std::log2(aim_.hz[third / 2]),
                         mean(0, third / 2 + 1), -0.5});
        tries.push_back({ParametricShape::high_shelf,
                         std::log2(aim_.hz[left.size() - 1 - third / 2]),
                         mean(left.size() - 1 - third / 2, left.size()), -0.5});
    }

    void keep(Sections sections) {
        sections_ = std::move(sections);
        cost_ = task_.cost(sections_);
        if (so_far_) {
            so_far_(sections_);
        }
    }

    void grow() {
        constexpr double share_of_work = 0.4;
        cost_ = task_.cost(sections_);
        while (sections_.size() < count_ && !watch_.is_stopped() && !is_fine()) {
            auto more = with_one_more(sections_);
            if (!more) {
                return;
            }
            keep(refined(std::move(*more), on_the_way));
            watch_.report(share_of_work * static_cast<double>(sections_.size())
                          / static_cast<double>(count_));
        }
    }

    // Those that are missed least, one after the other, are tried where most is left over.
    void exchange() {
        const std::size_t most_tries = std::max<std::size_t>(4, sections_.size() / 2);
        std::size_t in_vain = 0;
        for (std::size_t k = 0; k < most_tries && in_vain < 3 && !watch_.is_stopped(); ++k) {
            const auto order = by_what_they_do();
            if (in_vain >= order.size() || is_fine()) {
                return;
            }
            Sections without = sections_;
            without.erase(without.begin() + static_cast<std::ptrdiff_t>(order[in_vain]));
            auto other = with_one_more(refined(std::move(without), on_the_way));
            if (!other) {
                return;
            }
            Sections all = refined(std::move(*other), tried);
            if (task_.cost(all) < worth_it * cost_) {
                keep(refined_well(task_, std::move(all)));
                in_vain = 0;
            } else {
                ++in_vain;
            }
            watch_.report(0.4 + 0.2 * static_cast<double>(k) / static_cast<double>(most_tries));
        }
    }

    // Indices, the one whose lack costs least first.
    std::vector<std::size_t> by_what_they_do() const {
        std::vector<std::pair<double, std::size_t>> costs;
        for (std::size_t i = 0; i < sections_.size(); ++i) {
            Sections without = sections_;
            without.erase(without.begin() + static_cast<std::ptrdiff_t>(i));
            costs.emplace_back(task_.cost(without), i);
        }
        std::ranges::sort(costs);
        std::vector<std::size_t> order;
        for (const auto& [cost, i] : costs) {
            order.push_back(i);
        }
        return order;
    }

    bool exceeds_limits(const Sections& sections) const {
        return task_.worst_outside_db(sections) > JointSections::outside_db
               || task_.worst_over_limit_db(sections) > 0;
    }

    // What lies beyond a limit is made dearer until it does no longer; if that is not enough, all
    // gains become smaller.
    Sections within_limits(Sections sections) const {
        constexpr int most_times = 6;
        JointSections dear = task_;
        for (int i = 0; i < most_times && exceeds_limits(sections) && !watch_.is_stopped(); ++i) {
            dear.make_limits_dearer(5);
            sections = refined_well(dear, std::move(sections));
        }
        constexpr double smaller = 0.97;
        constexpr int most_steps = 150; // to a hundredth
        for (int i = 0; i < most_steps && exceeds_limits(sections); ++i) {
            for (SectionNumbers& section : sections) {
                section.gain_db *= smaller;
            }
        }
        return sections;
    }

    // Some of them, by chance, at other places and as high as what is left over there.
    Sections shaken(Seeded& random) const {
        constexpr double least_share = 0.1, greatest_share = 0.4;
        const double share = random.between(least_share, greatest_share);
        Sections all = sections_;
        const auto stays = [&](const SectionNumbers&) { return random.uniform() >= share; };
        const auto moved = std::partition(all.begin(), all.end(), stays);
        const std::vector<double> left = task_.left_over({all.begin(), moved});
        for (auto section = moved; section != all.end(); ++section) {
            const std::size_t place = random.below(left.size());
            *section = {ParametricShape::peak, std::log2(aim_.hz[place]), left[place],
                        random.between(-1.5, 2.5)};
        }
        return all;
    }

    // What grew one by one has come to rest in one of many valleys. Deeper ones are found from
    // there by chance, the same at every run (D. J. Wales and J. P. K. Doye, Global optimization by
    // basin-hopping and the lowest energy structures of Lennard-Jones clusters containing up to 110
    // atoms, J. Phys. Chem. A 101, 1997).
    void shake() {
        constexpr double promising = 1.3; // of the cost
        const std::size_t most_tries = std::clamp<std::size_t>(600 / (sections_.size() + 1), 8, 60);
        Seeded random(1);
        for (std::size_t k = 0; k < most_tries && !is_fine() && !watch_.is_stopped(); ++k) {
            Sections other = refined(shaken(random), tried);
            if (task_.cost(other) < promising * cost_) {
                other = refined(std::move(other), at_the_end);
            }
            if (task_.cost(other) < worth_it * cost_) {
                other = within_limits(std::move(other));
            }
            if (task_.cost(other) < worth_it * cost_) {
                keep(std::move(other));
            }
            watch_.report(0.6 + 0.4 * static_cast<double>(k) / static_cast<double>(most_tries));
        }
    }

    const JointSections& task_;
    const SectionsCorrection& method_;
    const CorrectionAim& aim_;
    std::size_t count_;
    const Watch& watch_;
    const SectionsSoFar& so_far_;
    Sections sections_;
    double cost_ = 0;
};

} // namespace

std::vector<SectionNumbers> find_sections(const JointSections& task,
                                          const SectionsCorrection& method,
                                          const CorrectionAim& aim, std::size_t count,
                                          const Watch& watch, const SectionsSoFar& so_far) {
    return Search(task, method, aim, count, watch, so_far).found();
}

} // namespace syntonon
