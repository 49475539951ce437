// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/processor.h"

#include "core/study/processor_json.h"
#include "core/word/budget.h"
#include "tests/support/scratch.h"

#include <cmath>
#include <functional>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

TEST(Processor, ShippedOnesHoldTogether) {
    EXPECT_GE(shipped_processors().size(), 4U);
    for (const Processor& processor : shipped_processors()) {
        EXPECT_TRUE(check(processor)) << processor.id;
        EXPECT_EQ(shipped_processor(processor.id), &processor);
    }
    EXPECT_EQ(shipped_processor("none"), nullptr);
}

TEST(Processor, IsTheSameAfterAFile) {
    const test::Scratch scratch;
    for (const Processor& processor : shipped_processors()) {
        const auto path = scratch.file(processor.id + std::string(processor_file_ending));
        ASSERT_TRUE(save_processor(processor, path));
        const auto read = load_processor(path);
        ASSERT_TRUE(read) << to_text(read.error());
        EXPECT_EQ(read->processor, processor);
        EXPECT_TRUE(read->warnings.empty());
    }
}

TEST(Processor, RefusesContradictionsAndNamesThem) {
    struct {
        const char* place;
        std::function<void(Processor&)> spoil;
    } const cases[] = {
        {"section_words.state", [](auto& p) { p.section_words.state = Word::float32(); }},
        {"tap_words.data", [](auto& p) { p.tap_words.data = Word::fixed(1, 20); }},
        {"structures", [](auto& p) { p.structures.clear(); }},
        {"structures[5].structure", [](auto& p) { p.structures.push_back(p.structures[0]); }},
        {"structures[0].cycles", [](auto& p) { p.structures[0].cycles = -1; }},
        {"order", [](auto& p) { p.convention.order.pop_back(); }},
        {"order", [](auto& p) { p.convention.order.push_back(Term::a0); }},
        {"normalisation", [](auto& p) { p.convention.normalisation = Normalisation::a0_half; }},
        {"clock_hz", [](auto& p) { p.clock_hz = 0; }},
        {"usable_share", [](auto& p) { p.usable_share = 1.5; }},
        {"tap_cycles", [](auto& p) { p.tap_cycles = std::nan(""); }},
        {"block_frames", [](auto& p) { p.block_frames = {}; }},
        {"block_frames",
         [](auto& p) {
             p.block_frames = {64, 0};
         }},
        {"block_convolution.part_taps",
         [](auto& p) { p.block_convolution = BlockConvolution{48}; }},
        {"sample_rates_hz", [](auto& p) { p.sample_rates_hz = {-48000}; }},
        {"b_below", [](auto& p) { p.b_below = 0; }}};
    for (const auto& c : cases) {
        Processor spoilt = *shipped_processor("orrery-core");
        c.spoil(spoilt);
        const auto checked = check(spoilt);
        ASSERT_FALSE(checked) << c.place;
        EXPECT_EQ(checked.error().place, c.place);
        EXPECT_FALSE(checked.error().way_out.empty()) << c.place;
    }
    Processor floats = *shipped_processor("kestrel-board");
    floats.structures.push_back({Structure::error_feedback, 6});
    EXPECT_FALSE(check(floats));
}

TEST(Processor, AFileNamesWhatIsWrong) {
    const auto place_of = [](std::string_view text) {
        const auto read = processor_from_json(text);
        return read ? std::string("none") : read.error().place;
    };
    const std::string head = R"({"format": "syntonon-processor", "version": 1, "id": "x", )";
    EXPECT_EQ(place_of(head + R"("section_words": {"coefficient": "Q1"}})"),
              "section_words.coefficient");
    EXPECT_EQ(place_of(head + R"("structures": [{"structure": "spiral"}]})"),
              "structures[0].structure");
    EXPECT_EQ(place_of(head + R"("structures": []})"), "structures");
    EXPECT_EQ(place_of(head + R"("block_frames": [0.5]})"), "block_frames");
    EXPECT_EQ(place_of(R"({"format": "syntonon-study", "version": 1})"), "format");
    EXPECT_EQ(place_of(R"({"format": "syntonon-processor", "version": 9})"), "version");
    EXPECT_FALSE(processor_from_json("{"));
    const auto plain = processor_from_json(head + R"("colour": "red"})");
    ASSERT_TRUE(plain);
    EXPECT_EQ(plain->warnings.size(), 1U);
    EXPECT_NE(json_from_processor(plain->processor).find("\"colour\": \"red\""), std::string::npos);
}

