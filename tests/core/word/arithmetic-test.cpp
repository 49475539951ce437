// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/arithmetic.h"

#include <functional>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Arithmetic sixteen_bits() {
    Arithmetic a;
    a.coefficient = Word::fixed(2, 14);
    a.data = a.state = Word::fixed(1, 15);
    a.accumulator = Word::fixed(11, 29);
    return a;
}

TEST(Arithmetic, TakesWhatGoesTogether) {
    EXPECT_TRUE(check(sixteen_bits()));
    EXPECT_TRUE(check(Arithmetic{}));
    Arithmetic shifted = sixteen_bits();
    shifted.coefficient = Word::fixed(1, 15);
    shifted.shift = 1;
    EXPECT_EQ(coefficient_values(shifted), Word::fixed(2, 14));
}

TEST(Arithmetic, RefusesContradictionsAndNamesThem) {
    struct {
        const char* place;
        std::function<void(Arithmetic&)> spoil;
    } const cases[] = {
        {"coefficient", [](auto& a) { a.coefficient = Word::fixed(0, 1); }},
        {"data", [](auto& a) { a.data = Word::fixed(10, 40); }},
        {"state", [](auto& a) { a.state = Word::float32(); }},
        {"accumulator", [](auto& a) { a.accumulator = Word::float64(); }},
        {"accumulator", [](auto& a) { a.accumulator = Word::fixed(40, 14); }}, // less than the data
        {"accumulator", [](auto& a) { a.accumulator = Word::fixed(-1, 15); }},
        {"accumulator", [](auto& a) { a.accumulator = Word::fixed(20, 60); }},
        {"shift", [](auto& a) { a.shift = 33; }},
        {"shift",
         [](auto& a) {
             a = Arithmetic{};
             a.shift = 1;
         }},
        {"accumulator", [](auto& a) {
             a = Arithmetic{};
             a.accumulator = Word::float32();
         }}};
    for (const auto& c : cases) {
        Arithmetic spoilt = sixteen_bits();
        c.spoil(spoilt);
        const auto checked = check(spoilt);
        ASSERT_FALSE(checked) << c.place;
        EXPECT_EQ(checked.error().place, c.place);
        EXPECT_FALSE(checked.error().way_out.empty());
    }
}

} // namespace
} // namespace syntonon
