// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/form_text.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

DeliveredChannel two_sections() {
    return {"c",
            {"S",
             "C & <D>",
             48000,
             Cascade{{{0.5, 0, 0, -0.25, 0}, {1, 2, 1, 0, 0}}},
             7,
             {0.5, -1},
             {{"verdict", "met"}, {"digest", "xxh3-1"}}},
            std::nullopt,
            {}};
}

TEST(FormText, FillsInNumbers) {
    const auto text = form_text(two_sections(), "D",
                                "{{! a remark }}{{channel}} at {{sample_rate_hz}}: {{verdict}}\n"
                                "{{#sections}}{{number}}: {{b0}} {{a1}} {{a1_added}} of "
                                "{{section_count}}\n{{/sections}}"
                                "{{#taps}}h[{{index}}] = {{value}};\n{{/taps}}{{delay_samples}}");
    ASSERT_TRUE(text) << to_text(text.error());
    EXPECT_EQ(*text, "C & <D> at 48000: met\n1: 0.5 -0.25 0.25 of 2\n2: 1 0 0 of 2\n"
                     "h[0] = 0.5;\nh[1] = -1;\n7");
}

TEST(FormText, FillsInWords) {
    DeliveredChannel channel = two_sections();
    channel.words = WordChain{};
    Arithmetic& how = channel.words->section_words;
    how.coefficient = Word::fixed(2, 14);
    how.data = how.state = Word::fixed(1, 15);
    how.accumulator = Word::fixed(10, 29);
    channel.words->tap_words = how;
    channel.words->sections = {{false, {0.5, 0, 0, -0.25, 0}}};
    const auto text = form_text(
        channel, "D",
        "{{#sections}}{{#numbers}}{{name}}={{whole}}/{{hexadecimal}} {{/numbers}}{{/sections}}");
    ASSERT_TRUE(text);
    EXPECT_EQ(*text, "b0=8192/0x2000 b1=0/0x0000 b2=0/0x0000 a1=-4096/0xf000 a2=0/0x0000 ");
}

TEST(FormText, NamesTheLineOfAnError) {
    struct {
        const char *form, *place;
    } const cases[] = {{"a\nb {{nothing}}", "form, line 2"},
                       {"{{#sections}}\n{{b0}}", "form, line 1"},
                       {"\n\n{{/sections}}", "form, line 3"},
                       {"{{#sections}}{{#taps}}{{/taps}}{{/sections}}", "form, line 1"},
                       {"{{#sections}}\n{{/taps}}{{/sections}}", "form, line 2"},
                       {"{{value}}", "form, line 1"},
                       {"x\n{{b0", "form, line 2"},
                       {"{{>/etc/passwd}}", "form, line 1"},
                       {"{{=| |=}}", "form, line 1"},
                       {"{{b0:h}}", "form, line 1"}};
    for (const auto& c : cases) {
        const auto text = form_text(two_sections(), "D", c.form);
        ASSERT_FALSE(text) << c.form;
        EXPECT_EQ(text.error().place, c.place) << c.form;
        EXPECT_FALSE(text.error().way_out.empty());
    }
}

} // namespace
} // namespace syntonon
