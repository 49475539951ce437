// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/headroom.h"

#include "core/word/section_in_words.h"
#include "tests/support/noise.h"
#include "tests/support/word_chains.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

WordChain held_chain(Structure structure, const std::vector<Biquad>& sections,
                     const Arithmetic& how) {
    WordChain chain{structure, how, how, {}, {}, 0};
    for (const Biquad& section : sections) {
        chain.sections.push_back(rounded_to_words(section, structure, how));
    }
    return chain;
}

const NodeLevel& node(const std::vector<NodeLevel>& levels, std::size_t section,
                      std::string_view sum) {
    return *std::ranges::find_if(levels, [&](const NodeLevel& level) {
        return level.section == section && level.sum == sum;
    });
}

TEST(Headroom, OfOnePoleIsItsClosedForm) {
    // y = x / 2 + 3/4 y': L1 and greatest gain 0.5 / (1 - 0.75) = 2, energy 0.25 / (1 - 0.5625).
    const WordChain chain =
        held_chain(Structure::direct_form_1, {{0.5, 0, 0, -0.75, 0}}, fixed_words(15, 15, 15, 4));
    const auto levels = node_levels(chain);
    ASSERT_TRUE(levels);
    const NodeLevel& y = node(*levels, 0, "y");
    EXPECT_NEAR(y.most, 2, 1e-5);
    EXPECT_NEAR(y.tone, 2, 1e-9);
    EXPECT_NEAR(y.noise, std::sqrt(0.25 / 0.4375), 1e-3);
    EXPECT_NEAR(y.room_for_tone_db(), 20 * std::log10(8 / 2.0), 1e-3); // Q4.15 holds almost 8
    EXPECT_NEAR(node(*levels, 0, "out").room_for_any_db(), -20 * std::log10(2), 1e-3);
    EXPECT_EQ(tightest(*levels)->sum, "out");
}

TEST(Headroom, NormsStandInTheirOrder) {
    for (const auto& named_structure : structures()) {
        const auto levels = node_levels(
            held_chain(named_structure.value, many_sections(), fixed_words(20, 19, 20)));
        ASSERT_TRUE(levels);
        for (const NodeLevel& level : *levels) {
            EXPECT_LE(level.noise, level.tone * 1.001) << level.sum;
            EXPECT_LE(level.tone, level.most * 1.001) << level.sum;
        }
    }
}

// What the norm says of any input holds for one, and the worst input, the impulse response's signs
// turned round in time, reaches it.
TEST(Headroom, TheWorstInputReachesTheBound) {
    const Structure structure = Structure::direct_form_2;
    const Arithmetic how = fixed_words(20, 19, 20, 16);
    const WordChain chain = held_chain(structure, {many_sections()[0]}, how);
    const auto levels = node_levels(chain);
    ASSERT_TRUE(levels);
    const double bound = node(*levels, 0, "out").most;
    std::vector<double> impulse(4000);
    impulse[0] = 1;
    filter_of(chain).run(impulse);
    std::vector<double> worst(impulse.size());
    for (std::size_t n = 0; n < worst.size(); ++n) {
        worst[n] = std::copysign(1.0, impulse[impulse.size() - 1 - n]);
    }
    filter_of(chain).run(worst);
    EXPECT_NEAR(worst.back(), bound, 1e-4 * bound);
}

// With as much level as there is room for a tone nothing overflows; with 3 dB more something does.
TEST(Headroom, IsWhatARunOverflowsAt) {
    for (const Structure structure : {Structure::direct_form_1, Structure::direct_form_2,
                                      Structure::transposed_form_2, Structure::coupled_form}) {
        const Arithmetic how = fixed_words(20, 19, 20, 6);
        const WordChain chain = held_chain(structure, {many_sections()[0]}, how);
        const auto levels = node_levels(chain);
        ASSERT_TRUE(levels);
        const NodeLevel& tight = *tightest(*levels);
        for (const double more_db : {-0.5, 3.0}) {
            const double peak =
                std::min(1.0, std::pow(10, (tight.room_for_tone_db() + more_db) / 20));
            // The tone at which that place is loudest, of a few.
            std::int64_t overflows = 0;
            for (const double hz : {20.0, 200.0, 900.0, 1000.0, 1100.0, 10000.0}) {
                SectionInWords run(structure, chain.sections[0], how);
                for (int n = 0; n < 20000; ++n) {
                    run.step(rounded(peak * std::sin(2 * M_PI * hz / rate * n), how.data,
                                     Rounding::nearest));
                }
                overflows += run.overflows();
            }
            EXPECT_EQ(overflows > 0, more_db > 0) << static_cast<int>(structure);
        }
    }
}

TEST(Headroom, OfFloatsIsEndless) {
    const auto levels =
        node_levels(held_chain(Structure::direct_form_1, {many_sections()[0]}, short_floats()));
    ASSERT_TRUE(levels);
    EXPECT_EQ(tightest(*levels)->room_for_any_db(), std::numeric_limits<double>::infinity());
}

TEST(Headroom, OfAnFirIsThatOfItsTaps) {
    WordChain chain{Structure::direct_form_1, fixed_words(15, 15, 15),
                    fixed_words(15, 15, 15),  {},
                    {0.5, -0.25, 0.125},      0};
    const auto levels = node_levels(chain);
    ASSERT_TRUE(levels);
    ASSERT_EQ(levels->size(), 1U);
    EXPECT_NEAR((*levels)[0].most, 0.875, 1e-12);
    EXPECT_NEAR((*levels)[0].tone, 0.875, 1e-6); // at half the rate
    EXPECT_NEAR((*levels)[0].noise, std::sqrt(0.328125), 1e-9);
}

TEST(Headroom, RefusesWhatIsNotStable) {
    EXPECT_FALSE(node_levels(
        held_chain(Structure::direct_form_1, {{1, 0, 0, -2, 1}}, fixed_words(15, 15, 15))));
}

} // namespace
} // namespace syntonon
