// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/c_number.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(CNumber, AFloatingLiteralHasAPointOrAnExponent) {
    EXPECT_EQ(c_literal("1", false), "1.0");
    EXPECT_EQ(c_literal("-3", true), "-3.0f");
    EXPECT_EQ(c_literal("0.5", true), "0.5f");
    EXPECT_EQ(c_literal("1e-05", false), "1e-05");
}

TEST(CNumber, ACoefficientIsThatOfItsWord) {
    Arithmetic how;
    EXPECT_EQ(c_number(0.1, how), "0.10000000000000001");
    how.coefficient = Word::float32();
    EXPECT_EQ(c_number(0.25, how), "0.25f");
    how.data = how.state = Word::fixed(1, 23);
    how.coefficient = Word::fixed(1, 15);
    EXPECT_EQ(c_number(-0.5, how), "-16384");
    how.shift = 1; // as Q2.14
    EXPECT_EQ(c_number(-1.5, how), "-24576");
}

} // namespace
} // namespace syntonon
