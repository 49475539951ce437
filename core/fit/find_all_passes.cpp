// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/find_all_passes.h"

#include "core/base/units.h"
#include "core/fit/section_phases.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <optional>
#include <utility>

namespace syntonon {
namespace {

constexpr Effort one_alone{15, 1e-2, {}}, all_together{40, 1e-4, {}};
constexpr double worth_one_more = 0.995; // of the cost, else it is none

class AllPassSearch {
public:
    AllPassSearch(const JointSections& levels, const JointTiming& timing,
                  const JointTiming& straight, std::vector<SectionNumbers> sections,
                  const Watch& watch)
        : levels_(levels), timing_(timing), straight_(straight), first_(sections.size()),
          watch_(watch) {
        best_.sections = std::move(sections);
        best_.delay_s = timing.best_delay_s(timing.phases(best_.sections));
        cost_ = timing.cost(best_);
    }

    TimedSections found(std::size_t count, const TimedSoFar& so_far) {
        const TimedSections without = best_;
        spread(without, count);
        if (so_far) {
            so_far(best_);
        }
        const TimedSections spread_out = std::exchange(best_, without);
        const double spread_cost = std::exchange(cost_, timing_.cost(without));
        grow(count, so_far);
        if (!is_fine() && spread_cost < cost_) {
            best_ = spread_out;
        }
        std::stable_sort(best_.sections.begin() + static_cast<std::ptrdiff_t>(first_),
                         best_.sections.end(),
                         [](const auto& a, const auto& b) { return a.log2_hz < b.log2_hz; });
        return best_;
    }

private:
    bool is_fine() const {
        constexpr double fine_db = 0.15; // rms: a degree
        return cost_ < fine_db * fine_db;
    }
    bool is_done() const { return is_fine() || watch_.is_stopped(); }

    // A cascade of n all-passes turns by n whole turns; each stands where half of its own is done.
    // So with the delay that lets the aim end n turns below, all of them are placed at once, each
    // as wide as the delay wanted there asks for. The best of all n.
    void spread(const TimedSections& without, std::size_t count) {
        constexpr std::size_t most_tried = 6;
        const std::size_t step = 1 + (count - 1) / most_tried;
        const std::vector<double> own = timing_.phases(without.sections);
        for (std::size_t n = 1 + (count - 1) % step; n <= count && !is_done(); n += step) {
            TimedSections all = spread_out(without, own, n);
            all.delay_s = timing_.best_delay_s(timing_.phases(all.sections));
            refine(levels_, straight_, all, all_together, watch_, {}, first_);
            refine(levels_, timing_, all, all_together, watch_, {}, first_);
            // Many all-passes for little are not worth it.
            constexpr double much_better = 0.8;
            if (const double cost = timing_.cost(all); cost < much_better * cost_) {
                cost_ = cost;
                best_ = std::move(all);
            }
        }
    }

    TimedSections spread_out(const TimedSections& without, const std::vector<double>& own,
                             std::size_t n) const {
        const auto hz = timing_.grid().frequency_hz();
        const auto wanted = [&](std::size_t i, double delay_s) {
            return timing_.aim().phase_rad[i] - own[i] - 2 * pi * hz[i] * delay_s;
        };
        const std::size_t last = hz.size() - 1;
        const double turns = 2 * pi * static_cast<double>(n);
        const double delay_s =
            timing_.is_delay_free() ? (wanted(last, 0) + turns) / (2 * pi * hz[last]) : 0;
        TimedSections all = without;
        double next = -pi;
        for (std::size_t i = 1; i <= last && all.sections.size() - first_ < n; ++i) {
            if (wanted(i, delay_s) > next) {
                continue;
            }
            const double omega_apart = 2 * pi * (hz[i] - hz[i - 1]);
            const double wanted_delay_s =
                (wanted(i - 1, delay_s) - wanted(i, delay_s)) / omega_apart;
            constexpr double least_q = 0.1, width = 1.3;
            SectionNumbers one{ParametricShape::all_pass, std::log2(hz[i]), 0,
                               std::log2(std::max(least_q, width * hz[i] * wanted_delay_s))};
            levels_.keep_within(one);
            all.sections.push_back(one);
            next -= 2 * pi;
        }
        return all;
    }

