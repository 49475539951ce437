// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/trade.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <utility>

namespace syntonon {
namespace {

template <class Method>
FirSpec low_pass_by(Method method, int length) {
    FirSpec spec;
    spec.method = std::move(method);
    spec.length = length;
    spec.wish.bands = {{0, 4000, 1, {}, 1, {}}, {6000, 24000, 0, {}, 1, {}}};
    return spec;
}

struct Found {
    TradePoint present;
    std::vector<TradePoint> points;
};

Found found(const FirSpec& spec, TradeOf of, const Brief& brief = brief_at(rate)) {
    const auto trade = FirTrade::about(spec, brief, of, Watch());
    EXPECT_TRUE(trade) << (trade ? "" : to_text(trade.error()));
    Found all;
    if (trade) {
        all.present = trade->present();
        for (std::size_t i = 0; i < trade->size(); ++i) {
            all.points.push_back(trade->point(i, Watch()));
            EXPECT_EQ(all.points.back().why, "");
        }
    }
    return all;
}

bool is_ascending(const std::vector<TradePoint>& points, TradeOf of) {
    return std::ranges::is_sorted(points, {}, [of](const TradePoint& p) { return p.given(of); });
}

TEST(FirTrade, MoreTapsGiveMoreAttenuationAndLessRipple) {
    const FirSpec spec = low_pass_by(EquirippleFir(), 46);
    for (const TradeOf of : {TradeOf::attenuation, TradeOf::ripple}) {
        const Found all = found(spec, of);
        ASSERT_GT(all.points.size(), 20u);
        EXPECT_TRUE(is_ascending(all.points, of));
        EXPECT_LE(all.points.front().length, 20);
        EXPECT_GE(all.points.back().length, 90);
        // The optimum of a longer filter is no worse.
        for (std::size_t i = 1; i < all.points.size(); ++i) {
            const double before = *all.points[i - 1].gained(of, rate);
            const double now = *all.points[i].gained(of, rate);
            EXPECT_GE(of == TradeOf::ripple ? before - now : now - before, -1e-3)
                << all.points[i].length;
        }
        EXPECT_EQ(std::ranges::count(all.points, 46, &TradePoint::length), 1)
            << "the present one is on the curve";
        const auto& same = *std::ranges::find(all.points, 46, &TradePoint::length);
        EXPECT_EQ(same.gained(of, rate), all.present.gained(of, rate));
        EXPECT_EQ(same.spec, spec);
    }
}

TEST(FirTrade, AttenuationIsThatOfTheTakenFilter) {
    const Found all = found(low_pass_by(LeastSquaresFir(), 45), TradeOf::attenuation);
    const TradePoint& point = all.points[3];
    const auto made = design(point.spec, brief_at(rate), Watch());
    double highest = -400;
    for (double hz = 6000; hz <= 24000; hz += 2) {
        highest = std::max(highest, made->filter.response_at(hz, rate).magnitude_db);
    }
    EXPECT_NEAR(*point.measures.attenuation_db, -highest, 0.01);
    EXPECT_TRUE(point.filter);
}

TEST(FirTrade, GapsNarrowWithTheSameErrorAsTapsGrow) {
    for (const FirSpec& spec :
         {low_pass_by(EquirippleFir(), 45), low_pass_by(LeastSquaresFir(), 45)}) {
        const Found all = found(spec, TradeOf::transition);
        EXPECT_TRUE(is_ascending(all.points, TradeOf::transition));
        EXPECT_NEAR(*all.present.gained(TradeOf::transition, rate), 2000, 1e-6);
        for (const TradePoint& point : all.points) {
            EXPECT_LE(point.measures.error, all.present.measures.error * 1.0001);
            EXPECT_GT(point.measures.error, all.present.measures.error * 0.9)
                << "no narrower than need be: " << point.length;
            // By a rule of thumb their product is much the same.
            const double product = *point.gained(TradeOf::transition, rate) * (point.length - 1);
            EXPECT_NEAR(product, 2000 * 44, 0.25 * 2000 * 44) << point.length;
        }
    }
}

TEST(FirTrade, OfTolerancesTheLengthFollows) {
    EquirippleFir method;
    method.by_tolerances = true;
    method.tolerances.pass_edges_hz = {4000, 0};
    method.tolerances.stop_edges_hz = {6000, 0};
    method.tolerances.stop_attenuation_db = 50;
    const FirSpec spec = low_pass_by(method, 0);
    const Found all = found(spec, TradeOf::attenuation);
    EXPECT_EQ(all.points.size(), 17u);
    for (const TradePoint& point : all.points) {
        const double asked = tolerances_in_force(point.spec)->stop_attenuation_db;
        EXPECT_GE(*point.measures.attenuation_db, asked - 1e-3);
    }
    EXPECT_LT(all.points.front().length, all.points.back().length - 15);
    const Found gaps = found(spec, TradeOf::transition);
    EXPECT_GT(gaps.points.front().length, gaps.points.back().length + 20);
    EXPECT_NEAR(*gaps.points.front().gained(TradeOf::transition, rate), 1000, 1e-6);
}

TEST(FirTrade, AQuickerFilterIsLessDown) {
    const FirSpec spec = low_pass_by(LeastSquaresFir(), 61);
    const Found all = found(spec, TradeOf::delay);
    EXPECT_TRUE(is_ascending(all.points, TradeOf::delay));
    EXPECT_EQ(all.points.back().spec, spec) << "linear phase, at the end";
    EXPECT_EQ(all.points.back().delay_samples, 30);
    EXPECT_GT(*all.points.back().measures.attenuation_db,
              *all.points.front().measures.attenuation_db + 20);

    FirSpec turned = spec;
    turned.phase = FirPhase::minimum;
    const auto offered = trades_of(turned);
    EXPECT_EQ(std::ranges::count(offered, TradeOf::delay), 0);
    const auto refused = FirTrade::about(turned, brief_at(rate), TradeOf::delay, Watch());
    ASSERT_FALSE(refused);
    EXPECT_FALSE(refused.error().way_out.empty());
    EXPECT_TRUE(trades_of(low_pass_by(MovingAverageFir(), 9)).empty());
    SampledFir left;
    left.samples = {{0, 1, {}}, {5000, {}, {}}, {9000, 0, {}}, {12000, 0, {}}};
    const FirSpec with_left = low_pass_by(left, 9);
    EXPECT_EQ(delay_of_its_own(with_left), nullptr)
        << "what is left to the program takes linear phase";
}

TEST(FirTrade, AGoalsBandsAreTakenAsBands) {
    Wished wished(2);
    wished[0].frequency_hz = {0, 4000};
    wished[0].level_db = {0, 0};
    wished[1].frequency_hz = {6000, 24000};
    wished[1].upper_db = {-40, -40};
    Brief brief = brief_at(rate);
    brief.wished = std::make_shared<const Wished>(wished);
    FirSpec spec = low_pass_by(EquirippleFir(), 45);
    spec.wish.use_goal = true;
    const Found lengths = found(spec, TradeOf::attenuation, brief);
    EXPECT_TRUE(lengths.points.front().spec.wish.use_goal);
    const Found gaps = found(spec, TradeOf::transition, brief);
    const FirSpec& narrow = gaps.points.back().spec;
    EXPECT_FALSE(narrow.wish.use_goal);
    EXPECT_GT(narrow.wish.bands.front().to_hz, 4100);
    EXPECT_EQ(narrow.wish.bands.back().to_hz, 24000);

    brief.wished.reset();
    const auto refused = FirTrade::about(spec, brief, TradeOf::attenuation, Watch());
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "use_goal");
}

} // namespace
} // namespace syntonon
