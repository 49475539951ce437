// Whole filters at work: what run() answers, in blocks, and without a byte of memory asked for.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/filter_engine.h"

#include "core/engine/cascade_engine.h"
#include "core/engine/partitioned_fir.h"
#include "tests/support/forbidden_memory.h"
#include "tests/support/in_blocks.h"
#include "tests/support/network_maker.h"
#include "tests/support/noise.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

std::vector<double> without_memory(Engine& engine, std::vector<double> signal, unsigned seed) {
    test::memory_is_forbidden = true;
    auto output = in_blocks(engine, std::move(signal), 300, seed);
    test::memory_is_forbidden = false;
    return output;
}

double loudest(const std::vector<double>& signal) {
    return std::abs(
        *std::ranges::max_element(signal, {}, [](double sample) { return std::abs(sample); }));
}

class RandomFilters : public testing::TestWithParam<unsigned> {};

TEST_P(RandomFilters, DoWhatTheirFilterSays) {
    const Filter filter = NetworkMaker(GetParam()).network(1 + static_cast<int>(GetParam() % 4));
    auto expected = noise(3000, GetParam());
    const auto engine = engine_of(filter);
    ASSERT_TRUE(engine);
    const auto found = without_memory(**engine, expected, GetParam());
    filter.run(expected);
    double most = 1;
    for (std::size_t n = 0; n < expected.size() && most < 1e6; ++n) { // some grow without end
        most = std::max(most, std::abs(expected[n]));
        ASSERT_NEAR(found[n], expected[n], 1e-9 * most) << n;
    }
    if (most < 1e6) {
        (*engine)->reset();
        EXPECT_EQ(without_memory(**engine, noise(3000, GetParam()), GetParam() + 1), found)
            << "after a reset, in other blocks";
    }
}

INSTANTIATE_TEST_SUITE_P(Seeds, RandomFilters, testing::Range(0U, 60U));

TEST(FilterEngine, LongFirsRunInPartsAndShortOnesDirectly) {
    for (const std::size_t taps :
         {std::size_t(1), most_direct_taps, most_direct_taps + 1, std::size_t(20'000)}) {
        const Filter filter(Taps(noise(taps, 1)));
        auto expected = noise(3000, 2);
        const auto engine = *engine_of(filter);
        EXPECT_EQ(dynamic_cast<PartitionedFir*>(engine.get()) != nullptr, taps > most_direct_taps);
        const auto found = without_memory(*engine, expected, 3);
        filter.run(expected);
        const double near = 1e-11 * loudest(expected);
        for (std::size_t n = 0; n < expected.size(); ++n) {
            ASSERT_NEAR(found[n], expected[n], near) << taps << " " << n;
        }
    }
}

TEST(FilterEngine, EveryStructureOfSectionsAsksForNoMemory) {
    for (const auto& structure : names_of_section_structures()) {
        auto engine =
            *cascade_engine({{{1, -0.5, 0.2, -1.2, 0.5}, {0.4, 0, 0, 0.3, 0}}}, structure.value);
        EXPECT_TRUE(std::isfinite(loudest(without_memory(*engine, noise(2000, 1), 1))));
        test::memory_is_forbidden = true;
        engine->reset();
        test::memory_is_forbidden = false;
    }
}

TEST(FilterEngine, AnalogFiltersAreRefused) {
    EXPECT_FALSE(engine_of(Filter(AnalogCascade{{{0, 0, 1, 0, 1, 1}}})));
}

} // namespace
} // namespace syntonon
