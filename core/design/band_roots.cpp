// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/band_roots.h"

#include <cmath>
#include <cstddef>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using RootList = std::vector<Complex>;

// The two s with s^2 - 2 half s + product = 0; what is on an axis stays there.
std::pair<Complex, Complex> both_roots(const Complex& half, double product) {
    if (half.real() == 0) { // s = j x: x^2 - 2 y x - product = 0
        const double y = half.imag();
        const double far = y + std::copysign(std::hypot(y, std::sqrt(product)), y);
        return {{0, far}, {0, -product / far}};
    }
    Complex root = std::sqrt(half * half - product);
    if (std::real(std::conj(half) * root) < 0) {
        root = -root;
    }
    const Complex far = half + root;
    return {far, product / far};
}

void add_pair(const Complex& root, RootList& to) {
    to.emplace_back(root.real(), std::abs(root.imag()));
    to.push_back(std::conj(to.back()));
}

// Each root's two, conjugate pairs of the prototype giving two pairs.
template <class Half>
RootList doubled(const RootList& roots, double product, Half half_of) {
    RootList found;
    for (const Complex& root : roots) {
        if (root.imag() < 0) {
            continue;
        }
        const auto [a, b] = both_roots(half_of(root), product);
        if (root.imag() > 0) {
            add_pair(a, found);
            add_pair(b, found);
        } else if (a.imag() != 0) { // the two are conjugates
            add_pair(a, found);
        } else {
            found.push_back(a);
            found.push_back(b);
        }
    }
    return found;
}

template <class Map>
RootList mapped(const RootList& roots, Map map) {
    RootList found;
    for (const Complex& root : roots) {
        const Complex to = map(root);
        found.push_back(root.imag() == 0
                            ? Complex(to.real(), 0)
                            : Complex(to.real(), std::copysign(to.imag(), root.imag())));
    }
    return found;
}

} // namespace

BandRoots band_roots(const Prototype& prototype, ClassicalBand band,
                     const std::array<double, 2>& edges, double level_at_0) {
    const int lacking =
        static_cast<int>(prototype.poles.size()) - static_cast<int>(prototype.zeros.size());
    const double low = edges[0], width = edges[1] - edges[0], product = edges[0] * edges[1];
    BandRoots found;
    found.passband_level = level_at_0;
    const auto both = [&](auto change) {
        found.zeros = change(prototype.zeros);
        found.poles = change(prototype.poles);
    };
    switch (band) {
    case ClassicalBand::low_pass:
        both([&](const RootList& r) {
            return mapped(r, [&](const Complex& s) { return s * low; });
        });
        found.zeros_at_infinity = lacking;
        break;
    case ClassicalBand::high_pass:
        both([&](const RootList& r) {
            return mapped(r, [&](const Complex& s) { return low * std::conj(s) / std::norm(s); });
        });
        found.zeros_at_origin = lacking;
        break;
    case ClassicalBand::band_pass:
        both([&](const RootList& r) {
            return doubled(r, product, [&](const Complex& s) { return width / 2 * s; });
        });
        found.zeros_at_origin = found.zeros_at_infinity = lacking;
        found.middle_rad_per_s = std::sqrt(product);
        break;
    case ClassicalBand::band_stop:
        both([&](const RootList& r) {
            return doubled(r, product, [&](const Complex& s) { return width / 2 / s; });
        });
        for (int i = 0; i < lacking; ++i) {
            add_pair({0, std::sqrt(product)}, found.zeros);
        }
        break;
    }
    return found;
}

} // namespace syntonon
