// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/joint_sections.h"
#include "core/fit/joint_timing.h"
#include "core/fit/section_phases.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <utility>

namespace syntonon {
namespace {

constexpr std::array members = {&SectionNumbers::log2_hz, &SectionNumbers::gain_db,
                                &SectionNumbers::log2_q};

// What a step of one means about as much: a quarter of an octave, 2 dB, half an octave of Q.
constexpr std::array units = {0.25, 2.0, 0.5};

// What the solver turns for a number that has bounds: the number in its unit, whose steps are
// projected onto the bounds; or the argument of a sine between them, which needs none. The first
// is quicker, but comes to rest where a step onto a bound is no descent.
class Handle {
public:
    Handle(const JointSections::Bounds& bounds, double unit, Bounding bounding)
        : bounds_(bounds), unit_(unit), is_sine_(bounding == Bounding::by_sine) {}

    double value(double turned) const {
        return is_sine_ ? middle() + half() * std::sin(turned) : turned * unit_;
    }
    double slope(double turned) const { return is_sine_ ? half() * std::cos(turned) : unit_; }
    double turned(double value) const {
        constexpr double furthest = 0.995; // on a bound the slope is 0
        return !is_sine_ ? value / unit_
               : half() == 0
                   ? 0
                   : std::asin(std::clamp((value - middle()) / half(), -furthest, furthest));
    }
    NumberBounds bounds() const {
        return is_sine_ ? NumberBounds{}
                        : NumberBounds{bounds_.least / unit_, bounds_.greatest / unit_};
    }

private:
    double middle() const { return (bounds_.least + bounds_.greatest) / 2; }
    double half() const { return (bounds_.greatest - bounds_.least) / 2; }

    JointSections::Bounds bounds_;
    double unit_;
    bool is_sine_;
};

struct Turned {
    std::size_t section, number;
    Handle handle;
};

void put(std::span<const Turned> turned, const double* values, std::span<SectionNumbers> into,
         std::size_t first) {
    for (std::size_t k = 0; k < turned.size(); ++k) {
        into[turned[k].section - first].*members[turned[k].number] =
            turned[k].handle.value(values[k]);
    }
}

// Sections of which some numbers are turned. What they have over a grid (level or phase) is added
// up, and its slopes by the turned numbers are one row of places each. Those before `first` stay
// as they are, and are no part of it.
class TurnedSections {
public:
    TurnedSections(std::span<const SectionNumbers> sections, std::size_t first,
                   std::vector<Turned> turned)
        : sections_(sections.begin() + static_cast<std::ptrdiff_t>(first), sections.end()),
          first_(first), turned_(std::move(turned)) {}

    std::size_t number_count() const { return turned_.size(); }

    template <class Add> // add_levels or add_phases
    void add(const double* values, const FrequencyGrid& grid, std::vector<double>& sum,
             Add add_one) const {
        for (const SectionNumbers& section : at(values)) {
            add_one(section, grid, sum);
        }
    }

    template <class Add>
    std::vector<double> slopes(const double* values, const FrequencyGrid& grid,
                               std::vector<double>& sum, Add add_one) const {
        const std::size_t places = grid.size();
        std::vector<double> all(3 * places), by(turned_.size() * places);
        std::size_t k = 0, s = first_;
        for (const SectionNumbers& section : at(values)) {
            const std::span<double> three(all);
            add_one(
                section, grid, sum,
                std::array{three.first(places), three.subspan(places, places), three.last(places)});
            for (; k < turned_.size() && turned_[k].section == s; ++k) {
                const double by_value = turned_[k].handle.slope(values[k]);
                const auto of = three.subspan(turned_[k].number * places, places);
                std::ranges::transform(of, by.begin() + static_cast<std::ptrdiff_t>(k * places),
                                       [by_value](double slope) { return by_value * slope; });
            }
            ++s;
        }
        return by;
    }

private:
    std::vector<SectionNumbers> at(const double* values) const {
        std::vector<SectionNumbers> sections = sections_;
        put(turned_, values, sections, first_);
        return sections;
    }

