// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study_change.h"

#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <gtest/gtest.h>
#include <utility>

namespace syntonon {
namespace {

TEST(StudyChange, NothingIsNothing) {
    const Study study = brightwater_study();
    EXPECT_EQ(to_text(change_between(study, study)), "nothing");
    EXPECT_EQ(change_between(study, study), StudyChange());
}

TEST(StudyChange, CountsStagesOnTheirOwn) {
    const Study before = brightwater_study();
    Study after = before;
    Channel& channel = after.channels[0].edit();
    channel.stages[0].edit().enabled = false;
    channel.stages[1].edit().name = "mine";
    channel.stages.pop_back();
    EXPECT_EQ(to_text(change_between(before, after)), "2 stages changed, 1 stage removed");
    EXPECT_EQ(to_text(change_between(after, before)), "2 stages changed, 1 stage added");
}

TEST(StudyChange, ReorderingChangesTheChannel) {
    const Study before = brightwater_study();
    Study after = before;
    Chain& stages = after.channels[0].edit().stages;
    std::swap(stages[0], stages[1]);
    EXPECT_EQ(to_text(change_between(before, after)), "1 channel changed");
}

TEST(StudyChange, CountsEverythingElse) {
    const Study before = brightwater_study();
    Study after = before;
    after.goals[0].edit().name = "another";
    after.curves.pop_back();
    after.deliveries.push_back({"x", "x", {}, {}, {}});
    after.sample_rate_hz = 44100;
    EXPECT_EQ(to_text(change_between(before, after)),
              "1 goal changed, 1 curve removed, 1 delivery added, name or sample rate changed");
    after = before;
    std::size_t stages = 0;
    visit_stages(after.channels.back()->stages, [&](const Stage&, const Slot&, int) { ++stages; });
    after.channels.pop_back();
    const StudyChange gone = change_between(before, after);
    EXPECT_EQ(gone.channels.removed, 1u);
    EXPECT_EQ(gone.stages.removed, stages);
}

TEST(StudyChange, LooksInsideOfWhatHoldsStages) {
    Study before = empty_study();
    SplitSpec split;
    Stage held;
    held.id = "held";
    held.spec = GainSpec{};
    split.branches = {{1, {held}}};
    Stage holder;
    holder.id = "holder";
    holder.spec = split;
    before.channels[0].edit().stages.emplace_back(holder);
    Study after = before;
    edit_stage(after.channels[0].edit().stages, "held",
               [](Stage& stage) { stage.enabled = false; });
    EXPECT_EQ(change_between(before, after).stages, (CountedChange{0, 0, 1}));
}

} // namespace
} // namespace syntonon
