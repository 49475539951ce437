// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/parametric.h"

#include "core/base/units.h"
#include "tests/support/analog.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <functional>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Shape = ParametricShape;
using test::exact_group_delay;
using test::exact_level_db;
using test::exact_response;

Biquad section(const ParametricSpec& spec, double rate = 48000) {
    return parametric_filter(spec, rate).value().sections()->sections.at(0);
}

double level(const ParametricSpec& spec, double hz, double rate = 48000) {
    return parametric_filter(spec, rate).value().response_at(hz, rate).magnitude_db;
}

// The greatest differences between the design and the analog formula in long double.
struct Accuracy {
    double magnitude_db = 0, phase_deg = 0;
};

Accuracy worst_difference(const std::vector<ParametricSpec>& specs, double rate, double lowest_hz) {
    Accuracy worst;
    const auto grid =
        FrequencyGrid::logarithmic(lowest_hz, nyquist_hz(rate) * 0.99, 160, rate).value();
    for (const ParametricSpec& spec : specs) {
        const Filter filter = parametric_filter(spec, rate).value();
        const Response got = filter.response(grid);
        for (std::size_t i = 0; i < grid.size(); ++i) {
            const double hz = grid.frequency_hz()[i];
            const auto exact = exact_response(spec, rate, hz);
            const double exact_db = exact_level_db(spec, rate, hz);
            if (exact_db < -120) {
                continue; // at the bottom of a notch there is no relative accuracy to keep
            }
            worst.magnitude_db =
                std::max(worst.magnitude_db, std::abs(got.magnitude_db[i] - exact_db));
            const double phase = static_cast<double>(std::arg(exact));
            worst.phase_deg =
                std::max(worst.phase_deg,
                         std::abs(deg_from_rad(std::remainder(got.phase_rad[i] - phase, 2 * pi))));
        }
    }
    return worst;
}

std::vector<ParametricSpec> family(std::initializer_list<double> frequencies,
                                   std::initializer_list<double> gains,
                                   std::initializer_list<double> qs) {
    std::vector<ParametricSpec> specs;
    for (const Shape shape : all_parametric_shapes) {
        for (const double hz : frequencies) {
            for (const double gain : gains) {
                for (const double q : qs) {
                    specs.push_back(parametric(shape, hz, gain, q));
                    if (has_first_order(shape)) {
                        specs.push_back(parametric(shape, hz, gain, q, 1));
                    }
                }
            }
        }
    }
    return specs;
}

TEST(ParametricAccuracy, FromTwoHundredHertz) {
    const auto worst = worst_difference(
        family({200, 1000, 5000, 15000, 22000}, {-24, -6, 0, 6, 24}, {0.1, 0.7071, 2, 10}), 48000,
        200);
    EXPECT_LT(worst.magnitude_db, 1e-9);
    EXPECT_LT(worst.phase_deg, 1e-8);
    std::printf(
        "[ figures  ] from 200 Hz at 48 kHz, Q 0.1-10, gain ±24 dB: %.3g dB, %.3g degrees\n",
        worst.magnitude_db, worst.phase_deg);
}

TEST(ParametricAccuracy, FromTwentyHertzWithSharpSections) {
    const auto worst = worst_difference(
        family({20, 60, 200, 2000}, {-24, -6, 6, 24}, {0.1, 1, 10, 50}), 48000, 20);
    EXPECT_LT(worst.magnitude_db, 1e-7);
    std::printf("[ figures  ] from 20 Hz at 48 kHz, Q 0.1-50, gain ±24 dB: %.3g dB, %.3g degrees\n",
                worst.magnitude_db, worst.phase_deg);
}

TEST(ParametricAccuracy, FromFiveHertzAtAHighRate) {
    const auto worst = worst_difference(family({5, 20}, {-12, -6, 6, 12}, {0.5, 1, 10}), 192000, 5);
    EXPECT_LT(worst.magnitude_db, 1e-6);
    std::printf("[ figures  ] from 5 Hz at 192 kHz, Q to 10, gain ±12 dB: %.3g dB\n",
                worst.magnitude_db);
    const auto extreme = worst_difference(family({5, 20}, {-24, 24}, {0.5, 1, 10}), 192000, 5);
    EXPECT_LT(extreme.magnitude_db, 1e-5);
    std::printf("[ figures  ] the same with gain ±24 dB (poles at Q 40): %.3g dB\n",
                extreme.magnitude_db);
}

