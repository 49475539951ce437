// How far work has come that is made of parts.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/watch.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(Watch, PartsOfPartsReportToTheWhole) {
    const Watch all;
    const Watch second = all.part_of(1, 4);
    second.report(0);
    EXPECT_DOUBLE_EQ(all.done(), 0.25);
    second.part(0.5, 1).report(0.5);
    EXPECT_DOUBLE_EQ(all.done(), 0.25 + 0.75 * 0.25);
    second.report(1);
    EXPECT_DOUBLE_EQ(all.done(), 0.5);
}

TEST(Watch, NeverGoesBack) {
    const Watch all;
    all.report(0.7);
    all.report(0.2);
    all.part(0, 0.5).report(1);
    EXPECT_DOUBLE_EQ(all.done(), 0.7);
}

TEST(Watch, WhoStopsOneStopsAllOfIt) {
    const Watch all;
    const Watch part = all.part(0.2, 0.4);
    EXPECT_FALSE(part.is_stopped());
    all.stop();
    EXPECT_TRUE(part.is_stopped());
}

} // namespace
} // namespace syntonon
