// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/flush_denormals.h"

#include "core/engine/cascade_engine.h"
#include "tests/support/noise.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

double tiny_half() {
    volatile double tiny = 1e-307;
    return tiny / 128;
}

#if defined(__x86_64__)
TEST(FlushDenormals, HoldAsLongAsItLives) {
    EXPECT_GT(tiny_half(), 0);
    {
        const FlushDenormals flush;
        EXPECT_EQ(tiny_half(), 0);
        { const FlushDenormals again; }
        EXPECT_EQ(tiny_half(), 0) << "the outer one still lives";
    }
    EXPECT_GT(tiny_half(), 0);
}

// A resonance dies away to nothing, or to what is not slow.
TEST(FlushDenormals, WhatDiesAwayEnds) {
    const FlushDenormals flush;
    for (const auto& structure : names_of_section_structures()) {
        auto engine = *cascade_engine({{{1, 0, 0, -1.2, 0.5}}}, structure.value);
        auto sound = noise(100, 1);
        engine->process(sound);
        std::vector<double> silence(5000, 0.0);
        engine->process(silence);
        EXPECT_LT(std::abs(silence.back()), 1e-300) << structure.title;
        for (const double sample : silence) {
            ASSERT_TRUE(sample == 0 || std::isnormal(sample)) << structure.title;
        }
    }
}
#endif

} // namespace
} // namespace syntonon