TEST(ParametricAccuracy, GroupDelay) {
    // Where it is large and of one sign; a peak's delay passes through zero, where no relative
    // figure means anything.
    double worst = 0;
    for (const Shape shape :
         {Shape::low_pass, Shape::high_pass, Shape::band_pass, Shape::all_pass, Shape::notch}) {
        for (const double f0 : {200.0, 1000.0, 8000.0}) {
            for (const double q : {0.5, 1.0, 5.0}) {
                const ParametricSpec spec = parametric(shape, f0, 0, q);
                const Filter filter = parametric_filter(spec, 48000).value();
                for (const double ratio : {0.51, 0.83, 1.21, 1.9}) {
                    const double hz = f0 * ratio;
                    const double exact = exact_group_delay(spec, 48000, hz);
                    worst = std::max(
                        worst, std::abs(filter.response_at(hz, 48000).group_delay_samples - exact)
                                   / std::abs(exact));
                }
            }
        }
    }
    EXPECT_LT(worst, 1e-9);
    std::printf("[ figures  ] group delay from 200 Hz at 48 kHz: %.3g relative\n", worst);
}

// Closed forms at the frequencies that define each shape.
TEST(Parametric, PeakReachesItsGainAtItsFrequencyAndHalfAtItsEdges) {
    ParametricSpec spec = parametric(Shape::peak, 1000, 12, 1);
    spec.width = {WidthKind::bandwidth_oct, 1};
    EXPECT_NEAR(level(spec, 1000), 12, 1e-9);
    EXPECT_NEAR(level(spec, 0), 0, 1e-9);
    EXPECT_NEAR(level(spec, 24000), 0, 1e-9);
    // The note's compensation keeps the distance between the half-gain points near the octave.
    const auto half_gain = [&](double inside, double outside) {
        for (int i = 0; i < 100; ++i) {
            const double middle = std::sqrt(inside * outside);
            (level(spec, middle) > 6 ? inside : outside) = middle;
        }
        return inside;
    };
    EXPECT_NEAR(octaves_between(half_gain(1000, 100), half_gain(1000, 10000)), 1, 0.001);
}

TEST(Parametric, BoostAndCutCancel) {
    for (const Shape shape : {Shape::peak, Shape::low_shelf, Shape::high_shelf}) {
        for (const int order : {1, 2}) {
            if (order == 1 && !has_first_order(shape)) {
                continue;
            }
            for (const double hz : {30.0, 500.0, 3000.0, 20000.0}) {
                EXPECT_NEAR(level(parametric(shape, 700, 9, 0.8, order), hz)
                                + level(parametric(shape, 700, -9, 0.8, order), hz),
                            0, 1e-9);
            }
        }
    }
}

TEST(Parametric, ShelvesHaveTheirGainOnOneSideAndHalfInTheMiddle) {
    for (const int order : {1, 2}) {
        const auto low = parametric(Shape::low_shelf, 400, 8, 0.7071, order),
                   high = parametric(Shape::high_shelf, 400, 8, 0.7071, order);
        EXPECT_NEAR(level(low, 0), 8, 1e-9);
        EXPECT_NEAR(level(low, 24000), 0, 1e-9);
        EXPECT_NEAR(level(low, 400), 4, 1e-9);
        EXPECT_NEAR(level(high, 0), 0, 1e-9);
        EXPECT_NEAR(level(high, 24000), 8, 1e-9);
        EXPECT_NEAR(level(high, 400), 4, 1e-9);
    }
}

TEST(Parametric, PassesHaveQAtTheirCorner) {
    for (const double q : {0.5, 0.7071, 3.0}) {
        EXPECT_NEAR(level(parametric(Shape::low_pass, 2000, 0, q), 2000), db_from_ratio(q), 1e-9);
        EXPECT_NEAR(level(parametric(Shape::high_pass, 2000, 0, q), 2000), db_from_ratio(q), 1e-9);
        EXPECT_NEAR(level(parametric(Shape::band_pass, 2000, 0, q), 2000), 0, 1e-9);
    }
    for (const Shape shape : {Shape::low_pass, Shape::high_pass}) {
        EXPECT_NEAR(level(parametric(shape, 2000, 0, 1, 1), 2000), -10 * std::log10(2.0), 1e-9);
    }
    EXPECT_LT(level(parametric(Shape::notch, 2000, 0, 5), 2000), -200);
}

