// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/pole_grid.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// The two numbers of a structure that place its poles, by their places.
std::array<std::size_t, 2> placing_numbers(Structure structure) {
    const auto& poles = network_of(structure, false).pole_numbers;
    return structure == Structure::normalised_lattice ? std::array{poles[0], poles[2]}
                                                      : std::array{poles[0], poles[1]};
}

struct Range {
    double low = std::numeric_limits<double>::infinity();
    double high = -std::numeric_limits<double>::infinity();

    void take(double value) {
        low = std::min(low, value);
        high = std::max(high, value);
    }
};

std::optional<StructuredSection> section_with(const Complex& pole, Structure structure) {
    return structured({1, 0, 0, -2 * pole.real(), std::norm(pole)}, structure);
}

// What the placing numbers reach over the box: they are continuous and of one place each, so that
// its border has their extremes.
std::optional<std::array<Range, 2>> reach(Structure structure, const PlaneBox& box) {
    constexpr int steps = 64;
    constexpr double inside = 1e-9; // structures that hold stable sections only, and pairs
    const auto numbers = placing_numbers(structure);
    std::array<Range, 2> ranges;
    for (int i = 0; i <= steps; ++i) {
        const double part = static_cast<double>(i) / steps;
        const double re = std::lerp(box.left, box.right, part);
        const double im = std::lerp(box.bottom, box.top, part);
        for (Complex z : {Complex(re, box.bottom), Complex(re, box.top), Complex(box.left, im),
                          Complex(box.right, im)}) {
            z = {z.real(), std::max(z.imag(), inside)};
            if (std::abs(z) >= 1 - inside) {
                z *= (1 - inside) / std::abs(z);
            }
            const auto section = section_with(z, structure);
            for (std::size_t k = 0; section && !section->real_poles && k < 2; ++k) {
                ranges[k].take(section->values[numbers[k]]);
            }
        }
    }
    return ranges[0].low <= ranges[0].high ? std::optional(ranges) : std::nullopt;
}

// The words from a little below the range to a little above; nothing where there are too many.
std::optional<std::vector<double>> words_in(const Range& range, const Arithmetic& how,
                                            std::size_t most) {
    std::vector<double> words;
    const Word word = coefficient_values(how);
    if (word.is_fixed()) {
        const double step = step_of(word);
        const double first = std::floor(range.low / step) - 1,
                     last = std::ceil(range.high / step) + 1;
        if (last - first > static_cast<double>(most)) {
            return std::nullopt;
        }
        for (double k = first; k <= last; ++k) {
            words.push_back(k * step);
        }
        return words;
    }
    if (word.kind == WordKind::float64) {
        return std::nullopt;
    }
    const auto end =
        std::nextafter(static_cast<float>(range.high), std::numeric_limits<float>::infinity());
    for (auto value =
             std::nextafter(static_cast<float>(range.low), -std::numeric_limits<float>::infinity());
         value <= end; value = std::nextafter(value, std::numeric_limits<float>::infinity())) {
        if (words.size() >= most) {
            return std::nullopt;
        }
        words.push_back(value);
    }
    return words;
}

// Of direct forms what a2 reaches where a1 is given: |z|^2 = a2 and re z = -a1 / 2.
Range second_range(Structure structure, double first, const PlaneBox& box, const Range& of_all) {
    if (network_of(structure, false).coefficients.size() != 5) {
        return of_all;
    }
    const double square = first * first / 4;
    return {square + box.bottom * box.bottom, square + box.top * box.top};
}

// The number that follows from the two and makes poles with them; rounded by itself, it may be any
// word that fits them somewhere between their neighbours. Nothing where there is none.
std::optional<Range> following(Structure structure, double first, double second, double half) {
    Range range;
    for (const double u : {first - half, first, first + half}) {
        if (structure == Structure::normalised_lattice) {
            range.take(std::sqrt(std::max(0.0, (1 - u) * (1 + u))));
        } else if (structure == Structure::state_variable) {
            for (const double v : {second - half, second, second + half}) {
                range.take(1 / (1 + u * v));
            }
        } else {
            return std::nullopt;
        }
    }
    return range;
}

bool is_possible(Structure structure, double first, double second) {
    switch (structure) {
    case Structure::coupled_form:
        return second > 0; // the same poles as those of the other sign
    case Structure::normalised_lattice:
        return std::abs(first) <= 1 && std::abs(second) <= 1; // rounded to the end
    case Structure::state_variable:
        return first > 0 && second > 0;
    default:
        return true;
    }
}

Biquad section_of(Structure structure, double first, double second, double third) {
    switch (structure) {
    case Structure::coupled_form:
        return biquad_of({false, {0, 0, 0, 0, first, second}}, structure);
    case Structure::normalised_lattice:
        return biquad_of({false, {first, third, second, 0, 0, 0, 0}}, structure);
    case Structure::state_variable:
        return biquad_of({false, {first, second, third, 0, 0, 0}}, structure);
    default:
        return {1, 0, 0, first, second};
    }
}

// Pairs of poles as they come, until so many were looked at.
class PoleCollector {
public:
    PoleCollector(const WordFormat& format, const PlaneBox& box, std::size_t most)
        : format_(format), box_(box), most_(most) {}

    // False once there are too many.
    bool add(double first, double second) {
        const Word word = coefficient_values(format_.sections);
        const auto third = following(format_.structure, first, second, step_of(word) / 2);
        if (!third) {
            return try_section(first, second, 0);
        }
        // Their ends rounded, not those beyond.
        const double step = step_of(word);
        for (double k = std::round(third->low / step); k <= std::round(third->high / step); ++k) {
            if (!try_section(first, second, k * step)) {
                return false;
            }
        }
        return true;
    }
    std::vector<Complex> poles;

private:
    bool try_section(double first, double second, double third) {
        const Biquad section = section_of(format_.structure, first, second, third);
        const double middle = -section.a1 / 2, square = section.a2 - middle * middle;
        if (square > 0 && section.a2 < 1) {
            const Complex pole(middle, std::sqrt(square));
            if (box_.holds(pole)) {
                poles.push_back(pole);
            }
        }
        return ++tried_ <= most_;
    }

    const WordFormat& format_;
    const PlaneBox& box_;
    std::size_t most_, tried_ = 0;
};

} // namespace

std::optional<std::vector<Complex>> possible_poles(const WordFormat& format, const PlaneBox& box,
                                                   std::size_t most) {
    const auto ranges = reach(format.structure, box);
    if (!ranges) {
        return std::vector<Complex>();
    }
    const auto first = words_in((*ranges)[0], format.sections, most);
    if (!first) {
        return std::nullopt;
    }
    const auto numbers = placing_numbers(format.structure);
    const Network& network = network_of(format.structure, false);
    PoleCollector found(format, box, most);
    for (const double u : *first) {
        const auto second =
            words_in(second_range(format.structure, u, box, (*ranges)[1]), format.sections, most);
        if (!second) {
            return std::nullopt;
        }
        for (const double v : *second) {
            if (holds(format, network, numbers[0], u) && holds(format, network, numbers[1], v)
                && is_possible(format.structure, u, v) && !found.add(u, v)) {
                return std::nullopt;
            }
        }
    }
    return std::move(found.poles);
}

} // namespace syntonon
