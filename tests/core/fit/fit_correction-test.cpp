// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_correction.h"

#include "core/fit/find_sections.h"
#include "core/fit/fitted_to.h"
#include "core/math/seeded.h"
#include "tests/core/fit/corrected_rooms.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const std::vector<FoundSection>& sections_of(const CorrectionSpec& spec) {
    return std::get<SectionsCorrection>(spec.method).found;
}

SectionsCorrection& method_of(CorrectionSpec& spec) {
    return std::get<SectionsCorrection>(spec.method);
}

CorrectionSpec few_sections(int count) {
    CorrectionSpec spec;
    spec.boost_limit_db = 12;
    spec.spread_db = spec.dip_db = 0;
    method_of(spec).count = count;
    return spec;
}

LevelError error_after(const CorrectionSpec& found, const Brief& brief) {
    const CorrectionAim aim = *correction_aim(found, brief);
    return error_of(aim, aim.seen_db, found_gain_db(found, aim, rate));
}

// A room with bells all over its range.
Brief bumpy_room() {
    return brief_seeing({level_of(series(std::vector{
        section(ParametricShape::peak, 63, 8, 3), section(ParametricShape::peak, 110, -5, 2),
        section(ParametricShape::peak, 340, 4, 1), section(ParametricShape::peak, 1200, -3, 2.5),
        section(ParametricShape::peak, 5200, 5, 1.5), section(ParametricShape::peak, 9000, -4, 2),
        section(ParametricShape::high_pass, 35, 0, 0.8)}))});
}

