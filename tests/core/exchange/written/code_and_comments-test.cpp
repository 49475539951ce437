// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/code_and_comments.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(CodeAndComments, ArePartedLineForLine) {
    const auto parts = code_and_comments("1 // one\n/* two\n * three */2\n# four");
    EXPECT_EQ(parts.code, "1 \n\n 2\n");
    ASSERT_EQ(parts.comments.size(), 4u);
    const char* const texts[] = {"one", "two", "three", "four"};
    for (std::size_t k = 0; k < 4; ++k) {
        EXPECT_EQ(parts.comments[k].text, texts[k]);
        EXPECT_EQ(parts.comments[k].line, k + 1);
    }
}

TEST(CodeAndComments, WhatIsNotClosedIsCommentToTheEnd) {
    const auto parts = code_and_comments("1 /* 2\n3");
    EXPECT_EQ(parts.code, "1 \n ");
    EXPECT_EQ(parts.comments.size(), 2u);
    EXPECT_TRUE(code_and_comments("").code.empty());
}

} // namespace
} // namespace syntonon