    std::vector<SectionNumbers> sections_;
    std::size_t first_;
    std::vector<Turned> turned_; // by section
};

constexpr auto add_one_level = [](auto&&... all) { add_levels(all...); };
constexpr auto add_one_phase = [](auto&&... all) { add_phases(all...); };

// The errors of the level, by the turned numbers.
class LevelErrors {
public:
    LevelErrors(const JointSections& task, std::vector<double> fixed_db, TurnedSections turned)
        : task_(task), fixed_db_(std::move(fixed_db)), turned_(std::move(turned)) {}

    void operator()(std::span<const double> values, std::span<double> errors,
                    std::span<double> slopes) const {
        std::vector<double> gain = fixed_db_;
        if (slopes.empty()) {
            turned_.add(values.data(), task_.grid(), gain, add_one_level);
            task_.errors(gain, errors);
            return;
        }
        const auto by = turned_.slopes(values.data(), task_.grid(), gain, add_one_level);
        task_.errors(gain, errors);
        task_.error_slopes(gain, by, slopes.data());
    }

private:
    const JointSections& task_;
    std::vector<double> fixed_db_;
    TurnedSections turned_;
};

// Those of the timing, by the turned numbers and the delay, which comes last.
class TimingErrors {
public:
    TimingErrors(const JointTiming& task, std::vector<double> fixed_rad, TurnedSections turned)
        : task_(task), fixed_rad_(std::move(fixed_rad)), turned_(std::move(turned)) {}

    void operator()(std::span<const double> values, double delay_s, std::span<double> errors,
                    std::span<double> by_numbers, std::span<double> by_delay) const {
        std::vector<double> phase = fixed_rad_;
        if (by_delay.empty()) {
            turned_.add(values.data(), task_.grid(), phase, add_one_phase);
            task_.errors(phase, delay_s, errors);
            return;
        }
        const auto by = turned_.slopes(values.data(), task_.grid(), phase, add_one_phase);
        task_.errors(phase, delay_s, errors);
        task_.error_slopes(phase, delay_s, by, by_numbers.data(), by_delay.data());
    }

private:
    const JointTiming& task_;
    std::vector<double> fixed_rad_;
    TurnedSections turned_;
};

std::vector<Turned> turned_numbers(const JointSections& task,
                                   std::span<const SectionNumbers> sections, std::size_t first,
                                   const FreeNumbers& free, Bounding bounding) {
    std::vector<Turned> turned;
    for (std::size_t s = first; s < sections.size(); ++s) {
        const bool has_gain = sections[s].shape != ParametricShape::all_pass;
        for (const auto& [number, is_free] :
             {std::pair(std::size_t{0}, free.frequency), {1, free.gain && has_gain}, {2, free.q}}) {
            if (is_free) {
                turned.push_back(
                    {s, number,
                     Handle(task.bounds_of(sections[s], number), units[number], bounding)});
            }
        }
    }
    return turned;
}

// Rows of a part of the numbers put among those of all of them.
void put_columns(std::span<const double> part, std::size_t first_row, std::size_t first_column,
                 std::size_t columns, std::size_t rows, std::span<double> all,
                 std::size_t all_columns) {
    for (std::size_t row = 0; row < rows; ++row) {
        for (std::size_t k = 0; k < columns; ++k) {
            all[(first_row + row) * all_columns + first_column + k] = part[row * columns + k];
        }
    }
}

// Puts the sections within their bounds, lets the numbers to be turned be solved for, and takes
// what they have become; a last number beside them is the caller's.
template <class Solve>
void refine_with(const JointSections& task, std::span<SectionNumbers> sections,
                 const Effort& effort, const FreeNumbers& free, std::size_t first, Solve solve) {
    const auto turned = turned_numbers(task, sections, first, free, effort.bounding);
    if (turned.empty()) {
        return;
    }
    std::vector<double> values;
    std::vector<NumberBounds> bounds;
    for (const Turned& t : turned) {
        task.keep_within(sections[t.section]);
        values.push_back(t.handle.turned(sections[t.section].*members[t.number]));
        bounds.push_back(t.handle.bounds());
    }
    solve(turned, bounds, values);
    put(turned, values.data(), sections, 0);
    for (const Turned& t : turned) {
        task.keep_within(sections[t.section]); // where the limit of Q depends on the frequency
    }
}

LevelErrors level_errors(const JointSections& task, std::span<SectionNumbers> sections,
                         const std::vector<Turned>& turned, std::size_t first) {
    return {task, task.gains(sections.first(first)), TurnedSections(sections, first, turned)};
}

// Level and timing together: of the errors first the level's, of the numbers last the delay.
struct BothErrors {
    std::optional<LevelErrors> level; // where it counts
    TimingErrors timing;
    std::size_t level_rows, timing_rows, number_count; // without the delay

