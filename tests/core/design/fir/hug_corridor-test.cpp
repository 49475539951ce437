// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/hug_corridor.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/math/fine_spectrum.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

// A passband, and a ceiling that falls by 12 dB an octave.
Brief falling_ceiling() {
    const auto ceiling = [](double hz) { return -40 - 40 * std::log10(hz / 6000); };
    Brief brief = brief_at(Axis(rate));
    brief.wished = std::make_shared<const Wished>(
        Wished{{{0, 4000}, {}, {-0.3, -0.3}, {0.3, 0.3}, {}},
               {{6000, 24000}, {}, {}, {ceiling(6000), ceiling(24000)}, {}}});
    return brief;
}
FirSpec with_bands(FirMethod method, int length) {
    FirSpec spec;
    spec.method = std::move(method);
    spec.length = length;
    spec.wish.bands = {{0, 4000, 1, {}, 1, {}}, {6000, 24000, 0, {}, 1, {}}};
    return spec;
}

double margin_at(const std::vector<double>& taps, double hz) {
    const double db = db_from_ratio(std::abs(FineSpectrum(taps).at(hz, rate).h));
    return hz <= 4000   ? 0.3 - std::abs(db)
           : hz >= 6000 ? -40 - 40 * std::log10(hz / 6000) - db
                        : std::numeric_limits<double>::infinity();
}
// Its extrema between 0 Hz and half the rate, and the band edges.
std::vector<double> margins_at_lobes(const std::vector<double>& taps) {
    std::vector<double> lobes;
    constexpr double step = 5;
    for (double hz = 6000 + step; hz < 24000 - step; hz += step) {
        const double here = margin_at(taps, hz);
        if (here < margin_at(taps, hz - step) && here <= margin_at(taps, hz + step)) {
            lobes.push_back(here);
        }
    }
    return lobes;
}

TEST(HugCorridor, LeavesTheSameMarginAtEveryLobeOfAFallingCeiling) {
    const auto found = hug_corridor(with_bands(EquirippleFir(), 45), falling_ceiling(), {});
    ASSERT_TRUE(found) << to_text(found.error());
    const auto lobes = margins_at_lobes(found->taps);
    ASSERT_GT(lobes.size(), 10u);
    for (const double margin : lobes) {
        EXPECT_NEAR(margin, found->worst_margin_db, 0.3);
    }
    EXPECT_NEAR(std::min(margin_at(found->taps, 4000), margin_at(found->taps, 0)),
                found->worst_margin_db, 0.02);
}

TEST(HugCorridor, GainsOverWhatItBeganWith) {
    for (const FirMethod& method : {FirMethod(EquirippleFir()), FirMethod(LeastSquaresFir())}) {
        const Brief brief = falling_ceiling();
        std::vector<HugRound> rounds;
        const auto found = hug_corridor(with_bands(method, 45), brief, {},
                                        [&](const HugRound& round) { rounds.push_back(round); });
        ASSERT_TRUE(found);
        ASSERT_GT(rounds.size(), 2u);
        EXPECT_GT(found->worst_margin_db, rounds.front().worst_margin_db + 5);
        for (std::size_t i = 1; i < rounds.size(); ++i) {
            EXPECT_GT(rounds[i].worst_margin_db, rounds[i - 1].worst_margin_db);
        }
        EXPECT_EQ(rounds.back().worst_margin_db, found->worst_margin_db);
    }
}

TEST(HugCorridor, ItsWeightsMakeItsTaps) {
    FirSpec spec = with_bands(LeastSquaresFir(), 41);
    const Brief brief = falling_ceiling();
    const auto found = hug_corridor(spec, brief, {});
    ASSERT_TRUE(found);
    spec.wish.weights = found->weights;
    const auto made = design(spec, brief, {});
    ASSERT_TRUE(made) << to_text(made.error());
    const auto taps = std::get<Taps>(made->filter.form()).values();
    EXPECT_EQ(std::vector<double>(taps.begin(), taps.end()), found->taps);
}

