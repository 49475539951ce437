// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/words_analysis.h"

#include "core/study/channel_parts.h"
#include "core/study/kinds.h"
#include "core/study/words.h"
#include "demo/brightwater.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

class WordsAnalysed : public ::testing::Test {
protected:
    WordsAnalysed() {
        Delivery delivery;
        delivery.id = "rack";
        delivery.name = "Rack";
        delivery.processor = "reed-28";
        study.deliveries = {delivery};
    }
    Filter chain() {
        const auto parts = channel_parts(study, *study.channels[0], briefs);
        EXPECT_TRUE(parts);
        return filter_of(*parts);
    }
    std::shared_ptr<const WordsAnalysis> analysed(const WordsAnalysis* last = nullptr) {
        return words_analysis(
            {study, study.deliveries[0], *study.channels[0], chain(), grid, nullptr}, last);
    }
    Study study = brightwater_study();
    FrequencyGrid grid = *FrequencyGrid::logarithmic(20, 20'000, 100, 48'000);
    Briefs briefs;
};

TEST_F(WordsAnalysed, AnswersAsTheirFilterDoes) {
    const auto words = analysed();
    ASSERT_FALSE(words->problem) << to_text(*words->problem);
    EXPECT_EQ(words->delivery, "Rack");
    ASSERT_GE(words->total.frequency_hz.size(), grid.size());
    for (std::size_t i = 0; i < words->total.frequency_hz.size(); ++i) {
        const auto at = words->chain.response_at(words->total.frequency_hz[i], grid.axis());
        EXPECT_NEAR(words->total.response.magnitude_db[i], at.magnitude_db, 1e-9);
        EXPECT_NEAR(words->total.response.phase_rad[i], at.phase_rad, 1e-9);
        EXPECT_NEAR(words->total.response.group_delay_samples[i], at.group_delay_samples, 1e-7);
    }
}

// A drag of one stage works out one section.
TEST_F(WordsAnalysed, OnlyWhatChangedIsWorkedOutAgain) {
    const auto before = analysed();
    ASSERT_GE(before->parts.size(), 3u);
    for (auto& stage : study.channels[0].edit().stages) {
        const auto* bell = std::get_if<ParametricSpec>(&*stage->spec);
        if (bell != nullptr && stage->enabled && bell->shape == ParametricShape::peak) {
            std::get<ParametricSpec>(stage.edit().spec.edit()).gain_db -= 0.5;
            break;
        }
    }
    const auto after = analysed(before.get());
    ASSERT_EQ(after->parts.size(), before->parts.size());
    std::size_t anew = 0;
    for (std::size_t i = 0; i < after->parts.size(); ++i) {
        anew += after->parts[i].response != before->parts[i].response ? 1 : 0;
    }
    EXPECT_EQ(anew, 1u);
    const auto from_nothing = analysed();
    EXPECT_EQ(after->total.response.magnitude_db, from_nothing->total.response.magnitude_db);
}

TEST_F(WordsAnalysed, TapsAndDelayAreAmongTheParts) {
    Stage taps, delay;
    taps.id = "taps";
    taps.spec =
        TapsSpec{std::make_shared<const std::vector<double>>(std::vector{0.5, 0.25, 0.125})};
    delay.id = "delay";
    delay.spec = DelaySpec{DelayUnit::samples, 7};
    auto& stages = study.channels[0].edit().stages;
    const std::size_t sections = analysed()->parts.size();
    stages.emplace_back(taps);
    stages.emplace_back(delay);
    const auto words = analysed();
    ASSERT_FALSE(words->problem);
    EXPECT_EQ(words->parts.size(), sections + 1);
    EXPECT_NEAR(
        words->total.response.group_delay_samples[50],
        words->chain.response_at(words->total.frequency_hz[50], grid.axis()).group_delay_samples,
        1e-7);
}

TEST_F(WordsAnalysed, WhatHasNoWordsSaysWhy) {
    study.channels[0].edit().domain = Domain::analog;
    const auto analog = words_analysis(
        {study, study.deliveries[0], *study.channels[0], Filter(), grid, nullptr}, nullptr);
    ASSERT_TRUE(analog->problem);
    EXPECT_NE(to_text(*analog->problem).find("analog"), std::string::npos);
    EXPECT_TRUE(analog->parts.empty());
}

} // namespace
} // namespace syntonon
