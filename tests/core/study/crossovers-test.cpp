// A crossover over several channels: linked, found, aligned, added up.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/crossovers.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/study/crossover_sum.h"
#include "core/study/kinds.h"
#include "core/study/problems.h"
#include "core/study/study_json.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <iterator>

namespace syntonon {
namespace {

Study study_of_channels(const std::vector<std::string>& ids) {
    Study study = empty_study();
    study.channels.clear();
    for (const std::string& id : ids) {
        Channel channel;
        channel.id = id;
        channel.name = "Channel " + id;
        study.channels.emplace_back(channel);
    }
    return study;
}

// In the first channel, its lowest way.
Study study_with_crossover(const std::vector<std::string>& ids, std::vector<double> hz = {1000}) {
    Study study = study_of_channels(ids);
    CrossoverSpec spec;
    spec.frequencies_hz = std::move(hz);
    Stage stage;
    stage.id = "x";
    stage.spec = spec;
    study.channels[0].edit().stages.emplace_back(stage);
    return study;
}

const WayPlace first_way{"a", "x"};

void edit_first(Study& study, const std::function<void(CrossoverSpec&)>& change) {
    edit_stage(study.channels[0].edit().stages, "x",
               [&](Stage& stage) { change(std::get<CrossoverSpec>(stage.spec.edit())); });
}

TEST(Crossovers, WaysAreWrittenIntoChannelsAndLinked) {
    Study study = study_with_crossover({"a", "b", "c"}, {300, 3000});
    put_way(study, first_way, 2, "b");
    put_way(study, first_way, 3, "c");
    const auto ways = ways_around(study, first_way);
    ASSERT_EQ(ways.size(), 3U);
    EXPECT_EQ(ways[0], first_way);
    EXPECT_EQ(ways[2]->channel, "c");
    EXPECT_EQ(crossover_at(study, *ways[2])->way, 3);
    EXPECT_EQ(crossover_at(study, first_way)->link, "crossover-1");
    EXPECT_EQ(fresh_link(study), "crossover-2");
    put_way(study, first_way, 2, "c"); // it has another way of it already
    EXPECT_EQ(study.channels[2]->stages.size(), 1U);
    EXPECT_EQ(crossover_at(study, {"c", study.channels[2]->stages[0]->id})->way, 2);
}

TEST(Crossovers, AWayMovesFromOneChannelToAnother) {
    Study study = study_with_crossover({"a", "b", "c"});
    put_way(study, first_way, 2, "b");
    put_way(study, first_way, 2, "c");
    EXPECT_TRUE(study.channels[1]->stages.empty());
    EXPECT_EQ(ways_around(study, first_way)[1]->channel, "c");
    take_way(study, first_way, 2);
    EXPECT_TRUE(study.channels[2]->stages.empty());
    EXPECT_FALSE(ways_around(study, first_way)[1]);
    take_way(study, first_way, 1);
    EXPECT_EQ(study.channels[0]->stages.size(), 1U) << "the asking one stays";
}

TEST(Crossovers, WhatIsSharedIsChangedInOnePlace) {
    Study study = study_with_crossover({"a", "b"});
    put_way(study, first_way, 2, "b");
    Take take;
    take.id = "t1";
    take.stages = study.channels[1]->stages;
    study.channels[1].edit().takes.emplace_back(take);
    const WayPlace other = *ways_around(study, first_way)[1];
    const Study before = study;
    edit_first(study, [](CrossoverSpec& spec) {
        spec.frequencies_hz = {1500};
        spec.family = CrossoverFamily::butterworth;
        spec.order = 3;
        spec.height_m = 0.2;
    });
    share_crossovers(before, study);
    const CrossoverSpec& follows = *crossover_at(study, other);
    EXPECT_EQ(follows.frequencies_hz, std::vector<double>{1500});
    EXPECT_EQ(follows.order, 3);
    EXPECT_EQ(follows.way, 2) << "its own";
    EXPECT_EQ(follows.height_m, 0) << "its own";
    EXPECT_EQ(study.channels[1]->takes[0]->stages, take.stages) << "frozen";
    EXPECT_TRUE(contradicting_crossovers(study).empty());
}

// Left and right: low, high, low, high.
TEST(Crossovers, OfTwoSidesThatCountsWhichIsNext) {
    Study study = study_with_crossover({"a", "b", "c", "d"});
    put_way(study, first_way, 2, "b");
    const Stage low = *study.channels[0]->stages[0], high = *study.channels[1]->stages[0];
    study.channels[2].edit().stages.emplace_back(low);
    study.channels[3].edit().stages.emplace_back(high);
    EXPECT_EQ(ways_around(study, first_way)[1]->channel, "b");
    EXPECT_EQ(ways_around(study, {"b", high.id})[0]->channel, "a");
    EXPECT_EQ(ways_around(study, {"c", "x"})[1]->channel, "d");
    EXPECT_EQ(ways_around(study, {"d", high.id})[0]->channel, "c");
}

TEST(Crossovers, ContradictingFilesAreSaid) {
    Study study = study_with_crossover({"a", "b"});
    put_way(study, first_way, 2, "b");
    edit_first(study, [](CrossoverSpec& spec) { spec.frequencies_hz = {1100}; });
    const auto problems = problems_of(study);
    ASSERT_EQ(problems.size(), 1U);
    EXPECT_EQ(problems[0].place, "channels[1].stages[0]");
    EXPECT_NE(problems[0].reason.find("Channel a"), std::string::npos);
}

TEST(Crossovers, TheMiddleOfAWayIsWhereItIsAlone) {
    CrossoverSpec spec;
    spec.frequencies_hz = {400, 4000};
    const Axis axis{48'000, Domain::sampled};
    const auto middle = [&](int way, const Curve* measured = nullptr) {
        spec.way = way;
        return middle_of_way(spec, axis, measured);
    };
    EXPECT_EQ(middle(1)->from_hz, 50);
    EXPECT_EQ(middle(1)->to_hz, 200);
    EXPECT_EQ(middle(2)->from_hz, 800);
    EXPECT_EQ(middle(2)->to_hz, 2000);
    EXPECT_EQ(middle(3)->from_hz, 8000);
    EXPECT_EQ(middle(3)->to_hz, 21'600);
    Curve curve;
    curve.frequency_hz = {10'000, 15'000};
    EXPECT_EQ(middle(3, &curve)->from_hz, 10'000);
    EXPECT_EQ(middle(3, &curve)->to_hz, 15'000);
    EXPECT_FALSE(middle(1, &curve));
    EXPECT_FALSE(middle(4)) << "it is not there";
    EXPECT_FALSE(middle(0));
    spec.frequencies_hz = {1000, 1500}; // narrower than its ends' distance
    EXPECT_LT(middle(2)->from_hz, middle(2)->to_hz);
}

// A flat response that is so loud and comes so late.
void measure(Study& study, std::size_t channel, double level_db, double delay_s) {
    Curve curve;
    curve.id = study.channels[channel]->id + "-measured";
    curve.name = curve.id;
    for (double hz = 20; hz < 20'000; hz *= 1.05) {
        curve.frequency_hz.push_back(hz);
        curve.magnitude_db.push_back(level_db);
        curve.phase_deg.push_back(0);
    }
    curve.delay_s = delay_s;
    study.channels[channel].edit().measured = {{curve.id}};
    study.curves.emplace_back(curve);
}

TEST(Crossovers, LevelAndDelayAreAlignedFromWhatWasMeasured) {
    Study study = study_with_crossover({"a", "b"});
    put_way(study, first_way, 2, "b");
    measure(study, 0, 80, 0.010);
    measure(study, 1, 86, 0.009);
    Briefs briefs;
    ASSERT_TRUE(align_ways(study, ways_around(study, first_way), briefs));
    const Filter high = briefs.design(study, *study.channels[1]).filter;
    const auto at = high.response_at(10'000, 48'000);
    EXPECT_NEAR(at.magnitude_db, -6, 0.01) << "as loud as the quieter one";
    std::vector<WayHeard> heard;
    for (const auto& channel : study.channels) {
        heard.push_back(
            {briefs.design(study, *channel).filter, *briefs.measured_of(study, *channel), 0});
    }
    ASSERT_TRUE(are_measured(heard));
    const auto grid = *FrequencyGrid::logarithmic(30, 18'000, 200, 48'000);
    for (const double db : SummedWays(heard, grid).sum(0).level_db) {
        EXPECT_NEAR(db, 80, 0.02) << "flat, at the level of both";
    }
}

// In whatever order the channels stand and whatever they are called.
TEST(Crossovers, WaysAreOfferedByTheRangeInWhichEachChannelPlays) {
    Study study = study_with_crossover({"a", "b", "c"}, {300, 3000});
    const auto plays = [&](std::size_t channel, double low_hz, double high_hz) {
        measure(study, channel, 80, 0.010);
        Curve& curve = study.curves.back().edit();
        for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
            const bool in_band = curve.frequency_hz[i] > low_hz && curve.frequency_hz[i] < high_hz;
            curve.magnitude_db[i] = in_band ? 80 : 20;
        }
    };
    plays(1, 2000, 20'000);
    Briefs briefs;
    EXPECT_TRUE(ways_by_range(study, first_way, briefs).empty()) << "two ways, one channel";
    plays(2, 200, 4000);
    EXPECT_EQ(ways_by_range(study, first_way, briefs), (std::vector<WayOffer>{{2, "c"}, {3, "b"}}));
    put_way(study, first_way, 2, "c");
    EXPECT_EQ(ways_by_range(study, first_way, briefs), (std::vector<WayOffer>{{3, "b"}}));
    put_way(study, first_way, 3, "b");
    EXPECT_TRUE(ways_by_range(study, first_way, briefs).empty());
}

TEST(Crossovers, AligningNeedsEveryWayMeasured) {
    Study study = study_with_crossover({"a", "b"});
    put_way(study, first_way, 2, "b");
    measure(study, 0, 80, 0.010);
    Briefs briefs;
    const Study before = study;
    const auto refused = align_ways(study, ways_around(study, first_way), briefs);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().reason.find("Channel b"), std::string::npos);
    EXPECT_EQ(study, before);
}

std::vector<WayHeard> ways_heard(const Study& study, double height_m = 0) {
    Briefs briefs;
    std::vector<WayHeard> heard;
    for (const auto& channel : study.channels) {
        heard.push_back({briefs.design(study, *channel).filter, nullptr, 0});
    }
    heard.back().height_m = height_m;
    return heard;
}

TEST(CrossoverSum, PhaseAndDelayAreThoseOfTheAllPass) {
    Study study = study_with_crossover({"a", "b"});
    edit_first(study, [](CrossoverSpec& spec) { spec.order = 2; });
    put_way(study, first_way, 2, "b");
    const auto grid = *FrequencyGrid::logarithmic(10, 20'000, 400, 48'000);
    const SummedWays summed(ways_heard(study), grid);
    const WaySum sum = summed.sum(0);
    // (1 - s) / (1 + s): -2 atan w, and 2 / (1 + w^2), on the prewarped axis.
    const double c = std::tan(pi * 1000 / 48'000);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double half = pi * summed.hz()[i] / 48'000, w = std::tan(half) / c;
        EXPECT_NEAR(sum.phase_rad[i], -2 * std::atan(w), 1e-9);
        const double slope = 1 / (2 * c * std::cos(half) * std::cos(half)); // dw by rad/sample
        EXPECT_NEAR(sum.delay_s[i], 2 / (1 + w * w) * slope / 48'000, 1e-12);
        EXPECT_NEAR(sum.level_db[i], 0, 1e-10);
        EXPECT_LT(summed.power_db()[i], 1e-9) << "never above: -3 dB where they cross";
    }
}

TEST(CrossoverSum, OffAxisWhatIsHalfAWaveApartCancels) {
    Study study = study_with_crossover({"a", "b"});
    put_way(study, first_way, 2, "b");
    // At 30 degrees the path differs by half of the height.
    const double wave_m = speed_of_sound_m_per_s / 1000;
    const auto grid = *FrequencyGrid::from_frequencies({1000}, 48'000);
    const SummedWays summed(ways_heard(study, wave_m), grid);
    EXPECT_NEAR(summed.sum(0).level_db[0], 0, 1e-9);
    EXPECT_LT(summed.sum(30).level_db[0], -120);
    EXPECT_LT(summed.sum_db(-30)[0], -120);
    const double sine = 0.25; // a quarter of a wave: 3 dB down
    EXPECT_NEAR(summed.sum_db(std::asin(sine) * 180 / pi)[0], -3.01, 0.01);
}

TEST(CrossoverSum, ADelayTiltsTheLobe) {
    Study study = study_with_crossover({"a", "b"});
    put_way(study, first_way, 2, "b");
    auto heard = ways_heard(study, 0.2); // the upper one, a tenth of the way later
    const double later_s = 0.02 / speed_of_sound_m_per_s;
    heard[1].chain = series(std::vector{
        heard[1].chain, Filter(Delay{static_cast<std::size_t>(std::lround(later_s * 48'000))})});
    const auto grid = *FrequencyGrid::from_frequencies({100, 1000, 15'000}, 48'000);
    std::vector<double> angles;
    for (int angle = -60; angle <= 60; ++angle) {
        angles.push_back(angle);
    }
    const LobeMap map = lobes_of(SummedWays(heard, grid), angles);
    ASSERT_EQ(map.level_db.size(), angles.size());
    const double delayed_m = std::round(later_s * 48'000) / 48'000 * speed_of_sound_m_per_s;
    EXPECT_NEAR(map.loudest_deg[1], std::asin(delayed_m / 0.2) * 180 / pi, 0.6)
        << "towards the one that is late";
    EXPECT_TRUE(std::isnan(map.loudest_deg[0])) << "one alone";
    EXPECT_TRUE(std::isnan(map.loudest_deg[2]));
}

} // namespace
} // namespace syntonon
