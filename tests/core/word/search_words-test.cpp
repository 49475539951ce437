// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/search_words.h"

#include "core/filter/in_sections.h"
#include "core/filter/taps.h"
#include "core/word/search_taps.h"
#include "tests/support/noise.h"
#include "tests/support/word_chains.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

WordFormat sixteen_bit_format(Structure structure) {
    Arithmetic how;
    how.coefficient = Word::fixed(2, 14);
    how.data = how.state = Word::fixed(1, 23);
    how.accumulator = Word::fixed(11, 37);
    return {structure, how, how};
}

SeriesParts three_peaks() {
    SeriesParts parts;
    for (const auto& [hz, gain_db] :
         {std::pair(1100.0, 5.0), std::pair(2500.0, -4.0), std::pair(6000.0, 3.0)}) {
        parts.cascade.sections.push_back(
            section(ParametricShape::peak, hz, gain_db, 2).sections()->sections[0]);
    }
    return parts;
}

double deviation_on(const WordChain& chain, const Filter& wished) {
    const auto grid = FrequencyGrid::logarithmic(20, 20000, 2000, Axis(rate));
    const auto of = filter_of(chain).magnitude_db(*grid), from = wished.magnitude_db(*grid);
    double worst = 0;
    for (std::size_t i = 0; i < of.size(); ++i) {
        worst = std::max(worst, std::abs(of[i] - from[i]));
    }
    return worst;
}

TEST(SearchWords, IsWellBelowTheNearest) {
    for (const Structure structure : {Structure::direct_form_1, Structure::coupled_form,
                                      Structure::normalised_lattice, Structure::state_variable}) {
        const SeriesParts parts = three_peaks();
        const WordFormat format = sixteen_bit_format(structure);
        const Filter wished(parts.cascade);
        const auto nearest = nearest_words(parts, format);
        const auto searched = search_words(parts, format, plain_aim(wished, rate));
        ASSERT_TRUE(nearest && searched) << static_cast<int>(structure);
        const double before = deviation_on(*nearest, wished),
                     after = deviation_on(searched->chain, wished);
        EXPECT_LT(after, 0.9 * before) << static_cast<int>(structure);
        EXPECT_NEAR(after, searched->worst_db, 0.15 * after + 1e-4); // what it says is so
        EXPECT_NEAR(before, *searched->nearest_worst_db, 0.15 * before);
    }
}

TEST(SearchWords, EveryNumberIsAWord) {
    const WordFormat format = sixteen_bit_format(Structure::state_variable);
    const auto searched =
        search_words(three_peaks(), format, plain_aim(Filter(three_peaks().cascade), rate));
    ASSERT_TRUE(searched);
    for (const StructuredSection& section : searched->chain.sections) {
        for (const double value : section.values) {
            EXPECT_EQ(value, rounded(value, format.sections.coefficient, Rounding::nearest));
        }
    }
}

// Of one section all words around are tried: none of them is better.
TEST(SearchWords, OfOneSectionIsTheBestAround) {
    SeriesParts parts;
    parts.cascade.sections = {
        section(ParametricShape::low_pass, 4000, 0, 0.8).sections()->sections[0]};
    const WordFormat format = sixteen_bit_format(Structure::direct_form_1);
    const WordAim aim = plain_aim(Filter(parts.cascade), rate);
    const auto searched = search_words(parts, format, aim);
    ASSERT_TRUE(searched);
    const WordPlaces places(aim);
    const auto wished = places.levels_of(parts.cascade.sections[0]);
    const double least = searched->worst_db;
    StructuredSection around = searched->chain.sections[0];
    for (std::size_t number = 0; number < 5; ++number) {
        for (const double step : {-1.0, 1.0}) {
            StructuredSection other = around;
            other.values[number] += step * std::exp2(-14);
            EXPECT_GE(greatest_magnitude(difference_of(
                          places.levels_of(biquad_of(other, format.structure)), wished)),
                      least - 1e-12);
        }
    }
}