TEST(Parametric, AllPassPassesAllAndTurnsByOrder) {
    for (const int order : {1, 2}) {
        const auto spec = parametric(Shape::all_pass, 900, 0, 2, order);
        for (const double hz : {1.0, 100.0, 900.0, 5000.0, 23999.0}) {
            EXPECT_NEAR(level(spec, hz), 0, 1e-9);
        }
        const Filter filter = parametric_filter(spec, 48000).value();
        EXPECT_NEAR(filter.response_at(900, 48000).phase_rad, order == 1 ? -pi / 2 : -pi, 1e-9);
        EXPECT_NEAR(filter.response_at(24000, 48000).phase_rad, -order * pi, 1e-9);
    }
}

TEST(Parametric, LowAndHighPassOfTheSameQAddToANotchedWhole) {
    // The analog sum (s^2 + 1)/(s^2 + s/Q + 1) is the notch; the bilinear transform keeps sums.
    const Biquad low = section(parametric(Shape::low_pass, 1234, 0, 1.3)),
                 high = section(parametric(Shape::high_pass, 1234, 0, 1.3)),
                 notch = section(parametric(Shape::notch, 1234, 0, 1.3));
    EXPECT_NEAR(low.b0 + high.b0, notch.b0, 1e-15);
    EXPECT_NEAR(low.b1 + high.b1, notch.b1, 1e-15);
    EXPECT_EQ(low.a2, notch.a2);
}

TEST(Parametric, EverySectionIsStable) {
    for (const ParametricSpec& spec : family({1, 20, 1000, 23000}, {-60, 0, 60}, {0.05, 1, 500})) {
        EXPECT_TRUE(parametric_filter(spec, 48000).value().is_stable())
            << key_of(spec.shape) << " " << spec.frequency_hz << " " << spec.width.value;
    }
}

TEST(Parametric, WidthsConvertIntoOneAnother) {
    for (const Shape shape : {Shape::peak, Shape::band_pass, Shape::notch, Shape::all_pass}) {
        ParametricSpec spec = parametric(shape, 5000, 6, 1);
        spec.width = {WidthKind::bandwidth_oct, 1.5};
        const double q = width_as(spec, WidthKind::q, 48000).value();
        ParametricSpec by_q = spec;
        by_q.width = {WidthKind::q, q};
        EXPECT_NEAR(width_as(by_q, WidthKind::bandwidth_oct, 48000).value(), 1.5, 1e-12);
        EXPECT_NEAR(section(spec).a1, section(by_q).a1, 1e-14);
        EXPECT_FALSE(width_as(spec, WidthKind::slope, 48000));
    }
    ParametricSpec shelf = parametric(Shape::low_shelf, 100, 9, 1);
    shelf.width = {WidthKind::slope, 1};
    // At slope 1 the note gives 1/Q = sqrt(2) whatever the gain.
    EXPECT_NEAR(width_as(shelf, WidthKind::q, 48000).value(), std::sqrt(0.5), 1e-12);
    shelf.width = {WidthKind::slope, 0.6};
    ParametricSpec by_q = shelf;
    by_q.width = {WidthKind::q, width_as(shelf, WidthKind::q, 48000).value()};
    EXPECT_NEAR(width_as(by_q, WidthKind::slope, 48000).value(), 0.6, 1e-12);
    EXPECT_FALSE(width_as(shelf, WidthKind::bandwidth_oct, 48000));
    EXPECT_FALSE(width_as(parametric(Shape::low_pass, 100, 0, 1), WidthKind::bandwidth_oct, 48000));
    // The analog relation at low frequencies: one octave is Q = sqrt(2).
    ParametricSpec octave = parametric(Shape::peak, 10, 6, 1);
    octave.width = {WidthKind::bandwidth_oct, 1};
    EXPECT_NEAR(width_as(octave, WidthKind::q, 48000).value(), std::sqrt(2.0), 1e-5);
}

