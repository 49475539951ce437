// SPDX-License-Identifier: GPL-3.0-or-later
// The one place that knows the solver.
#include "core/fit/joint_sections.h"

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

class SectionErrors : public ceres::CostFunction {
public:
    // Sections before `first` stay as they are.
    SectionErrors(const JointSections& task, std::span<const SectionNumbers> sections,
                  std::size_t first, std::vector<Turned> turned)
        : task_(task), fixed_db_(task.gains(sections.first(first))),
          sections_(sections.begin() + static_cast<std::ptrdiff_t>(first), sections.end()),
          first_(first), turned_(std::move(turned)) {
        set_num_residuals(static_cast<int>(task.error_count()));
        mutable_parameter_block_sizes()->push_back(static_cast<int>(turned_.size()));
    }

    static void put(std::span<const Turned> turned, const double* values,
                    std::span<SectionNumbers> into, std::size_t first) {
        for (std::size_t k = 0; k < turned.size(); ++k) {
            into[turned[k].section - first].*members[turned[k].number] =
                turned[k].handle.value(values[k]);
        }
    }

    bool Evaluate(double const* const* values, double* errors, double** slopes) const override {
        std::vector<SectionNumbers> sections = sections_;
        put(turned_, values[0], sections, first_);
        std::vector<double> gain = fixed_db_;
        if (slopes == nullptr || slopes[0] == nullptr) {
            for (const SectionNumbers& section : sections) {
                add_levels(section, task_.grid(), gain);
            }
            task_.errors(gain, {errors, task_.error_count()});
            return true;
        }
        const std::vector<double> by = gain_slopes(sections, values[0], gain);
        task_.errors(gain, {errors, task_.error_count()});
        task_.error_slopes(gain, by, slopes[0]);
        return true;
    }

private:
    // The gain is added up on the way.
    std::vector<double> gain_slopes(std::span<const SectionNumbers> sections, const double* values,
                                    std::vector<double>& gain) const {
        const std::size_t places = task_.place_count();
        std::vector<double> all(3 * places), by(turned_.size() * places);
        std::size_t k = 0;
        for (std::size_t s = 0; s < sections.size(); ++s) {
            const std::span<double> three(all);
            add_levels(sections[s], task_.grid(), gain,
                       {three.first(places), three.subspan(places, places), three.last(places)});
            for (; k < turned_.size() && turned_[k].section - first_ == s; ++k) {
                const std::size_t number = turned_[k].number;
                const double by_value = turned_[k].handle.slope(values[k]);
                for (std::size_t i = 0; i < places; ++i) {
                    by[k * places + i] = by_value * all[number * places + i];
                }
            }
        }
        return by;
    }

    const JointSections& task_;
    std::vector<double> fixed_db_;
    std::vector<SectionNumbers> sections_;
    std::size_t first_;
    std::vector<Turned> turned_; // by section
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
        for (const auto& [number, is_free] :
             {std::pair(std::size_t{0}, free.frequency), {1, free.gain}, {2, free.q}}) {
            if (is_free) {
                turned.push_back(
                    {s, number,
                     Handle(task.bounds_of(sections[s], number), units[number], bounding)});
            }
        }
    }
    return turned;
}

} // namespace

void JointSections::refine(std::span<SectionNumbers> sections, const Effort& effort,
                           const Watch& watch, const FreeNumbers& free, std::size_t first) const {
    const auto turned = turned_numbers(*this, sections, first, free, effort.bounding);
    if (turned.empty()) {
        return;
    }
    std::vector<double> values;
    for (const Turned& t : turned) {
        keep_within(sections[t.section]);
        values.push_back(t.handle.turned(sections[t.section].*members[t.number]));
    }
    ceres::Problem problem;
    problem.AddResidualBlock(new SectionErrors(*this, sections, first, turned), nullptr,
                             values.data()); // which takes it over
    for (std::size_t k = 0; k < turned.size(); ++k) {
        turned[k].handle.bound(problem, values.data(), k);
    }
    Stopper stopper(watch);
    ceres::Solver::Summary summary;
    ceres::Solve(options_for(effort, stopper), &problem, &summary);
    if (summary.IsSolutionUsable()) {
        SectionErrors::put(turned, values.data(), sections, 0);
    }
    for (const Turned& t : turned) {
        keep_within(sections[t.section]); // where the limit of Q depends on the frequency
    }
}

} // namespace syntonon
