// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/pole_grid.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

WordFormat format_of(Structure structure, const Word& word, int shift = 0) {
    WordFormat format;
    format.structure = structure;
    format.sections = {word, shift, Word::fixed(1, 31), Word::fixed(1, 31), Word::fixed(8, 56)};
    return format;
}

std::vector<Complex> poles_of(const WordFormat& format, const PlaneBox& box = {}) {
    const auto poles = possible_poles(format, box, 1'000'000);
    EXPECT_TRUE(poles);
    return poles.value_or(std::vector<Complex>());
}

// A textbook's: pairs of a1 and a2 counted by brute force.
TEST(PoleGrid, OfDirectFormsIsWhatAllPairsOfWordsMake) {
    const Word word = Word::fixed(2, 4);
    std::set<std::pair<int, int>> wanted;
    for (int a1 = -32; a1 < 32; ++a1) {
        for (int a2 = -32; a2 < 32; ++a2) {
            if (a2 < 16 && a2 * 16 * 4 > a1 * a1) {
                wanted.insert({a1, a2});
            }
        }
    }
    for (const Structure structure : {Structure::direct_form_1, Structure::transposed_form_2}) {
        std::set<std::pair<int, int>> got;
        for (const Complex& pole : poles_of(format_of(structure, word))) {
            got.insert({static_cast<int>(std::lround(-32 * pole.real())),
                        static_cast<int>(std::lround(16 * std::norm(pole)))});
        }
        for (const auto& [a1, a2] : wanted) {
            EXPECT_TRUE(got.contains({a1, a2})) << a1 << " " << a2;
        }
        EXPECT_EQ(got.size(), wanted.size());
    }
}

TEST(PoleGrid, OfTheCoupledFormIsEven) {
    const auto poles = poles_of(format_of(Structure::coupled_form, Word::fixed(1, 3)));
    for (const Complex& pole : poles) {
        EXPECT_EQ(pole.real() * 8, std::round(pole.real() * 8));
        EXPECT_EQ(pole.imag() * 8, std::round(pole.imag() * 8));
    }
    // Points of the upper half within the circle: 7 rows.
    int inside = 0;
    for (int re = -8; re <= 8; ++re) {
        for (int im = 1; im < 8; ++im) {
            inside += re * re + im * im < 64 ? 1 : 0;
        }
    }
    EXPECT_EQ(poles.size(), static_cast<std::size_t>(inside));
}

// Near z = 1, where low filters have theirs.
TEST(PoleGrid, IsThinNearOneInDirectForms) {
    const PlaneBox low{0.9, 1, 0, 0.1};
    const auto count = [&](Structure structure) {
        return poles_of(format_of(structure, Word::fixed(2, 8)), low).size();
    };
    EXPECT_LT(4 * count(Structure::direct_form_1), count(Structure::coupled_form));
    EXPECT_GT(count(Structure::normalised_lattice), count(Structure::direct_form_1))
        << "two numbers of a rotation are rounded one by one";
    EXPECT_GT(count(Structure::state_variable), count(Structure::coupled_form))
        << "tan(w / 2) is finest there";
}

// The nearest words of any section have their poles on the grid.
TEST(PoleGrid, HoldsThePolesOfNearestWords) {
    for (const auto& [structure, key, name] : structures()) {
        const Word word = Word::fixed(12, 12);
        const WordFormat format = format_of(structure, word);
        for (const Complex wished : {Complex(0.9, 0.2), Complex(-0.3, 0.8), Complex(0.97, 0.05)}) {
            const Biquad section{1, 0, 0, -2 * wished.real(), std::norm(wished)};
            const auto words = nearest_section(section, 1, format);
            ASSERT_TRUE(words) << key << ": " << to_text(words.error());
            const Biquad made = biquad_of(*words, structure);
            const Complex pole(-made.a1 / 2, std::sqrt(made.a2 - made.a1 * made.a1 / 4));
            const PlaneBox around{wished.real() - 0.01, wished.real() + 0.01, wished.imag() - 0.01,
                                  wished.imag() + 0.01};
            const auto grid = possible_poles(format, around, 1'000'000);
            ASSERT_TRUE(grid) << key;
            EXPECT_TRUE(std::ranges::any_of(
                *grid, [&](const Complex& z) { return std::abs(z - pole) < 1e-12; }))
                << key << " " << wished;
        }
    }
}

TEST(PoleGrid, KeepsToTheProcessorsLimitsAndToWhatCanBeDrawn) {
    WordFormat format = format_of(Structure::direct_form_1, Word::fixed(2, 6));
    format.a_below = 1;
    for (const Complex& pole : poles_of(format)) {
        EXPECT_LT(std::abs(2 * pole.real()), 1);
    }
    EXPECT_FALSE(possible_poles(format_of(Structure::direct_form_1, Word::fixed(5, 23)), {}, 10000))
        << "too many";
    EXPECT_TRUE(possible_poles(format_of(Structure::direct_form_1, Word::fixed(5, 23)),
                               {0.99, 0.99 + 1e-6, 0.1, 0.1 + 1e-6}, 10000));
    EXPECT_TRUE(possible_poles(format_of(Structure::direct_form_1, Word::float32()),
                               {0.5, 0.5 + 1e-6, 0.5, 0.5 + 1e-6}, 10000));
    EXPECT_FALSE(possible_poles(format_of(Structure::direct_form_1, Word::float64()), {}, 10000));
    EXPECT_TRUE(poles_of(format, {1.5, 2, 1.5, 2}).empty()) << "beyond the circle";
}

} // namespace
} // namespace syntonon
