// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/analog_time.h"

#include "core/filter/form.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

#include <Eigen/Core>
#include <unsupported/Eigen/MatrixFunctions>

namespace syntonon {
namespace {

using Matrix = Eigen::MatrixXd;
using Index = Eigen::Index;

// x' = A x + B u, y = C x + D u.
struct StateSpace {
    Matrix a = Matrix(0, 0), b = Matrix(0, 1), c = Matrix(1, 0);
    double d = 1;

    Index states() const { return a.rows(); }
};

StateSpace gain_of(double factor) {
    StateSpace space;
    space.d = factor;
    return space;
}

// States of one size: w sets the scale of the second one.
StateSpace section_of(const AnalogSection& s) {
    StateSpace space;
    space.d = direct_gain(s);
    if (order_of(s) == 0) {
        return space;
    }
    if (order_of(s) == 1) {
        const double pole = s.a0 / s.a1, w = pole != 0 ? std::abs(pole) : 1;
        space.a = Matrix::Constant(1, 1, -pole);
        space.b = Matrix::Constant(1, 1, w);
        space.c = Matrix::Constant(1, 1, (s.b0 / s.a1 - space.d * pole) / w);
        return space;
    }
    const double a1 = s.a1 / s.a2, a0 = s.a0 / s.a2;
    const double size = std::max(std::sqrt(std::abs(a0)), std::abs(a1));
    const double w = size > 0 ? size : 1;
    space.a = Matrix{{0, w}, {-a0 / w, -a1}};
    space.b = Matrix{{0}, {w}};
    space.c = Matrix{{(s.b0 / s.a2 - space.d * a0) / (w * w), (s.b1 / s.a2 - space.d * a1) / w}};
    return space;
}

StateSpace in_series(const StateSpace& first, const StateSpace& second) {
    const Index n = first.states(), m = second.states();
    StateSpace all;
    all.a = Matrix::Zero(n + m, n + m);
    all.a.topLeftCorner(n, n) = first.a;
    all.a.bottomLeftCorner(m, n) = second.b * first.c;
    all.a.bottomRightCorner(m, m) = second.a;
    all.b = Matrix(n + m, 1);
    all.b << first.b, second.b * first.d;
    all.c = Matrix(1, n + m);
    all.c << second.d * first.c, second.c;
    all.d = second.d * first.d;
    return all;
}

StateSpace side_by_side(const StateSpace& first, double factor, const StateSpace& second) {
    const Index n = first.states(), m = second.states();
    StateSpace all;
    all.a = Matrix::Zero(n + m, n + m);
    all.a.topLeftCorner(n, n) = first.a;
    all.a.bottomRightCorner(m, m) = second.a;
    all.b = Matrix(n + m, 1);
    all.b << first.b, second.b;
    all.c = Matrix(1, n + m);
    all.c << first.c, factor * second.c;
    all.d = first.d + factor * second.d;
    return all;
}

// u = x + k r, r what comes back of y: solved for u first.
StateSpace closed(const StateSpace& forward, double k, const StateSpace& back) {
    const Index n = forward.states(), m = back.states();
    const double left = 1 - k * forward.d * back.d;
    Matrix into(1, n + m); // u by the states
    into << k * back.d * forward.c / left, k * back.c / left;
    Matrix out(1, n + m); // y by the states
    out << forward.c, Matrix::Zero(1, m);
    out += forward.d * into;
    StateSpace all;
    all.a = Matrix::Zero(n + m, n + m);
    all.a.topLeftCorner(n, n) = forward.a;
    all.a.bottomRightCorner(m, m) = back.a;
    all.a.topRows(n) += forward.b * into;
    all.a.bottomRows(m) += back.b * out;
    all.b = Matrix(n + m, 1);
    all.b << forward.b / left, back.b * (forward.d / left);
    all.c = out;
    all.d = forward.d / left;
    return all;
}

std::size_t states_of(const Filter& filter);

struct StatesOf {
    std::size_t operator()(const AnalogCascade& cascade) const {
        std::size_t all = 0;
        for (const AnalogSection& section : cascade.sections) {
            all += static_cast<std::size_t>(order_of(section));
        }
        return all;
    }
    std::size_t operator()(const Series& chain) const {
        std::size_t all = 0;
        for (const Filter& part : chain.parts) {
            all += states_of(part);
        }
        return all;
    }
    std::size_t operator()(const ParallelSum& sum) const {
        std::size_t all = 0;
        for (const auto& branch : sum.branches) {
            all += states_of(branch.filter);
        }
        return all;
    }
    std::size_t operator()(const Loop& loop) const {
        return states_of(loop.forward) + states_of(loop.feedback);
    }
    std::size_t operator()(const Repeated& repeated) const {
        return repeated.count * states_of(repeated.filter);
    }
    template <class Leaf>
    std::size_t operator()(const Leaf&) const {
        return 0;
    }
};

std::size_t states_of(const Filter& filter) {
    return std::visit(StatesOf(), static_cast<const AnyForm::variant&>(filter.form()));
}

Expected<StateSpace> space_of(const Filter& filter);

struct SpaceOf {
    Expected<StateSpace> operator()(const AnalogCascade& cascade) const {
        StateSpace all;
        for (const AnalogSection& section : cascade.sections) {
            all = in_series(all, section_of(section));
        }
        return all;
    }
    Expected<StateSpace> operator()(const Gain& gain) const { return gain_of(gain.factor); }
    Expected<StateSpace> operator()(const Series& chain) const { return row(chain.parts); }
    Expected<StateSpace> operator()(const Repeated& repeated) const {
        return row(std::vector<Filter>(repeated.count, repeated.filter));
    }
    Expected<StateSpace> operator()(const ParallelSum& sum) const {
        StateSpace all = gain_of(0);
        for (const auto& branch : sum.branches) {
            auto one = space_of(branch.filter);
            if (!one) {
                return one;
            }
            all = side_by_side(all, branch.factor, *one);
        }
        return all;
    }
    Expected<StateSpace> operator()(const Loop& loop) const {
        const auto forward = space_of(loop.forward), back = space_of(loop.feedback);
        if (!forward || !back) {
            return !forward ? forward : back;
        }
        return closed(*forward, loop.factor, *back);
    }
    Expected<StateSpace> operator()(const Cascade& wire) const {
        if (wire.sections.empty()) {
            return StateSpace();
        }
        return sampled();
    }
    template <class Leaf>
    Expected<StateSpace> operator()(const Leaf&) const {
        return sampled();
    }

