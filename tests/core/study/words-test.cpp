// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/words.h"

#include "core/study/channel_parts.h"
#include "core/study/problems.h"
#include "core/study/structure_table.h"
#include "core/study/study_json.h"
#include "core/word/word_facts.h"
#include "demo/brightwater.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

Study with_delivery(const char* processor, Structure structure, bool searched = false) {
    Study study = brightwater_study();
    Delivery delivery;
    delivery.id = delivery.name = "rack";
    delivery.processor = processor;
    delivery.structure = structure;
    delivery.searched = searched;
    study.deliveries = {delivery};
    return study;
}

TEST(Words, OfADeliveryAreThoseOfItsProcessor) {
    Briefs briefs;
    const Study study = with_delivery("reed-28", Structure::direct_form_1);
    const auto words = words_of(study, study.deliveries[0], *study.channels[0], briefs);
    ASSERT_TRUE(words) << to_text(words.error());
    EXPECT_FALSE(words->is_out_of_date);
    EXPECT_EQ(words->chain.section_words.coefficient, Word::fixed(5, 23));
    const auto parts = channel_parts(study, *study.channels[0], briefs);
    ASSERT_TRUE(parts);
    EXPECT_EQ(words->chain.sections.size(), parts->cascade.sections.size());
    EXPECT_LT(level_deviation(filter_of(words->chain), Filter(parts->cascade), 48000).worst_db,
              0.5);
}

TEST(Words, AreRefusedWithAWayOut) {
    Briefs briefs;
    const auto reason = [&](const Study& study) {
        const auto words = words_of(study, study.deliveries[0], *study.channels[0], briefs);
        EXPECT_FALSE(words);
        EXPECT_FALSE(words.error().way_out.empty());
        return words ? std::string() : words.error().reason;
    };
    EXPECT_NE(reason(with_delivery("", Structure::direct_form_1)).find("no processor"),
              std::string::npos);
    EXPECT_NE(reason(with_delivery("gone", Structure::direct_form_1)).find("“gone”"),
              std::string::npos);
    EXPECT_NE(reason(with_delivery("reed-28", Structure::coupled_form)).find("coupled form"),
              std::string::npos);
    Study other_rate = with_delivery("reed-28", Structure::direct_form_1);
    other_rate.sample_rate_hz = 192000;
    EXPECT_NE(reason(other_rate).find("192000 Hz"), std::string::npos);
    Study other_block = with_delivery("kestrel-board", Structure::transposed_form_2);
    other_block.deliveries[0].block_frames = 77;
    EXPECT_NE(reason(other_block).find("77 frames"), std::string::npos);
    const auto problems = problems_of(other_block);
    EXPECT_TRUE(std::ranges::any_of(problems, [](const Problem& problem) {
        return problem.place == "deliveries[0].block_frames";
    }));
}

TEST(Words, SearchedOnesHoldUntilTheDesignChanges) {
    Briefs briefs;
    Study study = with_delivery("orrery-core", Structure::direct_form_1, true);
    Delivery& delivery = study.deliveries[0];
    const Channel channel = *study.channels[1];
    const auto before = words_of(study, delivery, channel, briefs);
    // Not found yet: the nearest, and it is said.
    EXPECT_TRUE(!before || before->is_out_of_date);
    const auto search = word_search(study, delivery, channel, briefs);
    ASSERT_TRUE(search) << to_text(search.error());
    EXPECT_FALSE(search->aim.room_above_db.empty()); // the goal's demands
    auto found = run(*search);
    ASSERT_TRUE(found) << to_text(found.error());
    put_found(delivery, *found);
    const auto after = words_of(study, delivery, channel, briefs);
    ASSERT_TRUE(after);
    EXPECT_FALSE(after->is_out_of_date);
    EXPECT_EQ(after->chain.sections, found->sections);
    // They are still those after a file.
    const auto read = study_from_json(json_from_study(study));
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_EQ(read->study.deliveries[0], delivery);
    // Searched again they stand in the same place.
    put_found(delivery, *found);
    EXPECT_EQ(delivery.found.size(), 1U);
    // Another design.
    Channel changed = channel;
    changed.stages.front().edit().enabled = false;
    const auto stale = words_of(study, delivery, changed, briefs);
    EXPECT_TRUE(!stale || stale->is_out_of_date);
    // Words that somebody wrote by hand and are none.
    delivery.found[0].sections[0].values[0] += 1e-7;
    const auto spoilt = words_of(study, delivery, channel, briefs);
    EXPECT_TRUE(!spoilt || spoilt->is_out_of_date);
}

TEST(Words, AStudyKeepsProcessorsOfItsOwn) {
    Study study = with_delivery("mine", Structure::direct_form_1);
    Processor mine = *shipped_processor("reed-28");
    mine.id = "mine";
    mine.name = "Reed at half clock";
    mine.clock_hz /= 2;
    study.processors.emplace_back(mine);
    const auto read = study_from_json(json_from_study(study));
    ASSERT_TRUE(read) << to_text(read.error());
    ASSERT_EQ(read->study.processors.size(), 1U);
    EXPECT_EQ(*read->study.processors[0], mine);
    EXPECT_EQ(processor_of(read->study, "mine")->clock_hz, mine.clock_hz);
    // One of the program's that was changed stands before it.
    mine.id = "reed-28";
    study.processors = {SharedValue<Processor>(mine)};
    EXPECT_EQ(processor_of(study, "reed-28")->name, "Reed at half clock");
}

TEST(StructureTable, SaysWhatMeetsTheGoal) {
    Briefs briefs;
    const Study study = with_delivery("orrery-core", Structure::direct_form_1);
    const Channel& channel = *study.channels[0];
    const GoalAnswer goal = briefs.goal_of(study, channel);
    const auto table =
        structure_table({*channel_parts(study, channel, briefs), *shipped_processor("orrery-core"),
                         goal.goal, *briefs.measured_of(study, channel), axis_of(study, channel)});
    ASSERT_TRUE(table);
    EXPECT_EQ(table->rows.size(), 5U);
    ASSERT_EQ(table->columns.size(), 3U); // 16, 24 and 32 bits
    EXPECT_EQ(table->columns[table->own_column].coefficient, Word::fixed(1, 15));
    EXPECT_EQ(coefficient_title(table->columns[2]), "Q1.31 ×2");
    bool has_problem = false;
    for (const auto& row : table->cells) {
        ASSERT_EQ(row.size(), 3U);
        has_problem = has_problem || row[0].problem;
        // More bits never deviate more.
        if (!row[0].problem && !row[1].problem && !row[2].problem) {
            EXPECT_LE(row[2].worst_db, row[1].worst_db + 1e-6);
            EXPECT_LE(row[1].worst_db, row[0].worst_db + 1e-6);
        }
        EXPECT_TRUE(row[2].problem || row[2].worst); // a goal is there
    }
    Watch watch;
    watch.stop();
    EXPECT_FALSE(
        structure_table({*channel_parts(study, channel, briefs), *shipped_processor("host"),
                         nullptr, nullptr, axis_of(study, channel)},
                        watch));
}

} // namespace
} // namespace syntonon