    void operator()(std::span<const double> all, std::span<double> errors,
                    std::span<double> slopes) const {
        const auto values = all.first(number_count);
        const std::size_t columns = all.size();
        const bool with_slopes = !slopes.empty();
        std::vector<double> by(with_slopes ? std::max(level_rows, timing_rows) * number_count : 0);
        std::vector<double> by_delay(with_slopes ? timing_rows : 0);
        std::ranges::fill(slopes, 0.0);
        if (level) {
            (*level)(values, errors.first(level_rows), by);
            if (with_slopes) {
                put_columns(by, 0, 0, number_count, level_rows, slopes, columns);
            }
        }
        timing(values, all[number_count], errors.last(timing_rows), by, by_delay);
        if (with_slopes) {
            put_columns(by, level_rows, 0, number_count, timing_rows, slopes, columns);
            put_columns(by_delay, level_rows, number_count, 1, timing_rows, slopes, columns);
        }
    }
};

} // namespace

void JointSections::refine(std::span<SectionNumbers> sections, const Effort& effort,
                           const Watch& watch, const FreeNumbers& free, std::size_t first) const {
    refine_with(*this, sections, effort, free, first,
                [&](const std::vector<Turned>& turned, const std::vector<NumberBounds>& bounds,
                    std::vector<double>& values) {
                    solve({error_count(), level_errors(*this, sections, turned, first), bounds},
                          values, effort, watch);
                });
}

void refine(const JointSections& levels, const JointTiming& timing, TimedSections& timed,
            const Effort& effort, const Watch& watch, const FreeNumbers& free, std::size_t first) {
    const std::span<SectionNumbers> sections(timed.sections);
    const bool level_counts = std::ranges::any_of(sections.subspan(first), [](const auto& section) {
        return section.shape != ParametricShape::all_pass;
    });
    const auto solve_both = [&](const std::vector<Turned>& turned, std::vector<NumberBounds> bounds,
                                std::vector<double>& values) {
        BothErrors both{std::nullopt,
                        TimingErrors(timing, timing.phases(sections.first(first)),
                                     TurnedSections(sections, first, turned)),
                        level_counts ? levels.error_count() : 0, timing.error_count(),
                        turned.size()};
        if (level_counts) {
            both.level.emplace(level_errors(levels, sections, turned, first));
        }
        const std::size_t rows = both.level_rows + both.timing_rows;
        values.push_back(timed.delay_s);
        bounds.push_back(timing.is_delay_free() ? NumberBounds{}
                                                : NumberBounds{timed.delay_s, timed.delay_s});
        solve({rows, std::move(both), std::move(bounds)}, values, effort, watch);
        timed.delay_s = values.back();
        values.pop_back();
    };
    refine_with(levels, sections, effort, free, first, solve_both);
}

} // namespace syntonon
