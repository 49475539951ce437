// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study_json.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Study sent_to_a_device() {
    Study study;
    Delivery delivery;
    delivery.id = delivery.name = "rack";
    delivery.device.address = "rack.local:65000";
    delivery.device.mutes = false;
    delivery.device.ramp_ms = 50;
    delivery.device.channels = {
        {"zenith", "Output 1", {{"s1", {"Output 1/Filter 1"}}, {"s2", {"Output 1/Section 1"}}}},
        {"sunrise", "", {}}};
    study.deliveries = {delivery};
    return study;
}

TEST(DeviceTargetJson, ComesBack) {
    const Study study = sent_to_a_device();
    const auto read = study_from_json(json_from_study(study));
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_TRUE(read->warnings.empty());
    EXPECT_EQ(read->study.deliveries, study.deliveries);
    EXPECT_EQ(json_from_study(Study()).find("device"), std::string::npos);
}

TEST(DeviceTargetJson, UnknownKeysAreKeptAndBadOnesNamed) {
    std::string text = json_from_study(sent_to_a_device());
    const auto replaced = [&](std::string_view old, std::string_view by) {
        std::string other = text;
        other.replace(other.find(old), old.size(), by);
        return other;
    };
    const auto kept = study_from_json(replaced("\"ramp_ms\": 50", "\"ramp_ms\": 50, \"later\": 7"));
    ASSERT_TRUE(kept) << to_text(kept.error());
    EXPECT_NE(json_from_study(kept->study).find("\"later\": 7"), std::string::npos);
    const auto bad = study_from_json(replaced("\"ramp_ms\": 50", "\"ramp_ms\": -1"));
    ASSERT_FALSE(bad);
    EXPECT_EQ(bad.error().place, "deliveries[0].device.ramp_ms");
    const auto no_stage = study_from_json(replaced("\"stage\": \"s1\"", "\"stag\": \"s1\""));
    ASSERT_FALSE(no_stage);
    EXPECT_EQ(no_stage.error().place, "deliveries[0].device.channels[0].stages[0].stage");
}

} // namespace
} // namespace syntonon
