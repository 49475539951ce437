// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/root_drag.h"

#include "core/study/kinds.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <concepts>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

template <class Spec>
concept MovesRoots = requires(const Spec& spec) {
    fields_moving_roots(spec, true);
};
template <class Spec>
concept OwnsRoots = requires(const Spec& spec, const Filter& filter, const RootsSpec& roots) {
    own_roots(spec, filter);
    { with_own_roots(spec, filter, roots) } -> std::same_as<Spec>; // not those of any kind
};

template <class Spec>
concept CanBeFreed = requires(const Spec& spec, const Brief& brief) {
    { freed(spec, brief) } -> std::same_as<std::optional<Spec>>;
};

// How much another root's way counts beside what is left to the place: little.
constexpr double weight_of_others = 0.02;

const std::vector<Complex>& list_of(const Roots& roots, bool poles) {
    return poles ? roots.poles : roots.zeros;
}

const Complex& nearest(const std::vector<Complex>& roots, const Complex& to) {
    return *std::ranges::min_element(roots, {}, [&](const Complex& z) { return std::abs(z - to); });
}

// Numbers that are swept by ratio count by their logarithm.
template <class Spec>
class Unknowns {
public:
    explicit Unknowns(const Spec& spec, bool poles) {
        const auto keys = fields_moving_roots(spec, poles);
        for (const NumberField<Spec>& field : fields_of(spec)) {
            const auto value = field.get(spec);
            const bool moves = std::ranges::find(keys, field.key) != keys.end();
            if (value && moves && (*value > 0 || field.steps != FieldSteps::by_ratio)) {
                fields_.push_back(&field);
            }
        }
    }
    Eigen::Index size() const { return static_cast<Eigen::Index>(fields_.size()); }

    Spec moved(const Spec& spec, const Eigen::VectorXd& step) const {
        Spec result = spec;
        for (Eigen::Index i = 0; i < size(); ++i) {
            const NumberField<Spec>& field = *fields_[static_cast<std::size_t>(i)];
            const double value = *field.get(spec);
            const double next = field.steps == FieldSteps::by_ratio ? value * std::exp(step[i])
                                                                    : value + 10 * step[i];
            field.set(result, std::clamp(next, field.least, field.most));
        }
        return result;
    }

private:
    std::vector<const NumberField<Spec>*> fields_;
};

// What is to become small: the way left to the place, and the ways of the other roots.
class Distance {
public:
    Distance(const Roots& before, const RootPlace& place, const Complex& to, double unit)
        : before_(before), place_(place), to_(to), unit_(unit), minds_others_(false),
          from_(list_of(before, place.is_pole)[place.index]) {}

    // Where there are more unknowns than the place determines.
    void mind_others() { minds_others_ = true; }
    // Nothing where a root is missing.
    std::optional<Eigen::VectorXd> operator()(const Roots& roots) const {
        const auto& same = list_of(roots, place_.is_pole);
        if (same.empty()) {
            return std::nullopt;
        }
        std::vector<double> rest;
        // Between the old place and the new one the root is the nearest to either.
        const Complex a = nearest(same, to_), b = nearest(same, from_);
        const Complex root = std::abs(a - to_) < std::abs(b - to_) ? a : b;
        rest.push_back((root - to_).real() / unit_);
        rest.push_back((root - to_).imag() / unit_);
        for (const bool poles : {false, true}) {
            if (!minds_others_) {
                break;
            }
            for (const Complex& other : list_of(before_, poles)) {
                if (poles != place_.is_pole && other.imag() >= 0
                    && !list_of(roots, poles).empty()) {
                    const Complex way = nearest(list_of(roots, poles), other) - other;
                    rest.push_back(weight_of_others * way.real() / unit_);
                    rest.push_back(weight_of_others * way.imag() / unit_);
                }
            }
        }
        return Eigen::Map<Eigen::VectorXd>(rest.data(), static_cast<Eigen::Index>(rest.size()));
    }

private:
    const Roots& before_;
    RootPlace place_;
    Complex to_;
    double unit_;
    bool minds_others_;
    Complex from_;
};

template <class Spec>
class Solver {
public:
    Solver(const Spec& spec, const Brief& brief, bool poles, const Distance& distance)
        : spec_(spec), brief_(brief), unknowns_(spec, poles), distance_(distance) {
        if (unknowns_.size() > 2) {
            distance_.mind_others();
        }
    }

