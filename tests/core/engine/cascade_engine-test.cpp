// Sections at work: all structures against the recursion written out, whatever the blocks.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/cascade_engine.h"

#include "core/base/units.h"
#include "tests/support/in_blocks.h"
#include "tests/support/noise.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>
#include <string>

namespace syntonon {
namespace {

// In long double, by the definition; and the loudest sample on the way, which rounding is told
// against.
struct ByHand {
    std::vector<double> output;
    double loudest = 0;
};
ByHand run_by_hand(const Cascade& cascade, const std::vector<double>& input) {
    std::vector<long double> signal(input.begin(), input.end());
    long double loudest = 0;
    for (const Biquad& s : cascade.sections) {
        long double x1 = 0, x2 = 0, y1 = 0, y2 = 0;
        for (long double& sample : signal) {
            const long double x = sample;
            sample = s.b0 * x + s.b1 * x1 + s.b2 * x2 - s.a1 * y1 - s.a2 * y2;
            x2 = x1;
            x1 = x;
            y2 = y1;
            y1 = sample;
            loudest = std::max(loudest, std::abs(sample));
        }
    }
    return {{signal.begin(), signal.end()}, static_cast<double>(loudest)};
}

// Poles and zeros anywhere inside the circle, real ones, double ones and ones at 0 among them.
Cascade random_sections(std::size_t count, double most_radius, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> part(0, 1);
    const auto quadratic = [&](double most) {
        const double kind = part(random), r = most * std::sqrt(part(random));
        if (kind < 0.6) {
            const double angle = pi * part(random);
            return std::pair(-2 * r * std::cos(angle), r * r);
        }
        const double p = 2 * r - most, q = kind < 0.7 ? p : kind < 0.8 ? 0 : most * part(random);
        return std::pair(-(p + q), p * q);
    };
    Cascade cascade;
    for (std::size_t i = 0; i < count; ++i) {
        const auto [a1, a2] = quadratic(most_radius);
        const auto [b1, b2] = quadratic(1.2);
        const double gain = 0.5 + part(random);
        cascade.sections.push_back({gain, gain * b1, gain * b2, a1, a2});
    }
    return cascade;
}

double largest(const std::vector<double>& signal) {
    double most = 0;
    for (const double sample : signal) {
        most = std::max(most, std::abs(sample));
    }
    return most;
}

std::vector<double> difference(std::vector<double> a, const std::vector<double>& b) {
    std::ranges::transform(a, b, a.begin(), std::minus<>());
    return a;
}

class EveryStructure : public testing::TestWithParam<SectionStructure> {};

TEST_P(EveryStructure, IsTheSameFilter) {
    const auto x = noise(700, 1);
    for (unsigned seed = 0; seed < 200; ++seed) {
        const Cascade cascade = random_sections(1 + seed % 19, 0.95, seed);
        auto engine = cascade_engine(cascade, GetParam());
        ASSERT_TRUE(engine) << to_text(engine.error());
        const auto expected = run_by_hand(cascade, x);
        EXPECT_LE(largest(difference(in_blocks(**engine, x, 150, seed), expected.output)),
                  3e-11 * expected.loudest) // raised by the sections that follow
            << seed;
    }
}

TEST_P(EveryStructure, BlocksChangeNoBitAndResetIsRest) {
    const auto x = noise(900, 2);
    auto engine = *cascade_engine(random_sections(11, 0.9, 3), GetParam());
    const auto whole = in_blocks(*engine, x, 900, 1);
    for (const std::size_t most : {1, 2, 7, 8, 64}) {
        engine->reset();
        EXPECT_EQ(in_blocks(*engine, x, most, 4), whole) << most;
    }
}

TEST_P(EveryStructure, OfNoSectionsLetsThrough) {
    auto engine = *cascade_engine({}, GetParam());
    const auto x = noise(60, 5);
    EXPECT_EQ(in_blocks(*engine, x, 16, 1), x);
}

INSTANTIATE_TEST_SUITE_P(Structures, EveryStructure,
                         testing::Values(SectionStructure::direct_1, SectionStructure::transposed_2,
                                         SectionStructure::coupled,
                                         SectionStructure::normalised_lattice,
                                         SectionStructure::state_variable),
                         [](const auto& structure) {
                             return std::string(
                                 named(names_of_section_structures(), structure.param).key);
                         });

TEST(CascadeEngine, StructuresThatHoldStableSectionsOnlySaySo) {
    Cascade cascade = random_sections(3, 0.9, 1);
    cascade.sections[1] = {1, 0, 0, -2.2, 1.21};
    for (const SectionStructure structure :
         {SectionStructure::normalised_lattice, SectionStructure::state_variable}) {
        const auto refused = cascade_engine(cascade, structure);
        ASSERT_FALSE(refused);
        EXPECT_EQ(refused.error().place, "sections[1]");
    }
    for (const SectionStructure structure :
         {SectionStructure::direct_1, SectionStructure::transposed_2, SectionStructure::coupled}) {
        EXPECT_TRUE(cascade_engine(cascade, structure));
    }
}

// A low, narrow resonance: what the states hold keeps its digits.
TEST(CascadeEngine, LowAndNarrowResonancesAreRight) {
    const double radius = 1 - 1e-5, w = 2 * pi * 20 / 48000;
    const Cascade cascade{{{1e-5, 0, -1e-5, -2 * radius * std::cos(w), radius * radius}}};
    std::vector<double> impulse(20000, 0.0);
    impulse[0] = 1;
    const auto expected = run_by_hand(cascade, impulse);
    for (const auto& structure : names_of_section_structures()) {
        auto engine = *cascade_engine(cascade, structure.value);
        EXPECT_LE(largest(difference(in_blocks(*engine, impulse, 256, 1), expected.output)),
                  1e-9 * expected.loudest)
            << structure.title;
    }
}

} // namespace
} // namespace syntonon