    static tl::unexpected<Problem> sampled() {
        return refuse("", "a sampled filter has no answer in continuous time", "design it analog");
    }
    static Expected<StateSpace> row(const std::vector<Filter>& parts) {
        StateSpace all;
        for (const Filter& part : parts) {
            auto one = space_of(part);
            if (!one) {
                return one;
            }
            all = in_series(all, *one);
        }
        return all;
    }
};

Expected<StateSpace> space_of(const Filter& filter) {
    return std::visit(SpaceOf(), static_cast<const AnyForm::variant&>(filter.form()));
}

} // namespace

Expected<AnalogTimeResponse> analog_time_response(const Filter& filter, double step_s,
                                                  std::size_t count) {
    if (states_of(filter) > most_states) {
        return refuse(
            "",
            fmt::format("the chain is of an order of {}, and its answer in time is worked "
                        "out up to {}",
                        states_of(filter), most_states),
            "look at a part of it");
    }
    const auto space = space_of(filter);
    if (!space) {
        return tl::unexpected(space.error());
    }
    const Index n = space->states();
    // With the input as one more state that stays as it is.
    Matrix held = Matrix::Zero(n + 1, n + 1);
    held.topLeftCorner(n, n) = space->a * step_s;
    held.topRightCorner(n, 1) = space->b * step_s;
    const Matrix transition = n > 0 ? Matrix(held.exp()) : Matrix(Matrix::Identity(1, 1));
    const Matrix alone = transition.topLeftCorner(n, n), driven = transition.topRightCorner(n, 1);
    AnalogTimeResponse found;
    found.at_once = space->d;
    Matrix after_impulse = space->b, after_step = Matrix::Zero(n, 1);
    for (std::size_t k = 0; k < count; ++k) {
        found.impulse.push_back(n > 0 ? (space->c * after_impulse)(0, 0) : 0);
        found.step.push_back(space->d + (n > 0 ? (space->c * after_step)(0, 0) : 0));
        after_impulse = alone * after_impulse;
        after_step = alone * after_step + driven;
    }
    return found;
}

} // namespace syntonon
