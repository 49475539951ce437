// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/all_pass_pair.h"

#include "core/base/units.h"
#include "core/design/roots.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <optional>
#include <utility>
#include <vector>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// What goes to one branch together: a pair, or what a real pole of the prototype became.
using PoleUnit = std::vector<Complex>;

// Where it was before the bilinear transform, but for a factor.
Complex in_s(const Complex& z) {
    return (z - 1.0) / (z + 1.0);
}

// Those of a low- or high-pass by their damping.
std::vector<PoleUnit> by_damping(const Roots& roots) {
    std::vector<PoleUnit> units;
    for (const Complex& pole : roots.poles) {
        if (pole.imag() == 0) {
            units.push_back({pole});
        } else if (pole.imag() > 0) {
            units.push_back({pole, std::conj(pole)});
        }
    }
    std::ranges::sort(units, {}, [](const PoleUnit& unit) { return std::arg(in_s(unit[0])); });
    return units;
}

// Those of a band: what a pole p of its prototype became by p = s + m^2 / s (or one over that) goes
// together, by the damping of p. Of two such places the product is m^2.
std::vector<PoleUnit> by_damping_of_prototype(const Roots& roots) {
    std::vector<Complex> left;
    double log_middle = 0;
    for (const Complex& pole : roots.poles) {
        log_middle += std::log(std::abs(in_s(pole))) / static_cast<double>(roots.poles.size());
        if (pole.imag() >= 0) {
            left.push_back(pole);
        }
    }
    const double square = std::exp(2 * log_middle);
    std::vector<std::pair<double, PoleUnit>> units;
    while (!left.empty()) {
        const Complex s = in_s(left.back()), mirrored = square / std::conj(s);
        PoleUnit unit{left.back()};
        left.pop_back();
        const auto mate = std::ranges::min_element(
            left, {}, [&](const Complex& pole) { return std::abs(in_s(pole) - mirrored); });
        // One that stands in the middle is its own.
        if (mate != left.end() && std::abs(in_s(*mate) - mirrored) < std::abs(s - mirrored)) {
            unit.push_back(*mate);
            left.erase(mate);
        }
        for (std::size_t i = unit.size(); i-- > 0;) {
            if (unit[i].imag() > 0) {
                unit.push_back(std::conj(unit[i]));
            }
        }
        units.emplace_back(std::abs(std::arg(s + square / s)), std::move(unit));
    }
    std::ranges::sort(units, {}, &std::pair<double, PoleUnit>::first);
    std::vector<PoleUnit> sorted;
    for (auto& [angle, unit] : units) {
        sorted.push_back(std::move(unit));
    }
    return sorted;
}

std::array<Roots, 2> dealt_in_turn(const std::vector<PoleUnit>& units) {
    std::array<PoleUnit, 2> poles;
    for (std::size_t i = 0; i < units.size(); ++i) {
        auto& to = poles[i % 2];
        to.insert(to.end(), units[i].begin(), units[i].end());
    }
    return {all_pass_of(std::move(poles[0])), all_pass_of(std::move(poles[1]))};
}

// The two factors with which the branches come to H; nothing where there are none.
std::optional<std::array<double, 2>> factors_of(const std::array<Roots, 2>& branches,
                                                const Roots& roots) {
    constexpr double close = 1e-9;
    const std::size_t points = 4 * (roots.poles.size() + roots.zeros.size()) + 16;
    std::vector<double> angles;
    for (std::size_t i = 1; i < points; ++i) {
        const double share = static_cast<double>(i) / static_cast<double>(points);
        angles.push_back(share * pi);
        angles.push_back(std::pow(1e-6, 1 - share) * pi); // a low filter passes nothing elsewhere
    }
    std::vector<std::array<Complex, 3>> values;
    std::array<Complex, 3> loudest{};
    for (const double angle : angles) {
        const Complex z = std::polar(1.0, angle);
        values.push_back(
            {value_of(branches[0], z).h, value_of(branches[1], z).h, value_of(roots, z).h});
        loudest = std::abs(values.back()[2]) > std::abs(loudest[2]) ? values.back() : loudest;
    }
    const double size = std::abs(loudest[2]);
    for (const double sign : {1.0, -1.0}) {
        const double half = (loudest[2] / (loudest[0] + sign * loudest[1])).real();
        const bool fits = std::ranges::all_of(values, [&](const auto& v) {
            return std::abs(half * (v[0] + sign * v[1]) - v[2]) <= close * size;
        });
        if (fits && std::abs(std::abs(half) - 0.5) < close) {
            return std::array{std::copysign(0.5, half), std::copysign(0.5, half * sign)};
        }
    }
    return std::nullopt;
}

} // namespace

Roots all_pass_of(std::vector<Complex> poles) {
    Roots roots;
    Complex gain = 1;
    for (const Complex& pole : poles) {
        roots.zeros.push_back(1.0 / pole);
        gain *= -pole;
    }
    roots.gain = gain.real();
    roots.poles = std::move(poles);
    return roots;
}

Expected<AllPassPair> all_pass_pair(const Filter& filter) {
    if (filter.is_analog()) {
        return refuse("", "is analog: all-passes are paired in the z-plane",
                      "map its channel first");
    }
    if (!filter.roots()) {
        return tl::unexpected(filter.roots().error());
    }
    const Roots& roots = *filter.roots();
    const bool has_some = !roots.poles.empty() && roots.poles.size() <= most_roots;
    for (const auto order : {by_damping, by_damping_of_prototype}) {
        const auto branches = dealt_in_turn(has_some ? order(roots) : std::vector<PoleUnit>());
        if (const auto factors = has_some ? factors_of(branches, roots) : std::nullopt) {
            return AllPassPair{branches, *factors};
        }
    }
    return refuse("", "is not half the sum of two all-passes",
                  "open a bilinear Butterworth, Chebyshev or elliptic low- or high-pass of odd "
                  "order, or a band made of one");
}

} // namespace syntonon
