// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/least_squares.h"

#include <algorithm>
#include <ceres/ceres.h>
#include <cmath>

namespace syntonon {
namespace {

class Errors : public ceres::CostFunction {
public:
    Errors(const LeastSquares& task, std::size_t number_count)
        : task_(task), number_count_(number_count) {
        set_num_residuals(static_cast<int>(task.error_count));
        mutable_parameter_block_sizes()->push_back(static_cast<int>(number_count));
    }

    bool Evaluate(double const* const* numbers, double* errors, double** slopes) const override {
        const bool with_slopes = slopes != nullptr && slopes[0] != nullptr;
        const std::size_t slope_count = with_slopes ? task_.error_count * number_count_ : 0;
        task_.errors({numbers[0], number_count_}, {errors, task_.error_count},
                     {with_slopes ? slopes[0] : nullptr, slope_count});
        return true;
    }

private:
    const LeastSquares& task_;
    std::size_t number_count_;
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

} // namespace

void solve(const LeastSquares& task, std::span<double> numbers, const Effort& effort,
           const Watch& watch) {
    if (numbers.empty()) {
        return;
    }
    std::vector<double> turned(numbers.begin(), numbers.end());
    ceres::Problem problem;
    problem.AddResidualBlock(new Errors(task, turned.size()), nullptr, turned.data());
    std::vector<int> held;
    for (std::size_t k = 0; k < task.bounds.size(); ++k) {
        const auto [least, greatest] = task.bounds[k];
        if (least == greatest) { // held, where bounds would leave the solver no way
            held.push_back(static_cast<int>(k));
            continue;
        }
        if (least > -infinity) {
            problem.SetParameterLowerBound(turned.data(), static_cast<int>(k), least);
        }
        if (greatest < infinity) {
            problem.SetParameterUpperBound(turned.data(), static_cast<int>(k), greatest);
        }
    }
    if (!held.empty()) {
        const int count = static_cast<int>(turned.size());
        problem.SetManifold(turned.data(), new ceres::SubsetManifold(count, held));
    }
    Stopper stopper(watch);
    ceres::Solver::Summary summary;
    ceres::Solve(options_for(effort, stopper), &problem, &summary);
    if (summary.IsSolutionUsable()) {
        std::ranges::copy(turned, numbers.begin());
    }
}

void raise_errors(double power, double unit, std::span<double> errors, std::span<double> slopes) {
    if (power == 2 || !(unit > 0)) {
        return;
    }
    const std::size_t numbers = slopes.size() / errors.size();
    for (std::size_t row = 0; row < errors.size(); ++row) {
        const double part = std::abs(errors[row]) / unit;
        const double by = power / 2 * std::pow(part, power / 2 - 1);
        errors[row] = std::copysign(unit * std::pow(part, power / 2), errors[row]);
        for (std::size_t k = 0; k < numbers; ++k) {
            slopes[row * numbers + k] *= by;
        }
    }
}

} // namespace syntonon