Processor plain_processor() {
    Processor p;
    p.id = p.name = "plain";
    p.structures = {{Structure::direct_form_1, 7}};
    p.tap_cycles = 1;
    p.block_convolution = BlockConvolution{64, 1, 2};
    p.channel_cycles = 10;
    p.block_cycles = 640;
    p.coefficient_words = 1000;
    p.most_sections = 20;
    p.block_frames = {64};
    p.clock_hz = 48e6;
    p.usable_share = 0.5;
    p.converter_samples = 12;
    return p;
}

TEST(Budget, AddsUpWhatIsUsed) {
    Processor direct = plain_processor();
    direct.block_convolution.reset();
    const Budget budget = budget_of({{"a", 5, 0, 3, 3}, {"b", 10, 100, 0, 50}}, direct, 48000, 64);
    ASSERT_EQ(budget.lines.size(), 5U);
    // 640 / 64 of the blocks, 10 a channel, 7 a section, 1 a tap.
    EXPECT_DOUBLE_EQ(budget.lines[0].used, 10 + 20 + 15 * 7 + 100);
    EXPECT_DOUBLE_EQ(*budget.lines[0].available, 500);
    EXPECT_EQ(budget.lines[1].used, 15);
    EXPECT_EQ(budget.lines[2].used, 100);
    EXPECT_FALSE(budget.lines[2].available);
    EXPECT_EQ(budget.lines[3].used, 15 * 5 + 100);
    EXPECT_EQ(budget.lines[4].used, 15 * 4 + 100 + 3);
    EXPECT_TRUE(budget.fits());
    EXPECT_EQ(budget.tightest()->what, "sections");
    EXPECT_EQ(budget.latency_samples, 12 + 128 + 50);
    EXPECT_FALSE(budget_of({{"a", 21}}, plain_processor(), 48000, 64).fits());
}

TEST(Budget, TakesTheCheaperConvolution) {
    const Processor p = plain_processor();
    // Transforms: 2 * 128 * 7 = 1792 cycles a block; a part: 65 * 2 = 130.
    EXPECT_DOUBLE_EQ(block_cost(64, p, 64)->cycles, (1792 + 130) / 64.0);
    EXPECT_DOUBLE_EQ(block_cost(65, p, 64)->cycles, (1792 + 260) / 64.0);
    EXPECT_EQ(cheaper(30, p, 64), Convolution::direct);
    EXPECT_EQ(cheaper(31, p, 64), Convolution::block);
    EXPECT_EQ(break_even_taps(p, 64), 31U); // (1792 + 130) / 64 = 30.03
    Processor none = p;
    none.block_convolution.reset();
    EXPECT_FALSE(break_even_taps(none, 64));
    EXPECT_FALSE(block_cost(64, none, 64));
    // Parts longer than the block are waited for.
    EXPECT_EQ(block_cost(64, p, 16)->added_latency_samples, 48);
}

// The break-even is where the two curves cross, whatever the costs.
TEST(Budget, TheBreakEvenIsWhereTheCurvesCross) {
    for (const double transform : {0.5, 1.0, 3.0, 8.0}) {
        for (const int part : {16, 64, 256}) {
            Processor p = plain_processor();
            p.block_convolution = BlockConvolution{part, transform, 4};
            const auto even = break_even_taps(p, 64);
            ASSERT_TRUE(even);
            EXPECT_EQ(cheaper(*even, p, 64), Convolution::block);
            EXPECT_EQ(cheaper(*even - 1, p, 64), Convolution::direct);
        }
    }
}

} // namespace
} // namespace syntonon