    Spec solved() {
        constexpr int most_steps = 12;
        auto rest = rest_of(spec_);
        double damping = 1e-6;
        for (int i = 0; rest && i < most_steps && unknowns_.size() > 0; ++i) {
            const auto slopes = slopes_of(*rest);
            if (!slopes) {
                break;
            }
            const Eigen::MatrixXd square = slopes->transpose() * *slopes;
            Eigen::MatrixXd damped = square;
            damped.diagonal().array() += damping * (square.diagonal().maxCoeff() + 1e-300);
            Eigen::VectorXd step = damped.ldlt().solve(-slopes->transpose() * *rest);
            constexpr double farthest = 1; // an e-fold, or 10 dB
            if (!step.allFinite() || step.norm() < 1e-10) {
                break;
            }
            step *= std::min(1.0, farthest / step.norm());
            const Spec tried = unknowns_.moved(spec_, step);
            const auto left = rest_of(tried);
            if (left && left->norm() < rest->norm()) {
                spec_ = tried;
                rest = left;
                damping = std::max(damping / 10, 1e-9);
            } else {
                damping *= 10;
            }
        }
        return spec_;
    }

private:
    std::optional<Eigen::VectorXd> rest_of(const Spec& spec) const {
        const auto made = design(spec, brief_, Watch());
        return made && made->filter.roots() ? distance_(*made->filter.roots()) : std::nullopt;
    }

    std::optional<Eigen::MatrixXd> slopes_of(const Eigen::VectorXd& rest) const {
        constexpr double small = 1e-6;
        Eigen::MatrixXd slopes(rest.size(), unknowns_.size());
        for (Eigen::Index i = 0; i < unknowns_.size(); ++i) {
            const Eigen::VectorXd step = small * Eigen::VectorXd::Unit(unknowns_.size(), i);
            auto moved = rest_of(unknowns_.moved(spec_, step));
            if (!moved || moved->size() != rest.size()) {
                return std::nullopt;
            }
            slopes.col(i) = (*moved - rest) / small;
        }
        return slopes;
    }

    Spec spec_;
    const Brief& brief_;
    Unknowns<Spec> unknowns_;
    Distance distance_;
};

tl::unexpected<Problem> cannot_move() {
    return refuse("", "does not move by its roots", "open it into roots");
}

template <class Spec>
Expected<StageSpec> solved_by_fields(const Spec& spec, const Filter& filter, const Brief& brief,
                                     const RootPlace& place, const Complex& to) {
    if constexpr (MovesRoots<Spec>) {
        const Roots& before = *filter.roots();
        const double unit = before.domain == Domain::analog
                                ? std::abs(list_of(before, place.is_pole)[place.index]) + 1e-300
                                : 1;
        if (fields_moving_roots(spec, place.is_pole).empty()) {
            return cannot_move();
        }
        return StageSpec(
            Solver<Spec>(spec, brief, place.is_pole, {before, place, to, unit}).solved());
    }
    return cannot_move();
}

} // namespace

std::optional<RootsSpec> own_roots(const StageSpec& spec, const Filter& filter) {
    return std::visit(
        [&]<class Spec>(const Spec& s) -> std::optional<RootsSpec> {
            if constexpr (OwnsRoots<Spec>) {
                return own_roots(s, filter);
            }
            return std::nullopt;
        },
        *spec);
}

StageSpec with_own_roots(const StageSpec& spec, const Filter& filter, const RootsSpec& roots) {
    return std::visit(
        [&]<class Spec>(const Spec& s) -> StageSpec {
            if constexpr (OwnsRoots<Spec>) {
                return with_own_roots(s, filter, roots);
            }
            return roots;
        },
        *spec);
}

Expected<StageSpec> with_root_moved(const StageSpec& spec, const Filter& filter, const Brief& brief,
                                    const RootPlace& place, Complex to, double snap) {
    if (!filter.roots() || place.index >= list_of(*filter.roots(), place.is_pole).size()) {
        return refuse("", "has no such root", "take another one");
    }
    if (const auto own = own_roots(spec, filter)) {
        return with_own_roots(spec, filter, moved(*own, place, to, snap));
    }
    const bool leaves =
        place.is_pole && (brief.domain == Domain::analog ? to.real() >= 0 : std::abs(to) >= 1);
    return std::visit(
        [&]<class Spec>(const Spec& s) -> Expected<StageSpec> {
            if constexpr (CanBeFreed<Spec>) {
                const auto free = leaves ? freed(s, brief) : std::nullopt;
                if (const auto own = free ? own_roots(*free, filter) : std::nullopt) {
                    return StageSpec(with_own_roots(*free, filter, moved(*own, place, to, snap)));
                }
            }
            return solved_by_fields(s, filter, brief, place, to);
        },
        *spec);
}

} // namespace syntonon