TEST(HugCorridor, NoOtherTiltOfTheWeightsIsBetter) {
    FirSpec spec = with_bands(EquirippleFir(), 45);
    const Brief brief = falling_ceiling();
    const auto found = hug_corridor(spec, brief, {});
    ASSERT_TRUE(found);
    const auto worst_with = [&](double pass, double tilt) {
        spec.wish.weights = found->weights;
        for (WeightPoint& point : spec.wish.weights) {
            point.weight *=
                point.frequency_hz <= 4000 ? pass : std::pow(point.frequency_hz / 12000, tilt);
        }
        const auto made = design(spec, brief, {});
        const auto taps = std::get<Taps>(made->filter.form()).values();
        const std::vector<double> own(taps.begin(), taps.end());
        double worst = std::min(margin_at(own, 4000), margin_at(own, 0));
        for (double hz = 20; hz < 24000; hz += 20) {
            worst = std::min(worst, margin_at(own, hz));
        }
        return worst;
    };
    EXPECT_NEAR(worst_with(1, 0), found->worst_margin_db, 0.02);
    for (const auto& [pass, tilt] :
         {std::pair(1.2, 0.0), std::pair(0.8, 0.0), std::pair(1.0, 0.3), std::pair(1.0, -0.3)}) {
        EXPECT_LT(worst_with(pass, tilt), found->worst_margin_db + 0.05) << pass << " " << tilt;
    }
}

TEST(HugCorridor, SaysWhatIsMissing) {
    const auto place = [](const FirSpec& spec, const Brief& brief) {
        const auto found = hug_corridor(spec, brief, {});
        return found ? std::string("none") : found.error().place;
    };
    EXPECT_EQ(place(with_bands(SampledFir(), 45), falling_ceiling()), "method");
    EquirippleFir half_band;
    half_band.form = EquirippleFir::Form::half_band;
    EXPECT_EQ(place(with_bands(half_band, 43), falling_ceiling()), "method");
    EquirippleFir shortest;
    shortest.by_tolerances = true;
    EXPECT_EQ(place(with_bands(shortest, 43), falling_ceiling()), "length");
    EXPECT_EQ(place(with_bands(EquirippleFir(), 45), brief_at(Axis(rate))), "use_goal");
    Brief target_alone = brief_at(Axis(rate));
    target_alone.wished = std::make_shared<const Wished>(Wished{{{0, 4000}, {0, 0}, {}, {}, {}}});
    EXPECT_EQ(place(with_bands(EquirippleFir(), 45), target_alone), "use_goal");
    FirSpec silent = with_bands(EquirippleFir(), 45);
    silent.wish.bands[1].weight = 0;
    EXPECT_EQ(place(silent, falling_ceiling()), "bands[1].weight");
}

TEST(HugCorridor, StopsWithTheBestSoFar) {
    Watch watch;
    int rounds = 0;
    const auto found = hug_corridor(with_bands(EquirippleFir(), 45), falling_ceiling(), watch,
                                    [&](const HugRound&) {
                                        if (++rounds == 2) {
                                            watch.stop();
                                        }
                                    });
    ASSERT_TRUE(found);
    EXPECT_EQ(rounds, 2);
}

TEST(FirWeights, CountWhereTheyAreDrawn) {
    const Brief brief = brief_at(Axis(rate));
    FirSpec spec = with_bands(EquirippleFir(), 45);
    const auto stop_db = [&] {
        const auto made = design(spec, brief, {});
        EXPECT_TRUE(made);
        const auto taps = std::get<Taps>(made->filter.form()).values();
        const FineSpectrum spectrum(taps);
        double greatest = 0;
        for (double hz = 6000; hz <= 24000; hz += 10) {
            greatest = std::max(greatest, std::abs(spectrum.at(hz, rate).h));
        }
        return db_from_ratio(greatest);
    };
    const double even = stop_db();
    spec.wish.weights = {{4000, 1, {}}, {6000, 10, {}}};
    const double drawn = stop_db();
    spec.wish.weights.clear();
    spec.wish.bands[1].weight = 10;
    EXPECT_NEAR(drawn, stop_db(), 1e-9) << "as a weight of the band";
    EXPECT_LT(drawn, even - 7);
    spec.wish.weights = {{6000, 1, {}}, {4000, 1, {}}};
    EXPECT_EQ(design(spec, brief, {}).error().place, "weights[1].frequency_hz");
    spec.wish.weights = {{4000, 0, {}}};
    EXPECT_EQ(design(spec, brief, {}).error().place, "weights[0].weight");
}

} // namespace
} // namespace syntonon
