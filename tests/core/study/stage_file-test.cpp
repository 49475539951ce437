// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/stage_file.h"

#include "core/study/kinds.h"
#include "tests/support/scratch.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

Stage split() {
    Stage peak, fir, holder;
    peak.id = "a";
    fir.id = "b";
    fir.spec = FirSpec();
    SplitSpec spec;
    spec.branches = {{1, {SharedValue<Stage>(peak)}, {}}, {0.5, {SharedValue<Stage>(fir)}, {}}};
    holder.id = "s1";
    holder.name = "Both";
    holder.spec = spec;
    return holder;
}

TEST(StageFile, ComesBackAsItWas) {
    const test::Scratch scratch;
    const auto path = scratch.file("both.syntonon-stage");
    ASSERT_TRUE(save_stage(split(), 44100, path));
    const auto read = load_stage(path);
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_EQ(read->stage, split());
    EXPECT_EQ(read->sample_rate_hz, 44100);
    EXPECT_TRUE(read->warnings.empty());
}

TEST(StageFile, WhatIsNoneIsRefusedAtItsPlace) {
    const auto place = [](const std::string& text) {
        const auto read = stage_from_json(text);
        EXPECT_FALSE(read) << text;
        return read ? std::string("read") : read.error().place;
    };
    const auto with = [](const std::string& stages) {
        return R"({"format": "syntonon-stage", "version": 1, "sample_rate_hz": 48000, "stages": )"
               + stages + "}";
    };
    EXPECT_EQ(place(R"({"format": "syntonon-study", "version": 1})"), "format");
    EXPECT_EQ(place(R"({"format": "syntonon-stage", "version": 2})"), "version");
    EXPECT_EQ(place(with("[]")), "stages");
    EXPECT_EQ(place(with(R"([{"id": "a", "kind": "gain", "gain_db": 1},
                             {"id": "b", "kind": "gain", "gain_db": 1}])")),
              "stages");
    EXPECT_EQ(place(with(R"([{"id": "a", "kind": "fir", "method": "equiripple"}])")),
              "stages[0].length");
    EXPECT_EQ(place(R"({"format": "syntonon-stage", "version": 1, "sample_rate_hz": -5,
                        "stages": [{"id": "a", "kind": "gain", "gain_db": 1}]})"),
              "sample_rate_hz");
    EXPECT_FALSE(stage_from_json("{"));
}

TEST(StageFile, WhatIsNotKnownIsNamed) {
    const auto read = stage_from_json(R"({"format": "syntonon-stage", "version": 1,
        "sample_rate_hz": 48000, "colour": "red",
        "stages": [{"id": "a", "kind": "gain", "gain_db": 1, "enabled": true, "mood": 3}]})");
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_EQ(read->warnings.size(), 2u);
}

} // namespace
} // namespace syntonon
