// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/correction_aim.h"

#include "tests/core/fit/corrected_rooms.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::size_t place_near(const CorrectionAim& aim, double hz) {
    const auto near = [hz](double a, double b) { return std::abs(a - hz) < std::abs(b - hz); };
    return static_cast<std::size_t>(std::ranges::min_element(aim.hz, near) - aim.hz.begin());
}

TEST(CorrectionAim, IsTargetLessWhatIsSeenBehindTheStagesAbove) {
    Brief brief = brief_seeing({[](double) { return -3; }});
    CorrectionSpec spec;
    spec.dip_db = 0;
    const CorrectionAim alone = *correction_aim(spec, brief);
    EXPECT_EQ(alone.hz.front(), 40);
    EXPECT_NEAR(alone.hz.back(), 16'000, 1e-9);
    for (const double db : alone.gain_db) {
        EXPECT_NEAR(db, 3, 1e-9);
    }
    brief.above = section(ParametricShape::peak, 1000, 4, 0.7);
    const CorrectionAim behind = *correction_aim(spec, brief);
    EXPECT_NEAR(behind.gain_db[place_near(behind, 1000)], -1, 0.05)
        << "averaged over a sixth of an octave";
    EXPECT_NEAR(behind.gain_db[place_near(behind, 50)], 3, 0.05);
}

TEST(CorrectionAim, KeepsWithinTheLimits) {
    CorrectionSpec spec;
    spec.boost_limit_db = 2.5;
    spec.cut_limit_db = 4;
    const CorrectionAim boost = *correction_aim(spec, brief_seeing({[](double) { return -9; }}));
    EXPECT_EQ(*std::ranges::max_element(boost.gain_db), 2.5);
    const CorrectionAim cut = *correction_aim(spec, brief_seeing({[](double) { return 9; }}));
    EXPECT_EQ(*std::ranges::min_element(cut.gain_db), -4);
}

// A level that differs by 8 dB between two positions about 1 kHz has a standard deviation of 4 dB
// there: half of a boost, all of a cut.
TEST(CorrectionAim, BoostsLessWherePositionsDiffer) {
    const auto at = [](double below, double above) {
        return [=](double hz) { return hz < 300 ? below : hz > 700 && hz < 1500 ? above : below; };
    };
    CorrectionSpec spec;
    spec.spread_db = 4;
    spec.dip_db = 0;
    spec.smoothing_oct = 0;
    const CorrectionAim aim = *correction_aim(spec, brief_seeing({at(-4, -8.0), at(-4, 0.0)}));
    const double off =
        aim.positions_db[1][place_near(aim, 1000)] - aim.positions_db[0][place_near(aim, 1000)];
    EXPECT_LT(off, 8) << "each about its own mean";
    EXPECT_GT(off, 6);
    const double half = off / 2, expected = 1 / (1 + half * half / 16);
    EXPECT_NEAR(aim.correctable[place_near(aim, 1000)], expected, 1e-6);
    EXPECT_NEAR(aim.gain_db[place_near(aim, 1000)], 4 * expected, 1e-6);
    spec.spread_db = 0;
    const CorrectionAim not_minded = *correction_aim(spec, brief_seeing({at(-4, -8.0), at(-4, 0)}));
    EXPECT_NEAR(not_minded.gain_db[place_near(not_minded, 1000)], 4, 1e-6);
}

TEST(CorrectionAim, FillsWideHollowsButNotNarrowDips) {
    const auto deep = [](double q) {
        return *correction_aim(
            CorrectionSpec{.boost_limit_db = 20},
            brief_seeing({level_of(section(ParametricShape::peak, 800, -10, q))}));
    };
    const CorrectionAim wide = deep(0.4), narrow = deep(6);
    EXPECT_GT(wide.correctable[place_near(wide, 800)], 0.9);
    EXPECT_GT(wide.gain_db[place_near(wide, 800)], 8.5);
    EXPECT_LT(narrow.correctable[place_near(narrow, 800)], 0.6);
}

TEST(CorrectionAim, SaysWhatIsMissingAndTheWayOut) {
    const Brief good = brief_seeing({[](double) { return 0; }});
    const auto refusal = [](CorrectionSpec spec, const Brief& brief) {
        const auto aim = correction_aim(spec, brief);
        return aim ? std::string("none") : to_text(aim.error());
    };
    Brief none = good;
    none.seen = {};
    EXPECT_EQ(refusal({}, none),
              "from_hz: there is nothing to correct: the channel has no measured "
              "set; give it one");
    Brief aimless = good;
    aimless.wished = nullptr;
    EXPECT_EQ(refusal({}, aimless), "from_hz: the channel's goal states no target; state one, or "
                                    "give the channel a goal");
    EXPECT_EQ(refusal({.from_hz = 10}, good), "from_hz: 10 Hz was not measured: the set begins at "
                                              "20 Hz; begin at 20 Hz or above");
    EXPECT_EQ(refusal({.to_hz = 21'000}, good), "to_hz: 21 kHz was not measured: the set ends at "
                                                "20 kHz; end at 20 kHz or below");
    EXPECT_EQ(refusal({.from_hz = 900, .to_hz = 300}, good),
              "to_hz: 300 Hz is not above from_hz, 900 Hz; raise it or lower from_hz");
    EXPECT_EQ(refusal({.boost_limit_db = 0, .cut_limit_db = 0}, good),
              "boost_limit_db: neither boost nor cut is allowed: nothing is left; raise it or "
              "cut_limit_db");
    Brief elsewhere = good;
    elsewhere.wished =
        std::make_shared<const Wished>(Wished{WishedPart{{20, 30}, {0, 0}, {}, {}, {}}});
    EXPECT_EQ(refusal({}, elsewhere), "from_hz: the goal asks nothing between 40 Hz and 16 kHz; "
                                      "choose a range where it has a target");
    const Brief silent = brief_seeing({[](double) { return 70; }, [](double) { return -80; }});
    EXPECT_EQ(refusal({}, silent), "measured[1]: is silent: 150 dB below the loudest position of "
                                   "the set; measure it anew, or take it out of the set");
    Brief analog = good;
    analog.domain = Domain::analog;
    EXPECT_TRUE(refusal({}, analog).find("continuous time") != std::string::npos);
}

TEST(CorrectionAim, ACorridorAloneIsAimedAtInItsMiddle) {
    Brief brief = brief_seeing({[](double) { return 1; }});
    brief.wished =
        std::make_shared<const Wished>(Wished{WishedPart{{20, 20'000}, {}, {-4, -4}, {0, 0}, {}}});
    EXPECT_NEAR(correction_aim({}, brief)->gain_db.front(), -3, 1e-9);
}

} // namespace
} // namespace syntonon