TEST(Parametric, WorkingShowsTheNotesNumbers) {
    const auto shown = numbers_of(parametric(Shape::peak, 12000, 6, 2), 48000).value();
    EXPECT_NEAR(shown.amplitude, std::pow(10, 6 / 40.0), 1e-15);
    EXPECT_NEAR(shown.w0, pi / 2, 1e-15);
    EXPECT_NEAR(shown.alpha, 0.25, 1e-15); // sin(pi/2) / (2 * 2)
    EXPECT_NEAR(shown.b[0], 1 + 0.25 * shown.amplitude, 1e-15);
    EXPECT_NEAR(shown.a[0], 1 + 0.25 / shown.amplitude, 1e-15);
    const Biquad s = section(parametric(Shape::peak, 12000, 6, 2));
    EXPECT_NEAR(s.b0, shown.b[0] / shown.a[0], 1e-15);
}

struct BadSpec {
    const char* place;
    ParametricSpec spec;
};

ParametricSpec changed(const std::function<void(ParametricSpec&)>& change) {
    ParametricSpec spec = parametric(Shape::peak, 1000, 3, 1);
    change(spec);
    return spec;
}

TEST(Parametric, RefusesNamingTheField) {
    const std::vector<BadSpec> bad = {
        {"frequency_hz", changed([](auto& s) { s.frequency_hz = 24000; })},
        {"frequency_hz", changed([](auto& s) { s.frequency_hz = 30000; })},
        {"frequency_hz", changed([](auto& s) { s.frequency_hz = 0; })},
        {"frequency_hz", changed([](auto& s) { s.frequency_hz = -5; })},
        {"frequency_hz", changed([](auto& s) { s.frequency_hz = NAN; })},
        {"gain_db", changed([](auto& s) { s.gain_db = 121; })},
        {"gain_db", changed([](auto& s) { s.gain_db = NAN; })},
        {"q", changed([](auto& s) { s.width.value = 0; })},
        {"q", changed([](auto& s) { s.width.value = -1; })},
        {"q", changed([](auto& s) { s.width.value = INFINITY; })},
        {"q", changed([](auto& s) { s.width.value = 1e9; })},
        {"bandwidth_oct", changed([](auto& s) {
             s.width = {WidthKind::bandwidth_oct, 13};
         })},
        {"slope", changed([](auto& s) {
             s.width = {WidthKind::slope, 1};
         })}, // a peak has none
        {"slope", changed([](auto& s) {
             s.shape = Shape::low_shelf, s.gain_db = 12, s.width = {WidthKind::slope, 50};
         })},
        {"order", changed([](auto& s) { s.order = 1; })}, // no first-order peak
        {"order", changed([](auto& s) { s.order = 3; })},
    };
    for (const auto& [place, spec] : bad) {
        const auto filter = parametric_filter(spec, 48000);
        ASSERT_FALSE(filter) << place;
        EXPECT_EQ(filter.error().place, place);
        EXPECT_FALSE(filter.error().reason.empty());
        EXPECT_FALSE(filter.error().way_out.empty());
    }
    EXPECT_EQ(parametric_filter(parametric(Shape::peak, 30000, 0, 1), 48000).error().reason,
              "30000 Hz is not below half the sample rate (24000 Hz)");
    EXPECT_FALSE(parametric_filter(parametric(Shape::peak, 1000, 0, 1), 0));
    EXPECT_FALSE(parametric_filter(parametric(Shape::peak, 1000, 0, 1), NAN));
}

TEST(Parametric, TellsPeopleWhatItIs) {
    EXPECT_EQ(title_of(parametric(Shape::low_shelf, 110, -3.5, 1)), "Low shelf");
    EXPECT_EQ(summary_of(parametric(Shape::low_shelf, 110, -3.5, 1)), "110 Hz −3.5 dB");
    EXPECT_EQ(summary_of(parametric(Shape::high_pass, 32, 0, 0.8)), "32 Hz Q 0.80");
    EXPECT_EQ(parametric_shape_from_key("all_pass"), Shape::all_pass);
    EXPECT_FALSE(parametric_shape_from_key("bell"));
}

} // namespace
} // namespace syntonon
