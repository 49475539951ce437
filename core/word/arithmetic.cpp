// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/arithmetic.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr int most_shift = 32, most_idle_bits = 24;

struct NamedWord {
    const char* name;
    const Word& word;
    int most_bits = most_word_bits;
};

Expected<void> check_accumulator(const Arithmetic& a) {
    const Word& sum = a.accumulator;
    const auto& [wide, narrow] = std::minmax(a.data.fraction_bits, a.state.fraction_bits);
    const int products = coefficient_values(a).fraction_bits + std::min(wide, narrow);
    if (sum.fraction_bits < std::max(wide, narrow)) {
        return refuse(
            "accumulator",
            fmt::format("{} holds fewer bits behind the point than the signal ({} and {})",
                        text_of(sum), text_of(a.data), text_of(a.state)),
            fmt::format("give it at least {}", std::max(wide, narrow)));
    }
    if (sum.bits() < std::max(a.data.bits(), a.state.bits())) {
        return refuse("accumulator",
                      fmt::format("{} has fewer bits than the words that it makes", text_of(sum)),
                      fmt::format("give it at least {}", std::max(a.data.bits(), a.state.bits())));
    }
    if (sum.fraction_bits > std::max(products, std::max(wide, narrow)) + most_idle_bits) {
        return refuse("accumulator",
                      fmt::format("{} holds more than {} bits below any product ({} behind the "
                                  "point)",
                                  text_of(sum), most_idle_bits, products),
                      fmt::format("{} are enough", std::max(products, 0)));
    }
    return {};
}

} // namespace

Word coefficient_values(const Arithmetic& a) {
    return a.coefficient.is_fixed() ? Word::fixed(a.coefficient.whole_bits + a.shift,
                                                  a.coefficient.fraction_bits - a.shift)
                                    : a.coefficient;
}

Expected<void> check(const Arithmetic& a) {
    const NamedWord words[] = {{"coefficient", a.coefficient},
                               {"data", a.data},
                               {"state", a.state},
                               {"accumulator", a.accumulator, most_accumulator_bits}};
    for (const NamedWord& each : words) {
        if (auto ok = check(each.word, each.most_bits); !ok) {
            return tl::unexpected(within(each.name, ok.error()));
        }
        if (each.word.is_fixed() != a.data.is_fixed()) {
            return refuse(each.name,
                          fmt::format("{} does not go with the data's {}", text_of(each.word),
                                      text_of(a.data)),
                          "make all words fixed or all floating");
        }
    }
    if (a.shift < -most_shift || a.shift > most_shift) {
        return refuse("shift",
                      fmt::format("{} is not between {} and {}", a.shift, -most_shift, most_shift),
                      "a shift of 1 lets coefficients be twice as large");
    }
    if (!a.is_fixed()) {
        if (a.shift != 0) {
            return refuse("shift", "means nothing for floating words", "leave it out or 0");
        }
        if (a.accumulator.bits() < std::max(a.data.bits(), a.state.bits())) {
            return refuse("accumulator", "has fewer bits than the words that it makes",
                          "make it " + text_of(a.data.bits() > a.state.bits() ? a.data : a.state));
        }
        return {};
    }
    return check_accumulator(a);
}

std::int64_t whole_of(double coefficient, const Arithmetic& arithmetic) {
    return std::llround(std::ldexp(coefficient, coefficient_values(arithmetic).fraction_bits));
}

} // namespace syntonon
