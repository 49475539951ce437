// Filters by their poles and zeros.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/roots.h"

#include "core/base/units.h"
#include "core/filter/form.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

Expected<Design> designed(const RootsSpec& spec, const Axis& axis = 48000) {
    return design(spec, brief_at(axis), Watch());
}

TEST(RootsKind, IsTheProductOfItsRoots) {
    const RootsSpec spec{{{-1, 0}, {0.3, 0.8}, {0.3, -0.8}},
                         {{0.5, 0.6}, {0.5, -0.6}, {0.9, 0}, {-0.2, 0}, {0.1, 0}},
                         -2.5};
    const auto made = designed(spec);
    ASSERT_TRUE(made) << to_text(made.error());
    for (const double hz : {100.0, 5000.0, 20000.0}) {
        const Complex z = std::polar(1.0, rad_per_sample_from_hz(hz, 48000));
        Complex wanted = spec.gain;
        for (const Complex& zero : spec.zeros) {
            wanted *= 1.0 - zero / z;
        }
        for (const Complex& pole : spec.poles) {
            wanted /= 1.0 - pole / z;
        }
        const auto value = made->filter.prober()->value(circle_point(hz, 48000));
        EXPECT_LT(std::abs(value.h - wanted), 1e-12 * std::abs(wanted));
    }
}

TEST(RootsKind, LivesInTheSPlane) {
    const Axis analog(48000, Domain::analog);
    const RootsSpec spec{{{0, 0}}, {{-100, 2000}, {-100, -2000}}, 50};
    const auto made = designed(spec, analog);
    ASSERT_TRUE(made) << to_text(made.error());
    const Complex s(0, rad_per_s_from_hz(300));
    const Complex wanted = 50.0 * s / ((s - spec.poles[0]) * (s - spec.poles[1]));
    EXPECT_LT(std::abs(made->filter.prober()->value(circle_point(300, analog)).h - wanted), 1e-14);
}

TEST(RootsKind, MoreZerosThanPolesAreAnFir) {
    const auto made = designed(RootsSpec{{{-1, 0}, {-1, 0}, {-1, 0}}, {}, 0.125});
    ASSERT_TRUE(made);
    const auto h = made->filter.impulse_response(5);
    const std::vector<double> binomial{0.125, 0.375, 0.375, 0.125, 0};
    for (std::size_t n = 0; n < h.size(); ++n) {
        EXPECT_NEAR(h[n], binomial[n], 1e-15);
    }
}

TEST(RootsKind, RefusesWhatIsNotReal) {
    EXPECT_EQ(designed(RootsSpec{{}, {{0.5, 0.1}}, 1}).error().place, "poles[0]");
    EXPECT_EQ(designed(RootsSpec{{{0, 1}, {0, -1}, {0, 1}}, {}, 1}).error().place, "zeros[0]");
    EXPECT_EQ(designed(RootsSpec{{{std::nan(""), 0}}, {}, 1}).error().place, "zeros[0]");
    EXPECT_EQ(designed(RootsSpec{{}, {}, infinity}).error().place, "gain");
    EXPECT_EQ(designed(RootsSpec{{{-1, 0}}, {}, 1}, Axis(48000, Domain::analog)).error().place,
              "zeros");
    EXPECT_FALSE(designed(RootsSpec{{}, {{1.1, 0}}, 1})->filter.is_stable())
        << "judged, not refused";
}

} // namespace
} // namespace syntonon
