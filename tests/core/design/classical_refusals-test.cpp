// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/classical_designs.h"

#include <cmath>
#include <gtest/gtest.h>
#include <string>

namespace syntonon {
namespace {

using Family = ClassicalFamily;
using Band = ClassicalBand;

std::string refused(const ClassicalSpec& spec, const Axis& axis = rate) {
    const auto made = designed(spec, axis);
    return made ? "" : made.error().place;
}

TEST(Classical, RefusesWhatNoFilterIs) {
    using enum ClassicalFamily;
    EXPECT_EQ(refused(by_order(butterworth, Band::low_pass, 0, 1000)), "order");
    EXPECT_EQ(refused(by_order(butterworth, Band::low_pass, 51, 1000)), "order");
    EXPECT_EQ(refused(by_order(butterworth, Band::low_pass, 4, 24000)), "edges_hz[0]");
    EXPECT_EQ(refused(by_order(butterworth, Band::low_pass, 4, -1)), "edges_hz[0]");
    EXPECT_EQ(refused(by_order(butterworth, Band::band_pass, 4, 2000, 1000)), "edges_hz[1]");
    EXPECT_EQ(refused(by_order(linkwitz_riley, Band::low_pass, 3, 1000)), "order");
    EXPECT_EQ(refused(by_order(linkwitz_riley, Band::band_pass, 4, 1000, 2000)), "band");
    EXPECT_EQ(refused(by_order(butterworth, Band::low_pass, 4, 2e9), {rate, Domain::analog}),
              "edges_hz[0]");
    ClassicalSpec spec = by_order(chebyshev, Band::low_pass, 4, 1000);
    spec.pass_ripple_db = 0;
    EXPECT_EQ(refused(spec), "pass_ripple_db");
    spec = by_order(elliptic, Band::low_pass, 4, 1000);
    spec.stop_attenuation_db = 0.1;
    EXPECT_EQ(refused(spec), "stop_attenuation_db");
    spec.stop_attenuation_db = std::nan("");
    EXPECT_EQ(refused(spec), "stop_attenuation_db");
}

TEST(Classical, RefusesImpulseInvarianceWhereItMeansNothing) {
    for (const Band band : {Band::high_pass, Band::band_stop}) {
        ClassicalSpec spec = by_order(Family::butterworth, band, 4, 1000, 2000);
        spec.mapping = PlaneMapping::impulse_invariant;
        EXPECT_EQ(refused(spec), "mapping");
    }
    ClassicalSpec spec = by_order(Family::elliptic, Band::low_pass, 4, 1000);
    spec.mapping = PlaneMapping::impulse_invariant;
    EXPECT_EQ(refused(spec), "mapping");
    spec.order = 5;
    EXPECT_EQ(refused(spec), "");
}

TEST(Classical, RefusesTolerancesThatNoFilterMeets) {
    const auto with = [](auto change) {
        ClassicalSpec spec =
            by_tolerances(Family::chebyshev, Band::low_pass, tolerances_for(Band::low_pass));
        change(spec.tolerances);
        return refused(spec);
    };
    EXPECT_EQ(with([](Tolerances& t) { t.stop_edges_hz[0] = 900; }), "spec.stop_edges_hz[0]");
    EXPECT_EQ(with([](Tolerances& t) { t.pass_ripple_db = 0; }), "spec.pass_ripple_db");
    EXPECT_EQ(with([](Tolerances& t) { t.stop_attenuation_db = 0.2; }), "spec.stop_attenuation_db");
    EXPECT_EQ(with([](Tolerances& t) {
                  t.pass_as_ratio = true;
                  t.pass_ratio = {1.01, 1.02};
              }),
              "spec.pass_ratio[0]");
    EXPECT_EQ(with([](Tolerances& t) {
                  t.pass_as_ratio = true;
                  t.pass_ratio = {0.9, 0.99};
              }),
              "spec.pass_ratio[1]");
    EXPECT_EQ(with([](Tolerances& t) {
                  t.stop_as_ratio = true;
                  t.stop_ratio = 1.5;
              }),
              "spec.stop_ratio");
    EXPECT_EQ(with([](Tolerances& t) { t.stop_edges_hz[0] = 1000.01; }), "spec");
    Tolerances inside = tolerances_for(Band::band_pass);
    inside.stop_edges_hz[1] = 3000;
    EXPECT_EQ(refused(by_tolerances(Family::butterworth, Band::band_pass, inside)),
              "spec.stop_edges_hz[1]");
}

TEST(Classical, SaysHowFarDoublesMissTheEdge) {
    const auto made = designed(by_order(Family::elliptic, Band::low_pass, 50, 20));
    ASSERT_TRUE(made) << to_text(made.error());
    EXPECT_EQ(made->note.find("edge missed by "), 0U) << made->note;
}

TEST(Classical, SaysThatDoublesCannotHoldIt) {
    for (const ClassicalSpec& spec :
         {by_order(Family::elliptic, Band::low_pass, 50, 0.01),
          by_order(Family::elliptic, Band::band_pass, 50, 1, 1.01),
          by_order(Family::butterworth, Band::band_pass, 50, 0.01, 0.0101)}) {
        const auto made = designed(spec);
        ASSERT_FALSE(made) << made->note;
        EXPECT_EQ(made.error().place, "order");
        EXPECT_NE(made.error().reason.find("double"), std::string::npos);
    }
}

} // namespace
} // namespace syntonon
