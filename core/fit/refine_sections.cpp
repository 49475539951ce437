// SPDX-License-Identifier: GPL-3.0-or-later
// The one place that knows the solver.
#include "core/fit/joint_sections.h"
#include "core/fit/joint_timing.h"
#include "core/fit/section_phases.h"

#include <algorithm>
#include <array>
#include <ceres/ceres.h>
#include <cmath>
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
    void bound(ceres::Problem& problem, double* all, std::size_t k) const {
        if (!is_sine_) {
            problem.SetParameterLowerBound(all, static_cast<int>(k), bounds_.least / unit_);
            problem.SetParameterUpperBound(all, static_cast<int>(k), bounds_.greatest / unit_);
        }
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

constexpr auto add_level = [](auto&&... all) { add_levels(all...); };
constexpr auto add_phase = [](auto&&... all) { add_phases(all...); };

class LevelErrors : public ceres::CostFunction {
public:
    LevelErrors(const JointSections& task, std::vector<double> fixed_db, TurnedSections turned)
        : task_(task), fixed_db_(std::move(fixed_db)), turned_(std::move(turned)) {
        set_num_residuals(static_cast<int>(task.error_count()));
        mutable_parameter_block_sizes()->push_back(static_cast<int>(turned_.number_count()));
    }

    bool Evaluate(double const* const* values, double* errors, double** slopes) const override {
        std::vector<double> gain = fixed_db_;
        if (slopes == nullptr || slopes[0] == nullptr) {
            turned_.add(values[0], task_.grid(), gain, add_level);
            task_.errors(gain, {errors, task_.error_count()});
            return true;
        }
        const auto by = turned_.slopes(values[0], task_.grid(), gain, add_level);
        task_.errors(gain, {errors, task_.error_count()});
        task_.error_slopes(gain, by, slopes[0]);
        return true;
    }

private:
    const JointSections& task_;
    std::vector<double> fixed_db_;
    TurnedSections turned_;
};

// By the turned numbers, and the delay as a block of its own.
class TimingErrors : public ceres::CostFunction {
public:
    TimingErrors(const JointTiming& task, std::vector<double> fixed_rad, TurnedSections turned)
        : task_(task), fixed_rad_(std::move(fixed_rad)), turned_(std::move(turned)) {
        set_num_residuals(static_cast<int>(task.error_count()));
        *mutable_parameter_block_sizes() = {static_cast<int>(turned_.number_count()), 1};
    }

    bool Evaluate(double const* const* values, double* errors, double** slopes) const override {
        std::vector<double> phase = fixed_rad_, by;
        if (slopes != nullptr && slopes[0] != nullptr) {
            by = turned_.slopes(values[0], task_.grid(), phase, add_phase);
        } else {
            turned_.add(values[0], task_.grid(), phase, add_phase);
        }
        const double delay_s = *values[1];
        task_.errors(phase, delay_s, {errors, task_.error_count()});
        if (slopes != nullptr) {
            task_.error_slopes(phase, delay_s, by, slopes[0], slopes[1]);
        }
        return true;
    }

private:
    const JointTiming& task_;
    std::vector<double> fixed_rad_;
    TurnedSections turned_;
};

class Stopper : public ceres::IterationCallback {
public:
    explicit Stopper(const Watch& watch) : watch_(watch) {}
    ceres::CallbackReturnType operator()(const ceres::IterationSummary&) override {
        return watch_.is_stopped() ? ceres::SOLVER_TERMINATE_SUCCESSFULLY : ceres::SOLVER_CONTINUE;
    }

private:
    const Watch& watch_;
};

ceres::Solver::Options options_for(const Effort& effort, ceres::IterationCallback& stopper) {
    ceres::Solver::Options options;
    options.max_num_iterations = effort.most_steps;
    options.linear_solver_type = ceres::DENSE_NORMAL_CHOLESKY;
    options.logging_type = ceres::SILENT;
    options.num_threads = 1; // the same on every machine
    options.function_tolerance = effort.least_part;
    options.callbacks.push_back(&stopper);
    return options;
}

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

// Puts the sections within their bounds, lets the problem be solved that `add` makes with the
// numbers to be turned, and takes what they have become.
template <class Add>
void refine_with(const JointSections& task, std::span<SectionNumbers> sections,
                 const Effort& effort, const Watch& watch, const FreeNumbers& free,
                 std::size_t first, Add add) {
    const auto turned = turned_numbers(task, sections, first, free, effort.bounding);
    if (turned.empty()) {
        return;
    }
    std::vector<double> values;
    for (const Turned& t : turned) {
        task.keep_within(sections[t.section]);
        values.push_back(t.handle.turned(sections[t.section].*members[t.number]));
    }
    ceres::Problem problem;
    add(problem, values.data(), turned);
    for (std::size_t k = 0; k < turned.size(); ++k) {
        turned[k].handle.bound(problem, values.data(), k);
    }
    Stopper stopper(watch);
    ceres::Solver::Summary summary;
    ceres::Solve(options_for(effort, stopper), &problem, &summary);
    if (summary.IsSolutionUsable()) {
        put(turned, values.data(), sections, 0);
    }
    for (const Turned& t : turned) {
        task.keep_within(sections[t.section]); // where the limit of Q depends on the frequency
    }
}

// The problem takes these over.
ceres::CostFunction* level_errors(const JointSections& task, std::span<SectionNumbers> sections,
                                  const std::vector<Turned>& turned, std::size_t first) {
    return new LevelErrors(task, task.gains(sections.first(first)),
                           TurnedSections(sections, first, turned));
}

} // namespace

void JointSections::refine(std::span<SectionNumbers> sections, const Effort& effort,
                           const Watch& watch, const FreeNumbers& free, std::size_t first) const {
    refine_with(*this, sections, effort, watch, free, first,
                [&](ceres::Problem& problem, double* values, const std::vector<Turned>& turned) {
                    problem.AddResidualBlock(level_errors(*this, sections, turned, first), nullptr,
                                             values);
                });
}

void refine(const JointSections& levels, const JointTiming& timing, TimedSections& timed,
            const Effort& effort, const Watch& watch, const FreeNumbers& free, std::size_t first) {
    const std::span<SectionNumbers> sections(timed.sections);
    const bool level_counts = std::ranges::any_of(sections.subspan(first), [](const auto& section) {
        return section.shape != ParametricShape::all_pass;
    });
    refine_with(levels, sections, effort, watch, free, first,
                [&](ceres::Problem& problem, double* values, const std::vector<Turned>& turned) {
                    if (level_counts) {
                        problem.AddResidualBlock(level_errors(levels, sections, turned, first),
                                                 nullptr, values);
                    }
                    problem.AddResidualBlock(
                        new TimingErrors(timing, timing.phases(sections.first(first)),
                                         TurnedSections(sections, first, turned)),
                        nullptr, values, &timed.delay_s);
                    if (!timing.is_delay_free()) {
                        problem.SetParameterBlockConstant(&timed.delay_s);
                    }
                });
}

} // namespace syntonon
