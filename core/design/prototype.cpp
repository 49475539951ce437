// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/prototype.h"

#include "core/base/units.h"
#include "core/design/ripple_factor.h"
#include "core/math/elliptic.h"

#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

Expected<void> check_decibels(const char* field, double db) {
    if (!(db > 0) || !std::isfinite(db)) {
        return refuse(field, fmt::format("{} dB is not above 0", db), "give some decibels");
    }
    // The ripple factor's square must still be a number, and so must its inverse.
    constexpr double most_db = 1000;
    if (db > most_db) {
        return refuse(field, fmt::format("{} dB is more than numbers can hold", db),
                      fmt::format("give at most {} dB", most_db));
    }
    return {};
}

// (2 i - 1) / n for the pairs of an order n; an odd one has a real pole besides.
double pair_place(int i, int order) {
    return (2.0 * i - 1) / order;
}

void add_pair(const Complex& upper, std::vector<Complex>& roots) {
    const Complex above(upper.real(), std::abs(upper.imag()));
    roots.push_back(above);
    roots.push_back(std::conj(above));
}

// Poles -a sin(theta) +- j b cos(theta): on a circle for Butterworth, on an ellipse for Chebyshev.
std::vector<Complex> poles_on_ellipse(int order, double a, double b) {
    std::vector<Complex> poles;
    for (int i = 1; i <= order / 2; ++i) {
        const double theta = pair_place(i, order) * pi / 2;
        add_pair({-a * std::sin(theta), b * std::cos(theta)}, poles);
    }
    if (order % 2 == 1) {
        poles.emplace_back(-a, 0);
    }
    return poles;
}

// Where a ripple that begins at the top ends: an even order starts at its bottom.
double start_of_ripple(int order, double ripple_db) {
    return order % 2 == 1 ? 1 : ratio_from_db(-ripple_db);
}

} // namespace

Expected<void> check_prototype_order(int order) {
    if (order < 1 || order > most_prototype_order) {
        return refuse("order", fmt::format("{} is out of range", order),
                      fmt::format("choose 1 to {}", most_prototype_order));
    }
    return {};
}

Prototype with_level_at_0(Prototype prototype, double level) {
    Complex gain = level;
    for (const Complex& pole : prototype.poles) {
        gain *= -pole;
    }
    for (const Complex& zero : prototype.zeros) {
        gain /= -zero;
    }
    prototype.gain = gain.real();
    return prototype;
}

Expected<Prototype> butterworth_prototype(int order) {
    if (auto ok = check_prototype_order(order); !ok) {
        return tl::unexpected(ok.error());
    }
    return with_level_at_0({{}, poles_on_ellipse(order, 1, 1), 1}, 1);
}

// (1 + 1/p^2)^n = 2
Expected<Prototype> synchronous_prototype(int order) {
    if (auto ok = check_prototype_order(order); !ok) {
        return tl::unexpected(ok.error());
    }
    const double pole = 1 / std::sqrt(std::expm1(std::log(2.0) / order));
    const auto count = static_cast<std::size_t>(order);
    return with_level_at_0({{}, std::vector<Complex>(count, -pole), 1}, 1);
}

Expected<Prototype> linkwitz_riley_prototype(int order) {
    if (auto ok = check_prototype_order(order); !ok) {
        return tl::unexpected(ok.error());
    }
    if (order % 2 == 1) {
        return refuse("order", fmt::format("{} is odd; the filter is a Butterworth twice", order),
                      "choose an even order");
    }
    Prototype twice;
    const auto half = poles_on_ellipse(order / 2, 1, 1);
    twice.poles = half;
    twice.poles.insert(twice.poles.end(), half.begin(), half.end());
    return with_level_at_0(std::move(twice), 1);
}

Expected<Prototype> chebyshev_prototype(int order, double pass_ripple_db) {
    for (auto ok :
         {check_prototype_order(order), check_decibels("pass_ripple_db", pass_ripple_db)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    const double a = std::asinh(1 / ripple_factor_of(pass_ripple_db)) / order;
    return with_level_at_0({{}, poles_on_ellipse(order, std::sinh(a), std::cosh(a)), 1},
                           start_of_ripple(order, pass_ripple_db));
}

// The Chebyshev filter upside down: its poles' inverses, and zeros where its polynomial vanishes.
Expected<Prototype> inverse_chebyshev_prototype(int order, double stop_attenuation_db) {
    for (auto ok : {check_prototype_order(order),
                    check_decibels("stop_attenuation_db", stop_attenuation_db)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    Prototype found;
    const double a = std::asinh(ripple_factor_of(stop_attenuation_db)) / order;
    for (const Complex& pole : poles_on_ellipse(order, std::sinh(a), std::cosh(a))) {
        if (pole.imag() > 0) {
            add_pair(1.0 / pole, found.poles);
        } else if (pole.imag() == 0) {
            found.poles.push_back(1.0 / pole);
        }
    }
    for (int i = 1; i <= order / 2; ++i) {
        add_pair({0, 1 / std::cos(pair_place(i, order) * pi / 2)}, found.zeros);
    }
    return with_level_at_0(std::move(found), 1);
}

Expected<Prototype> elliptic_prototype(int order, double pass_ripple_db,
                                       double stop_attenuation_db) {
    for (auto ok : {check_prototype_order(order), check_decibels("pass_ripple_db", pass_ripple_db),
                    check_decibels("stop_attenuation_db", stop_attenuation_db)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    const double pass = ripple_factor_of(pass_ripple_db),
                 stop = ripple_factor_of(stop_attenuation_db);
    const double k1 = pass / stop;
    if (!(k1 < 1)) {
        return refuse(
            "stop_attenuation_db",
            fmt::format("{} dB is no more than the ripple of the passband", stop_attenuation_db),
            "ask for more attenuation, or less ripple");
    }
    const EllipticModulus discrimination{k1, std::sqrt((1 - k1) * (1 + k1))};
    const EllipticModulus selectivity = selectivity_of(order, discrimination);
    const EllipticFunctions of_k(selectivity);
    const double v0 = EllipticFunctions(discrimination).inverse_sn_imaginary(1 / pass) / order;
    Prototype found;
    for (int i = 1; i <= order / 2; ++i) {
        const double u = pair_place(i, order);
        add_pair({0, 1 / (selectivity.k * of_k.cd(u).real())}, found.zeros);
        add_pair(Complex(0, 1) * of_k.cd({u, -v0}), found.poles);
    }
    if (order % 2 == 1) {
        found.poles.emplace_back((Complex(0, 1) * of_k.sn({0, v0})).real(), 0);
    }
    return with_level_at_0(std::move(found), start_of_ripple(order, pass_ripple_db));
}

} // namespace syntonon