    void grow(std::size_t count, const TimedSoFar& so_far) {
        for (std::size_t i = 0; i < count && !is_done(); ++i) {
            // Where one alone does not help, two at once may.
            if (!add(1) && (i + 2 > count || !add(2))) {
                break;
            }
            i = best_.sections.size() - first_ - 1;
            if (so_far) {
                so_far(best_);
            }
            watch_.report(static_cast<double>(i + 1) / static_cast<double>(count));
        }
    }

    // So many of the same kind at one place, tried everywhere.
    std::vector<SectionNumbers> places(std::size_t at_once) const {
        constexpr double an_octave = 4, lowest_log2_q = -1.5, highest_log2_q = 3,
                         step_log2_q = 0.75;
        constexpr std::size_t most_kept = 4;
        const std::vector<double> phase = timing_.phases(best_.sections);
        const auto hz = timing_.grid().frequency_hz();
        std::vector<std::pair<double, SectionNumbers>> tried;
        for (double log2_hz = std::log2(hz.front()); log2_hz <= std::log2(hz.back());
             log2_hz += 1 / an_octave) {
            for (double log2_q = lowest_log2_q; log2_q <= highest_log2_q; log2_q += step_log2_q) {
                SectionNumbers one{ParametricShape::all_pass, log2_hz, 0, log2_q};
                levels_.keep_within(one);
                std::vector<double> with = phase;
                for (std::size_t i = 0; i < at_once; ++i) {
                    add_phases(one, timing_.grid(), with);
                }
                tried.emplace_back(timing_.cost(with, timing_.best_delay_s(with)), one);
            }
        }
        std::ranges::stable_sort(tried, {}, [](const auto& one) { return one.first; });
        std::vector<SectionNumbers> best;
        for (const auto& candidate : tried) {
            const SectionNumbers& one = candidate.second;
            // Neighbours of what is kept would lead to the same.
            const bool is_near = std::ranges::any_of(best, [&one](const SectionNumbers& kept) {
                return std::abs(kept.log2_hz - one.log2_hz) < 0.6
                       && std::abs(kept.log2_q - one.log2_q) < 1;
            });
            if (!is_near && best.size() < most_kept) {
                best.push_back(one);
            }
        }
        return best;
    }

    bool add(std::size_t at_once) {
        std::optional<TimedSections> better;
        double least = worth_one_more * cost_;
        for (const SectionNumbers& one : places(at_once)) {
            TimedSections with = best_;
            for (std::size_t i = 0; i < at_once; ++i) {
                with.sections.push_back(one);
                with.sections.back().log2_hz += 0.1 * static_cast<double>(i);
            }
            with.delay_s = timing_.best_delay_s(timing_.phases(with.sections));
            refine(levels_, timing_, with, one_alone, watch_, {}, best_.sections.size());
            refine(levels_, timing_, with, all_together, watch_, {}, first_);
            if (const double cost = timing_.cost(with); cost < least) {
                least = cost;
                better = std::move(with);
            }
        }
        if (!better) {
            return false;
        }
        best_ = *std::move(better);
        cost_ = least;
        return true;
    }

    const JointSections& levels_;
    const JointTiming &timing_, &straight_;
    std::size_t first_;
    const Watch& watch_;
    TimedSections best_;
    double cost_ = 0;
};

} // namespace

TimedSections with_all_passes(const JointSections& levels, const JointTiming& timing,
                              const JointTiming& straight, std::vector<SectionNumbers> sections,
                              std::size_t count, const Watch& watch, const TimedSoFar& so_far) {
    return AllPassSearch(levels, timing, straight, std::move(sections), watch).found(count, so_far);
}

} // namespace syntonon
