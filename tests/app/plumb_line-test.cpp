// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/held_points.h"
#include "app/model/plumb_line.h"

#include <QSignalSpy>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(PlumbLineTest, ASecondLineNeedsAPinnedFirstOne) {
    PlumbLine line;
    line.set_second(200);
    EXPECT_FALSE(line.second_hz()) << "there is no first one";
    line.set(100);
    line.set_second(200);
    EXPECT_FALSE(line.second_hz()) << "the first one is not pinned";
    line.pin(true);
    line.set_second(200);
    EXPECT_EQ(line.second_hz(), 200);
    line.pin(false);
    EXPECT_FALSE(line.second_hz());
    EXPECT_EQ(line.hz(), 100);
}

TEST(PlumbLineTest, TakenAwayNothingIsLeftOfIt) {
    PlumbLine line;
    line.set(100);
    line.pin(true);
    line.set_second(200);
    const QSignalSpy changes(&line, &PlumbLine::changed);
    line.take_away();
    EXPECT_EQ(changes.count(), 1);
    EXPECT_FALSE(line.hz());
    EXPECT_FALSE(line.second_hz());
    EXPECT_FALSE(line.is_pinned());
}

TEST(PlumbLineTest, SaysSoOnlyWhenItMoves) {
    PlumbLine line;
    const QSignalSpy changes(&line, &PlumbLine::changed);
    line.set(100);
    line.set(100);
    EXPECT_EQ(changes.count(), 1);
}

TEST(HeldPointsTest, AreThoseThatTheTargetHas) {
    HeldPoints held;
    const QSignalSpy changes(&held, &HeldPoints::changed);
    held.hold({0, 3, 5});
    held.hold({0, 3, 5});
    EXPECT_EQ(changes.count(), 1);
    held.keep_below(4);
    EXPECT_EQ(held.points(), (std::set<int>{0, 3}));
    EXPECT_EQ(changes.count(), 1) << "the target's change is said by others";
}

} // namespace
} // namespace syntonon
