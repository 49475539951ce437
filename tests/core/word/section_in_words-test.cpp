// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/section_in_words.h"

#include "core/word/taps_in_words.h"
#include "tests/support/noise.h"
#include "tests/support/word_chains.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// Direct form I written out by hand, in whole numbers: 16-bit data and states, Q2.14 coefficients,
// a sum of full length.
class PlainDirectForm1 {
public:
    PlainDirectForm1(const Biquad& c, bool feeds_back) : feeds_back_(feeds_back) {
        const double numbers[] = {c.b0, c.b1, c.b2, -c.a1, -c.a2};
        for (std::size_t i = 0; i < 5; ++i) {
            c_[i] = static_cast<std::int64_t>(numbers[i] * 16384);
        }
    }
    std::int64_t step(std::int64_t x) {
        std::int64_t sum = c_[0] * x + c_[1] * x1_ + c_[2] * x2_ + c_[3] * y1_ + c_[4] * y2_;
        if (feeds_back_) {
            sum += error_;
        }
        std::int64_t y = (sum + 8192) >> 14;
        error_ = sum - (y << 14);
        y = std::clamp<std::int64_t>(y, -32768, 32767);
        x2_ = x1_;
        x1_ = x;
        y2_ = y1_;
        y1_ = y;
        return y;
    }

private:
    std::int64_t c_[5] = {}, x1_ = 0, x2_ = 0, y1_ = 0, y2_ = 0, error_ = 0;
    bool feeds_back_;
};

Arithmetic sixteen() {
    Arithmetic a;
    a.coefficient = Word::fixed(2, 14);
    a.data = a.state = Word::fixed(1, 15);
    a.accumulator = Word::fixed(11, 29);
    return a;
}

TEST(SectionInWords, IsThePlainProgramToTheLastBit) {
    for (const Structure structure : {Structure::direct_form_1, Structure::error_feedback}) {
        const StructuredSection words = rounded_to_words(many_sections()[0], structure, sixteen());
        PlainDirectForm1 plain(biquad_of(words, structure), structure == Structure::error_feedback);
        SectionInWords section(structure, words, sixteen());
        for (const double value : noise(5000, 4)) { // loud: it saturates now and then
            const double x = rounded(value, sixteen().data, Rounding::nearest);
            ASSERT_EQ(section.step(x),
                      static_cast<double>(plain.step(static_cast<std::int64_t>(x * 32768)))
                          / 32768);
        }
        EXPECT_GT(section.overflows(), 0);
    }
}

TEST(SectionInWords, FloatsAreFloatsAtEveryStep) {
    const Structure structure = Structure::transposed_form_2;
    const StructuredSection words = rounded_to_words(many_sections()[1], structure, short_floats());
    const Biquad c = biquad_of(words, structure);
    const auto b0 = static_cast<float>(c.b0), b1 = static_cast<float>(c.b1),
               b2 = static_cast<float>(c.b2), a1 = static_cast<float>(c.a1),
               a2 = static_cast<float>(c.a2);
    float s1 = 0, s2 = 0;
    SectionInWords section(structure, words, short_floats());
    for (const double value : noise(5000, 5)) {
        const auto x = static_cast<float>(value);
        const float y = b0 * x + s1;
        s1 = b1 * x - a1 * y + s2;
        s2 = b2 * x - a2 * y;
        ASSERT_EQ(section.step(x), y);
    }
}

// With more and more bits every structure comes nearer to the filter.
TEST(SectionInWords, ComesAsNearAsItsBits) {
    for (const auto& named_structure : structures()) {
        const Structure structure = named_structure.value;
        double last = 1;
        for (const int bits : {18, 26, 34}) {
            const Arithmetic how = fixed_words(bits, bits, bits);
            const StructuredSection words = rounded_to_words(many_sections()[0], structure, how);
            std::vector<double> input = noise(3000, 6);
            for (double& x : input) {
                x = rounded(x / 4, how.data, Rounding::nearest);
            }
            std::vector<double> wanted = input;
            run(Cascade{{biquad_of(words, structure)}}, wanted);
            SectionInWords section(structure, words, how);
            double worst = 0;
            for (std::size_t n = 0; n < input.size(); ++n) {
                worst = std::max(worst, std::abs(section.step(input[n]) - wanted[n]));
            }
            EXPECT_LT(worst, last / 50) << named_structure.key << " " << bits;
            EXPECT_GT(worst, 0) << named_structure.key;
            EXPECT_EQ(section.overflows(), 0) << named_structure.key;
            last = worst;
        }
    }
}

TEST(SectionInWords, ResetIsRest) {
    for (const Arithmetic& how : {sixteen(), short_floats()}) {
        const Structure structure = Structure::error_feedback;
        SectionInWords section(structure, rounded_to_words(many_sections()[1], structure, how),
                               how);
        std::vector<double> first, second;
        for (int n = 0; n < 50; ++n) {
            first.push_back(section.step(n == 0 ? 0.5 : 0));
        }
        section.reset();
        for (int n = 0; n < 50; ++n) {
            second.push_back(section.step(n == 0 ? 0.5 : 0));
        }
        EXPECT_EQ(first, second);
    }
}

TEST(TapsInWords, AreThePlainSum) {
    const std::vector<double> wished = noise(37, 7);
    std::vector<double> taps;
    for (const double tap : wished) {
        taps.push_back(rounded(tap / 8, sixteen().coefficient, Rounding::nearest));
    }
    Arithmetic narrow = sixteen();
    narrow.accumulator = Word::fixed(11, 20); // products lose bits on the way in
    for (const Arithmetic& how : {sixteen(), narrow}) {
        TapsInWords fir(taps, how);
        std::vector<std::int64_t> past(taps.size());
        for (const double value : noise(300, 8)) {
            const double x = rounded(value, how.data, Rounding::nearest);
            past.insert(past.begin(), static_cast<std::int64_t>(x * 32768));
            past.pop_back();
            const int cut = 29 - how.accumulator.fraction_bits;
            std::int64_t sum = 0;
            for (std::size_t k = 0; k < taps.size(); ++k) {
                const auto product = static_cast<std::int64_t>(taps[k] * 16384) * past[k];
                sum += cut == 0 ? product : (product + (1 << (cut - 1))) >> cut;
            }
            const int down = 14 - cut;
            const std::int64_t y =
                std::clamp<std::int64_t>((sum + (1 << (down - 1))) >> down, -32768, 32767);
            ASSERT_EQ(fir.step(x), static_cast<double>(y) / 32768);
        }
    }
}

TEST(TapsInWords, FloatsAreAddedInTheirOrder) {
    std::vector<double> taps = noise(21, 9);
    std::vector<float> floats;
    for (double& tap : taps) {
        floats.push_back(static_cast<float>(tap));
        tap = floats.back();
    }
    TapsInWords fir(taps, short_floats());
    std::vector<float> past(taps.size());
    for (const double value : noise(100, 10)) {
        past.insert(past.begin(), static_cast<float>(value));
        past.pop_back();
        float sum = 0;
        for (std::size_t k = 0; k < floats.size(); ++k) {
            sum += floats[k] * past[k];
        }
        ASSERT_EQ(fir.step(past.front()), sum);
    }
    TapsInWords none({}, short_floats());
    EXPECT_EQ(none.step(1), 0);
}

} // namespace
} // namespace syntonon
