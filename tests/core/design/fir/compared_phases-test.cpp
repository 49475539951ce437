// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/compared_phases.h"

#include "core/design/fir.h"
#include "core/filter/form.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(ComparedPhases, DelayAndPreRingingGrowFromMinimumToMaximumPhase) {
    const auto made = design(FirSpec(), brief_at(48000), Watch());
    const auto taps = std::get<Taps>(made->filter.form()).values();
    const auto all = compared_phases(taps, std::vector{0.0, 0.25, 0.5, 1.0}, Watch());
    ASSERT_TRUE(all) << to_text(all.error());
    for (std::size_t i = 0; i + 1 < all->size(); ++i) {
        EXPECT_LT((*all)[i].mean_delay, (*all)[i + 1].mean_delay);
    }
    EXPECT_LT((*all)[0].before.energy_db, (*all)[2].before.energy_db);
    EXPECT_LT((*all)[2].before.energy_db, (*all)[3].before.energy_db);
    EXPECT_NEAR((*all)[2].mean_delay, 50, 1e-9) << "linear phase: half of 100";
    EXPECT_EQ((*all)[2].greatest_at, 50);
    // Mirrored in time.
    EXPECT_NEAR((*all)[0].mean_delay + (*all)[3].mean_delay, 100, 1e-6);
    EXPECT_LT((*all)[0].error_db, 1e-3);
}

TEST(ComparedPhases, OfASingleTapThereIsNothingBefore) {
    const PhaseFacts facts = phase_facts(std::vector{0.0, 0.0, 2.0});
    EXPECT_EQ(facts.greatest_at, 2);
    EXPECT_EQ(facts.mean_delay, 2);
    EXPECT_TRUE(std::isinf(facts.before.energy_db));
}

TEST(ComparedPhases, SilenceIsRefused) {
    EXPECT_FALSE(compared_phases(std::vector(5, 0.0), std::vector{0.0}, Watch()));
}

} // namespace
} // namespace syntonon
