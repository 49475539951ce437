// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/file_pattern.h"

#include <gtest/gtest.h>
#include <vector>

namespace syntonon {
namespace {

const std::vector<std::pair<std::string_view, std::string>> values = {
    {"study", "Brightwater dome"}, {"channel", "Zenith/3"}, {"delivery", "../../etc"}};

TEST(FilePattern, PutsInItsValues) {
    EXPECT_EQ(file_stem("", values).value(), "brightwater-dome_zenith-3_etc");
    EXPECT_EQ(file_stem("{channel}.v1-{study}", values).value(), "zenith-3.v1-brightwater-dome");
}

TEST(FilePattern, LeadsNowhereElse) {
    for (const char* pattern :
         {"a/b", "..\\x", "a\nb", "a b", "{channel}/{study}", "\x1b", "ä", ".hidden", "-rf",
          "../{study}", "{", "{nothing}", "{study", "a:b"}) {
        const auto stem = file_stem(pattern, values);
        ASSERT_FALSE(stem) << pattern;
        EXPECT_EQ(stem.error().place, "file_pattern");
        EXPECT_FALSE(stem.error().way_out.empty());
    }
    EXPECT_FALSE(file_stem(std::string(300, 'a'), values));
}

} // namespace
} // namespace syntonon