TEST(FitCorrection, TakesBackTheBellsThatWereMade) {
    const auto found = fit(few_sections(4), brief_seeing({level_of(two_bells())}), Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    const Brief brief = brief_seeing({level_of(two_bells())});
    EXPECT_LT(error_after(*found, brief).worst_db, 0.4);
    EXPECT_LE(sections_of(*found).size(), 4U);
    EXPECT_FALSE(found->fitted_to.empty());
}

TEST(FitCorrection, IsTheSameEachTime) {
    const Brief brief = bumpy_room();
    const auto once = fit(few_sections(6), brief, Watch()),
               twice = fit(few_sections(6), brief, Watch());
    EXPECT_TRUE(*once == *twice);
    const auto again = fit(*once, brief, Watch());
    EXPECT_TRUE(*again == *once) << "unlocked sections are looked for anew";
}

TEST(FitCorrection, MoreSectionsLeaveLess) {
    const Brief brief = bumpy_room();
    double last = error_after(few_sections(1), brief).rms_db; // nothing found: as it is
    for (const int count : {2, 4, 8}) {
        const double now = error_after(*fit(few_sections(count), brief, Watch()), brief).rms_db;
        EXPECT_LT(now, last);
        last = now;
    }
    EXPECT_LT(last, 0.3);
}

// Far fewer sections than there are bells: where the search could come to rest in many places.
TEST(FitCorrection, IsAsGoodAsRandomStarts) {
    Seeded random(3);
    std::vector<Filter> bells;
    for (int i = 0; i < 16; ++i) {
        bells.push_back(section(ParametricShape::peak, 60 * std::exp2(random.between(0, 7)),
                                random.between(-8, 8), random.between(1, 6)));
    }
    const Brief brief = brief_seeing({level_of(series(bells))});
    const CorrectionSpec found = *fit(few_sections(5), brief, Watch());
    const CorrectionAim aim = *correction_aim(found, brief);
    const JointSections task(found, aim, rate);
    std::vector<SectionNumbers> ours;
    for (const FoundSection& one : sections_of(found)) {
        ours.push_back(numbers_of_section(one.section));
    }
    for (int start = 0; start < 12; ++start) {
        std::vector<SectionNumbers> theirs;
        for (int i = 0; i < 5; ++i) {
            theirs.push_back({ParametricShape::peak, random.between(6, 13.5), random.between(-6, 6),
                              random.between(-1, 3)});
        }
        task.refine(theirs, {}, Watch());
        EXPECT_LT(task.cost(ours), 1.2 * task.cost(theirs)); // squared
    }
}

TEST(FitCorrection, StopsWithFewerWithinATolerance) {
    CorrectionSpec spec = few_sections(30);
    method_of(spec).tolerance_db = 1.2;
    const Brief brief = bumpy_room();
    const auto found = fit(spec, brief, Watch());
    EXPECT_LE(error_after(*found, brief).worst_db, 1.2 + 1e-9);
    EXPECT_LT(sections_of(*found).size(), 10U);
}

// The gain beyond the range never exceeds what it is at its edge, and is gone two octaves on.
TEST(FitCorrection, FadesBeyondTheRange) {
    CorrectionSpec spec = few_sections(8);
    spec.from_hz = 200;
    spec.to_hz = 2000;
    // Much is to be done at the very edges: 6 dB too much below 300 Hz, too little above 1500.
    const Brief brief = brief_seeing(
        {level_of(series(std::vector{section(ParametricShape::low_shelf, 300, 6),
                                     section(ParametricShape::high_shelf, 1500, -5)}))});
    const auto found = fit(spec, brief, Watch());
    const Filter filter = design(*found, brief, Watch())->filter;
    const auto gain = [&](double hz) { return filter.response_at(hz, rate).magnitude_db; };
    EXPECT_LT(gain(200), -2) << "else this tells nothing";
    EXPECT_GT(gain(2000), 2);
    for (double octaves = 0.05; octaves < 6; octaves += 0.05) {
        const double share = std::max(0.0, 1 - octaves / 2);
        const double below = gain(200 * std::exp2(-octaves));
        EXPECT_GT(below, share * gain(200) - 0.12) << octaves;
        EXPECT_LT(below, 0.12) << octaves;
        if (2000 * std::exp2(octaves) < rate / 2) {
            const double above = gain(2000 * std::exp2(octaves));
            EXPECT_LT(above, share * gain(2000) + 0.12) << octaves;
            EXPECT_GT(above, -0.12) << octaves;
        }
    }
}

TEST(FitCorrection, NeverExceedsTheLimits) {
    CorrectionSpec spec = few_sections(10);
    spec.boost_limit_db = 3;
    spec.cut_limit_db = 4;
    method_of(spec).section_boost_limit_db = 2.5;
    method_of(spec).greatest_q = 3;
    const auto found = fit(spec, bumpy_room(), Watch());
    const Filter filter = design(*found, brief_at(rate), Watch())->filter;
    for (double hz = 10; hz < 23'000; hz *= 1.01) {
        const double db = filter.response_at(hz, rate).magnitude_db;
        EXPECT_LE(db, 3 + 0.01) << hz;
        EXPECT_GE(db, -4 - 0.01) << hz;
    }
    for (const FoundSection& one : sections_of(*found)) {
        EXPECT_LE(one.section.gain_db, 2.5 + 1e-9);
        EXPECT_LE(one.section.width.value, 3 + 1e-9);
        EXPECT_GE(one.section.frequency_hz, 40 - 1e-6);
        EXPECT_LE(one.section.frequency_hz, 16'000 + 1e-6);
    }
}

TEST(FitCorrection, RoundsOnRequest) {
    CorrectionSpec spec = few_sections(8);
    method_of(spec).gain_step_db = 0.5;
    method_of(spec).frequency_steps_oct = 24;
    const Brief brief = bumpy_room();
    const auto found = fit(spec, brief, Watch());
    ASSERT_FALSE(sections_of(*found).empty());
    for (const FoundSection& one : sections_of(*found)) {
        EXPECT_NEAR(std::remainder(one.section.gain_db, 0.5), 0, 1e-9);
        const double steps = 24 * std::log2(one.section.frequency_hz / 1000);
        EXPECT_NEAR(steps, std::round(steps), 1e-6);
    }
    EXPECT_LT(error_after(*found, brief).rms_db, 0.6);
}

TEST(FitCorrection, LockedSectionsStay) {
    CorrectionSpec spec = few_sections(4);
    const FoundSection locked{parametric(ParametricShape::peak, 64, -6, 2.5), true, {}};
    method_of(spec).found = {locked, {parametric(ParametricShape::peak, 500, 3, 1), false, {}}};
    const auto found = fit(spec, bumpy_room(), Watch());
    const auto& all = sections_of(*found);
    EXPECT_EQ(std::ranges::count(all, locked), 1);
    EXPECT_LE(all.size(), 4U);
    EXPECT_EQ(std::ranges::count_if(all, &FoundSection::locked), 1);
    method_of(spec).count = 1;
    EXPECT_EQ(fit(spec, bumpy_room(), Watch()).error().place, "count");
}

TEST(FitCorrection, FollowsWhatTheStagesAboveLeaveOver) {
    Brief brief = bumpy_room();
    const auto first = fit(few_sections(3), brief, Watch());
    brief.above = design(*first, brief, Watch())->filter;
    const auto second = fit(few_sections(4), brief, Watch());
    EXPECT_LT(error_after(*second, brief).rms_db, 0.6 * error_after(few_sections(1), brief).rms_db);
}

TEST(FitCorrection, BoostIsLimitedByFrequency) {
    const Brief brief =
        brief_seeing({level_of(series(std::vector{section(ParametricShape::peak, 120, -9, 1),
                                                  section(ParametricShape::peak, 3000, -9, 1)}))});
    CorrectionSpec spec = few_sections(6);
    spec.boost_limits = {{200, 2, {}}, {1600, 8, {}}};
    EXPECT_EQ(boost_limit_at(spec, 50), 2);
    EXPECT_NEAR(boost_limit_at(spec, std::sqrt(200 * 1600.0)), 5, 1e-12);
    EXPECT_EQ(boost_limit_at(spec, 9000), 8);
    const auto found = fit(spec, brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    const CorrectionAim aim = *correction_aim(spec, brief);
    const auto gain = found_gain_db(*found, aim, rate);
    double greatest_low = 0, greatest_high = 0;
    for (std::size_t i = 0; i < aim.size(); ++i) {
        EXPECT_LE(gain[i], boost_limit_at(spec, aim.hz[i]) + 1e-9) << aim.hz[i];
        double& greatest = aim.hz[i] < 200 ? greatest_low : greatest_high;
        greatest = std::max(greatest, gain[i]);
    }
    EXPECT_GT(greatest_low, 1.7);
    EXPECT_GT(greatest_high, 7);
    spec.boost_limits = {{200, 2, {}}, {100, 8, {}}};
    EXPECT_EQ(check_settings(spec).error().place, "boost_limits[1].frequency_hz");
    spec.boost_limits = {{200, -2, {}}};
    EXPECT_EQ(check_settings(spec).error().place, "boost_limits[0].boost_db");
}

// Three seats that agree, and one that asks for something else.
TEST(FitCorrection, NoSeatBecomesWorseAndTheWorstGetsBetter) {
    const auto seat = [](double low_db, double high_db) {
        return level_of(series(std::vector{section(ParametricShape::peak, 120, low_db, 2),
                                           section(ParametricShape::peak, 3000, high_db, 1)}));
    };
    const Brief brief = brief_seeing({seat(6, 1), seat(6, 1), seat(6, 1), seat(0, 5)});
    CorrectionSpec spec = few_sections(6);
    const auto errors = [&](const CorrectionSpec& of) {
        const CorrectionAim aim = *correction_aim(spec, brief);
        std::vector<double> all;
        for (const auto& position : aim.positions_db) {
            all.push_back(error_of(aim, position, found_gain_db(of, aim, rate)).rms_db);
        }
        return all;
    };
    const auto average = errors(*fit(spec, brief, Watch()));
    spec.over = CorrectionOver::worst_position;
    const auto before = errors(spec), fair = errors(*fit(spec, brief, Watch()));
    for (std::size_t i = 0; i < before.size(); ++i) {
        EXPECT_LE(fair[i], before[i] + 1e-6) << i;
    }
    EXPECT_LT(std::ranges::max(fair), std::ranges::max(average) - 0.1);
    for (const double step_db : {0.5, 2.0, 6.0}) {
        method_of(spec).gain_step_db = step_db;
        const auto stepped = errors(*fit(spec, brief, Watch()));
        for (std::size_t i = 0; i < before.size(); ++i) {
            EXPECT_LE(stepped[i], before[i] + 1e-6) << i << " in steps of " << step_db;
        }
    }
}

TEST(FitCorrection, SaysHowFarItHasComeAndCanBeStopped) {
    int heard = 0;
    const Watch watch;
    const auto found = fit(few_sections(8), bumpy_room(), watch, [&](const CorrectionSpec& so_far) {
        ++heard;
        EXPECT_FALSE(so_far.fitted_to.empty());
        if (sections_of(so_far).size() == 3) {
            watch.stop();
        }
    });
    ASSERT_TRUE(found);
    EXPECT_GE(heard, 3);
    EXPECT_GT(watch.done(), 0.1);
    EXPECT_LE(sections_of(*found).size(), 3U) << "the best so far";
}

TEST(FittedTo, TellsOtherSettingsAndByHowMuchTheAimHasChanged) {
    const Brief brief = bumpy_room();
    const CorrectionSpec found = *fit(few_sections(4), brief, Watch());
    EXPECT_FALSE(out_of_date(found, *correction_aim(found, brief)));
    CorrectionSpec other = found;
    other.cut_limit_db = 3;
    const auto settings = out_of_date(other, *correction_aim(other, brief));
    ASSERT_TRUE(settings);
    EXPECT_TRUE(settings->by_settings);
    EXPECT_EQ(settings->text(), "out of date: other settings");
    Brief changed = brief;
    changed.above = section(ParametricShape::peak, 1000, 2, 2);
    const auto aim = out_of_date(found, *correction_aim(found, changed));
    ASSERT_TRUE(aim);
    EXPECT_FALSE(aim->by_settings);
    EXPECT_NEAR(aim->most_db, 2, 0.1);
    EXPECT_NEAR(aim->worst_hz, 1000, 60);
    changed.above = section(ParametricShape::peak, 1000, 0.01, 2);
    EXPECT_FALSE(out_of_date(found, *correction_aim(found, changed))) << "rounding";
    EXPECT_FALSE(out_of_date(few_sections(4), *correction_aim(found, changed))) << "never fitted";
}

} // namespace
} // namespace syntonon