// A demand at one place is met, though others then deviate more.
TEST(SearchWords, MeetsADemandFirst) {
    const SeriesParts parts = three_peaks();
    const WordFormat format = sixteen_bit_format(Structure::direct_form_1);
    WordAim aim = plain_aim(Filter(parts.cascade), rate);
    const auto plain = search_words(parts, format, aim);
    ASSERT_TRUE(plain);
    const double infinity = std::numeric_limits<double>::infinity();
    aim.room_above_db.assign(aim.hz.size(), infinity);
    aim.room_below_db.assign(aim.hz.size(), infinity);
    const double tight = plain->worst_db / 2;
    for (std::size_t i = 0; i < aim.hz.size(); ++i) {
        if (aim.hz[i] > 300 && aim.hz[i] < 500) {
            aim.room_above_db[i] = aim.room_below_db[i] = tight;
        }
    }
    const auto asked = search_words(parts, format, aim);
    ASSERT_TRUE(asked);
    EXPECT_GT(asked->room_db, -tight);
}

// A shelf whose numerator is beyond Q2.14 as designed: the others take its gain.
TEST(SearchWords, SharesOutGainsThatDoNotFit) {
    SeriesParts parts = three_peaks();
    parts.cascade.sections.insert(
        parts.cascade.sections.begin(),
        section(ParametricShape::high_shelf, 900, 9).sections()->sections[0]);
    parts.cascade.sections.push_back(
        section(ParametricShape::low_pass, 9000).sections()->sections[0]);
    const WordFormat format = sixteen_bit_format(Structure::direct_form_1);
    EXPECT_FALSE(nearest_words(parts, format));
    const auto searched = search_words(parts, format, plain_aim(Filter(parts.cascade), rate));
    ASSERT_TRUE(searched);
    EXPECT_FALSE(searched->nearest_worst_db);
    EXPECT_LT(searched->worst_db, 0.1);
}

TEST(SearchWords, FloatsAreTheNearest) {
    const WordFormat format{Structure::direct_form_1, short_floats(), short_floats()};
    const auto searched =
        search_words(three_peaks(), format, plain_aim(Filter(three_peaks().cascade), rate));
    ASSERT_TRUE(searched);
    EXPECT_EQ(searched->chain, nearest_words(three_peaks(), format).value());
}

TEST(SearchWords, StopsAndRefuses) {
    Watch watch;
    watch.stop();
    const WordFormat format = sixteen_bit_format(Structure::direct_form_1);
    const WordAim aim = plain_aim(Filter(three_peaks().cascade), rate);
    EXPECT_FALSE(search_words(three_peaks(), format, aim, watch));
    SeriesParts loud;
    loud.cascade.sections = {{40, 10, 0, -0.5, 0}};
    const auto refused = search_words(loud, format, aim);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "section 1");
}

TEST(SearchTaps, IsNearerThanTheNearest) {
    std::vector<double> taps(63);
    for (std::size_t n = 0; n < taps.size(); ++n) {
        const double t = static_cast<double>(n) - 31;
        taps[n] = (t == 0 ? 0.25 : std::sin(M_PI * t / 4) / (M_PI * t))
                  * (0.54 + 0.46 * std::cos(M_PI * t / 31.5));
    }
    Arithmetic how;
    how.coefficient = Word::fixed(1, 9);
    how.data = how.state = Word::fixed(1, 15);
    how.accumulator = Word::fixed(12, 24);
    const Filter wished{Taps(taps)};
    const WordPlaces places(plain_aim(wished, rate));
    const std::vector<double> nothing(places.size());
    const auto searched = searched_taps(taps, how, places, nothing);
    const auto nearest = nearest_taps(taps, how);
    ASSERT_TRUE(searched && nearest);
    const auto worst = [&](const std::vector<double>& of) {
        return greatest_magnitude(
            difference_of(places.levels_of(Filter(Taps(of))), places.levels_of(wished)));
    };
    EXPECT_LT(worst(*searched), worst(*nearest) / 2);
    for (std::size_t n = 0; n < taps.size(); ++n) {
        EXPECT_EQ((*searched)[n], (*searched)[taps.size() - 1 - n]); // symmetric as they were
    }
}

} // namespace
} // namespace syntonon
