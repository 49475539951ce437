// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/object_choices.h"

#include "tests/core/device/device_in_test.h"

#include <cmath>

namespace syntonon::oca {
namespace {

class Choices : public DeviceInTest {
protected:
    void SetUp() override {
        DeviceInTest::SetUp();
        ASSERT_TRUE(plan());
        now = tree();
    }
    std::vector<ObjectChoice> of(const std::string& stage) {
        return choices_for(study, delivery, now, "one", stage, briefs);
    }
    std::vector<std::string> chosen(const std::string& stage) {
        for (const ObjectsOfStage& said : delivery.device.channels[0].stages) {
            if (said.stage == stage) {
                return said.objects;
            }
        }
        return {};
    }
    DeviceTree now;
};

using Paths = std::vector<std::string>;

TEST_F(Choices, ABellGoesToParametricOrPolynomialObjects) {
    const auto choices = of("bell");
    ASSERT_EQ(choices.size(), shape.parametric + shape.polynomial);
    EXPECT_EQ(choices[0].objects, Paths{"Output 1/Filter 1"});
    EXPECT_TRUE(choices[0].in_use_by.empty()) << "it is its own";
    EXPECT_EQ(choices[shape.parametric].objects, Paths{"Output 1/Section 1"});
    EXPECT_EQ(choices[shape.parametric].in_use_by, Paths{"steep"});
    for (const ObjectChoice& choice : choices) {
        EXPECT_FALSE(choice.problem);
    }
}

TEST_F(Choices, SectionsFollowOneAnother) {
    const auto choices = of("steep");
    ASSERT_EQ(choices.size(), shape.polynomial - 2);
    EXPECT_EQ(choices.back().objects,
              (Paths{"Output 1/Section 14", "Output 1/Section 15", "Output 1/Section 16"}));
}

TEST_F(Choices, WhatIsTooLongIsThereWithItsReason) {
    study.channels[0].edit().stages[3].edit().spec =
        TapsSpec{std::make_shared<const std::vector<double>>(300, 0.001)};
    const auto choices = of("taps");
    ASSERT_EQ(choices.size(), 1u);
    ASSERT_TRUE(choices[0].problem);
    EXPECT_NE(to_text(*choices[0].problem).find("256"), std::string::npos);
}

TEST_F(Choices, ACurveIsOfferedAndNeverProposed) {
    shape.curves = 1;
    device = std::move(*DeviceServer::start(shape));
    ASSERT_TRUE(plan());
    now = tree();
    const auto choices = of("bell");
    ASSERT_EQ(choices.back().objects, Paths{"Output 1/Curve"});
    EXPECT_FALSE(choices.back().problem);
    delivery.device = with_choice(delivery.device, "one", "bell", {"Output 1/Curve"});
    const auto mapped = map_to_device(study, delivery, now, briefs).front();
    ASSERT_TRUE(mapped.fits());
    const auto& curve = std::get<CurveSetting>(mapped.stages[0].settings[0]);
    EXPECT_EQ(curve.frequency_hz.size(), 512u);
    EXPECT_NEAR(20 * std::log10(*std::ranges::min_element(curve.amplitude)), -3, 0.01);
    ASSERT_EQ(transfer(connect(), *plan()).end, TransferEnd::done);
}

TEST_F(Choices, WhatIsNotThereHasNone) {
    EXPECT_TRUE(of("nobody").empty());
    EXPECT_TRUE(choices_for(study, delivery, now, "two", "bell", briefs).empty());
    study.channels[0].edit().stages[0].edit().enabled = false;
    EXPECT_TRUE(of("bell").empty()) << "it does not count";
}

TEST_F(Choices, AChosenObjectIsTakenFromAnotherStage) {
    delivery.device = with_choice(delivery.device, "one", "bell", {"Output 1/Section 2"});
    EXPECT_EQ(chosen("bell"), Paths{"Output 1/Section 2"});
    EXPECT_TRUE(chosen("steep").empty());
    const auto mapped = map_to_device(study, delivery, now, briefs).front();
    EXPECT_FALSE(mapped.stages[0].problem);
    EXPECT_TRUE(mapped.stages[1].problem) << "said before anything is sent";
    delivery.device = proposed_target(study, delivery, now, briefs);
    EXPECT_EQ(chosen("bell"), Paths{"Output 1/Section 2"}) << "what was chosen stays";
    EXPECT_EQ(chosen("steep").size(), 3u);
    EXPECT_TRUE(map_to_device(study, delivery, now, briefs).front().fits());

    delivery.device = with_choice(delivery.device, "one", "bell", {});
    EXPECT_TRUE(chosen("bell").empty());
}

TEST_F(Choices, AnotherBlockIsChosenWithoutItsOldObjects) {
    DeviceTarget target = with_block(delivery.device, "one", "Output 2");
    EXPECT_EQ(target.channels[0].block, "Output 2");
    EXPECT_TRUE(target.channels[0].stages.empty());
    target = with_block(target, "two", "Output 2");
    EXPECT_EQ(target.channels[0].block, "") << "one output, one channel";
    EXPECT_EQ(target.channels[1].block, "Output 2");
}

} // namespace
} // namespace syntonon::oca
