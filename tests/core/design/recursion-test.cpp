// Filters by their difference equation.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/recursion.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/math/polynomial_zeros.h"

#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

Expected<Design> designed(const RecursionSpec& spec, const Axis& axis = 48000) {
    return design(spec, brief_at(axis), Watch());
}

std::string refused_place(const RecursionSpec& spec) {
    const auto made = designed(spec);
    return made ? "designed" : made.error().place;
}

// The equation worked through as it stands.
std::vector<double> run(const std::vector<double>& b, const std::vector<double>& a,
                        std::vector<double> x) {
    std::vector<double> y(x.size());
    for (std::size_t n = 0; n < x.size(); ++n) {
        double sum = 0;
        for (std::size_t k = 0; k < b.size() && k <= n; ++k) {
            sum += b[k] * x[n - k];
        }
        for (std::size_t k = 1; k < a.size() && k <= n; ++k) {
            sum -= a[k] * y[n - k];
        }
        y[n] = sum / a[0];
    }
    return y;
}

void expect_runs(const RecursionSpec& spec, double tolerance = 1e-13) {
    const auto made = designed(spec);
    ASSERT_TRUE(made) << to_text(made.error());
    std::vector<double> impulse(64, 0.0);
    impulse[0] = 1;
    const auto wanted = run(spec.b, spec.a, impulse);
    const auto h = made->filter.impulse_response(wanted.size());
    for (std::size_t n = 0; n < h.size(); ++n) {
        EXPECT_NEAR(h[n], wanted[n], tolerance) << n;
    }
    EXPECT_TRUE(made->filter.roots());
}

TEST(RecursionKind, RunsItsEquation) {
    expect_runs({{0.5, 0.25}, {1, -0.9}, {}});
    expect_runs({{1, 2, 1}, {4, 1, -0.5}, {}});                        // any a0
    expect_runs({{0.1, -0.2, 0.3, 0.4}, {-2, 0.5, 0.25, -0.125}, {}}); // of third order
    expect_runs({{1, 0.5, 0.25, 0.125, 0, 0}, {2, 0, 0}, {}});         // zeros at the ends
    expect_runs({{0, 0, 1, 0.5}, {1, 0.3, -0.2, 0.1, 0.5}, {}});       // answers late
    expect_runs({{0, 0, 0, 0, 0, 1}, {1, -0.5}, {}});                  // later than it has poles
    expect_runs({{1, 1}, {1, 0, 0, 0, 0, -0.7}, {}});                  // a comb's return
    expect_runs({{0, 0}, {1, -0.5, 0.1, 0.2}, {}});                    // nothing
}

TEST(RecursionKind, OfOrder200Answers) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> unit(0, 1);
    std::vector<Complex> poles;
    for (int i = 0; i < 100; ++i) {
        poles.push_back(std::polar(0.95 * std::sqrt(unit(random)), pi * unit(random)));
        poles.push_back(std::conj(poles.back()));
    }
    const RecursionSpec spec{{1}, multiplied_out(1, poles), {}};
    EXPECT_FALSE(is_quick(spec));
    const auto made = designed(spec);
    ASSERT_TRUE(made) << to_text(made.error());
    EXPECT_EQ(made->note, "");
    EXPECT_EQ(made->filter.roots()->poles.size(), 200u);
    // H(1) is 1 over the sum of a, which is what the equation says at 0 Hz.
    double sum = 0;
    for (const double v : spec.a) {
        sum += v;
    }
    EXPECT_NEAR(std::abs(made->filter.prober()->value(circle_point(0, 48000)).h) * std::abs(sum), 1,
                1e-9);
}

TEST(RecursionKind, SaysWhatIsWrong) {
    EXPECT_EQ(refused_place({{}, {1}, {}}), "b");
    EXPECT_EQ(refused_place({{1}, {}, {}}), "a");
    EXPECT_EQ(refused_place({{1}, {0, 1}, {}}), "a[0]");
    EXPECT_EQ(refused_place({{1, std::nan("")}, {1}, {}}), "b[1]");
    EXPECT_EQ(refused_place({{1}, {1, infinity}, {}}), "a[1]");
    EXPECT_EQ(refused_place({{1}, {-1.2, -1e300}, {}}), "a[1]");
    EXPECT_EQ(refused_place({{1, 1e160}, {1, 0.5}, {}}), "b[1]");
    EXPECT_EQ(refused_place({{1, 0.5, 0.25}, {1e300, 1e300, -1.2, 0.5}, {}}), "b");
    EXPECT_TRUE(designed({{0}, {1, -0.5}, {}})) << "silence";
    EXPECT_EQ(refused_place({std::vector<double>(202, 1.0), {1}, {}}), "b");
    EXPECT_FALSE(designed({{1}, {1}, {}}, Axis(48000, Domain::analog)));
    EXPECT_FALSE(designed({{1}, {1, -1.5, 0.2, 0.1}, {}})->filter.is_stable()) << "judged";
    const auto cancelled = designed({{1, 0, 0, 0, -1}, {4, -4}, {}});
    ASSERT_TRUE(cancelled);
    EXPECT_NE(cancelled->note.find("cancels a pole on the circle"), std::string::npos);
}

// 20 log10 |H| by the coefficients.
double level_db(const RecursionStart& start, double hz, double rate = 48000) {
    const auto c = coefficients_of(start, rate);
    EXPECT_TRUE(c) << to_text(c.error());
    const Complex x = std::polar(1.0, -rad_per_sample_from_hz(hz, rate));
    const auto value = [&](const std::vector<double>& row) {
        Complex sum = 0, power = 1;
        for (const double v : row) {
            sum += v * power;
            power *= x;
        }
        return sum;
    };
    return db_from_ratio(std::abs(value(c->numerator) / value(c->denominator)));
}

TEST(RecursionStart, DoesWhatItsNameSays) {
    using Form = RecursionForm;
    const double half_power = 10 * std::log10(0.5);
    EXPECT_EQ(level_db({.form = Form::leaky_difference}, 0), -infinity);
    EXPECT_NEAR(level_db({.form = Form::leaky_difference, .leak = 1}, 24000), 20 * std::log10(2.0),
                1e-12);
    EXPECT_NEAR(level_db({.form = Form::moving_average, .length = 8}, 0), 0, 1e-12);
    EXPECT_LT(level_db({.form = Form::moving_average, .length = 8}, 6000), -280);
    EXPECT_NEAR(level_db({.form = Form::smoother, .time_constant_ms = 2}, 0), 0, 1e-12);
    EXPECT_NEAR(level_db({.form = Form::resonator, .frequency_hz = 440, .bandwidth_hz = 20}, 440),
                0, 1e-10);
    EXPECT_NEAR(level_db({.form = Form::resonator, .frequency_hz = 4400, .bandwidth_hz = 20}, 4410),
                half_power, 0.02);
    for (const double hz : {1.0, 30.0, 1000.0, 15000.0, 23900.0}) {
        EXPECT_NEAR(level_db({.form = Form::one_pole_low_pass, .frequency_hz = hz}, hz), half_power,
                    1e-8);
        EXPECT_NEAR(level_db({.form = Form::one_pole_high_pass, .frequency_hz = hz}, hz),
                    half_power, 1e-8);
    }
    EXPECT_NEAR(level_db({.form = Form::one_pole_low_pass}, 0), 0, 1e-12);
    EXPECT_NEAR(level_db({.form = Form::one_pole_high_pass}, 24000), 0, 1e-12);
    EXPECT_NEAR(level_db({.form = Form::leaky_integrator, .leak = 0.01}, 0), 40, 1e-10);
    EXPECT_NEAR(level_db({.form = Form::goertzel, .frequency_hz = 12000}, 0), 20 * std::log10(0.5),
                1e-12);
}

TEST(RecursionStart, AnsweringATimeConstantItHasComeTo63Percent) {
    const auto made = designed(
        {{1}, {1}, RecursionStart{.form = RecursionForm::smoother, .time_constant_ms = 1}});
    ASSERT_TRUE(made);
    std::vector<double> step(48, 1.0); // 1 ms
    made->filter.run(step);
    EXPECT_NEAR(step.back(), 1 - std::exp(-1.0), 1e-12);
}

// Savitzky and Golay's table for the quadratic: 5 points -3 12 17 12 -3 over 35, 7 points -2 3 6 7
// over 21.
TEST(RecursionStart, TheParabolaSmootherIsTheTable) {
    const auto five =
        coefficients_of({.form = RecursionForm::parabola_smoother, .length = 5}, 48000);
    const std::vector<double> wanted{-3, 12, 17, 12, -3};
    for (std::size_t k = 0; k < 5; ++k) {
        EXPECT_NEAR(five->numerator[k], wanted[k] / 35, 1e-15);
    }
    const auto seven =
        coefficients_of({.form = RecursionForm::parabola_smoother, .length = 7}, 48000);
    EXPECT_NEAR(seven->numerator[0], -2.0 / 21, 1e-15);
    EXPECT_NEAR(seven->numerator[3], 7.0 / 21, 1e-15);
    const auto even =
        coefficients_of({.form = RecursionForm::parabola_smoother, .length = 6}, 48000);
    EXPECT_EQ(even.error().place, "length");
}

TEST(RecursionStart, ItsNumbersAreFieldsAndKeepWithinRange) {
    RecursionSpec spec;
    spec.start = RecursionStart{.form = RecursionForm::resonator};
    std::vector<std::string> keys;
    for (const auto& field : fields_of(spec)) {
        if (field.get(spec)) {
            keys.emplace_back(field.key);
        }
    }
    EXPECT_EQ(keys, (std::vector<std::string>{"start.frequency_hz", "start.bandwidth_hz"}));
    EXPECT_EQ(rows_of(spec)[0].count(spec), 0u) << "no coefficients to be edited";
    spec.start->frequency_hz = 24000;
    EXPECT_EQ(refused_place(spec), "start.frequency_hz");
    spec.start = RecursionStart{.form = RecursionForm::leaky_integrator, .leak = 0};
    EXPECT_EQ(refused_place(spec), "start.leak");
    spec.start.reset();
    EXPECT_EQ(rows_of(spec)[0].count(spec), 1u);
}

TEST(Recursion, ASearchForZerosCanBeStopped) {
    RecursionSpec spec;
    spec.b = {1, 0.2, -0.4, 0.3, 0.1};
    spec.a = {1, -0.5, 0.2, 0.3, -0.1};
    const Watch watch;
    watch.stop();
    EXPECT_EQ(design(spec, brief_at(48000), watch).error(), stopped().value());
}

} // namespace
} // namespace syntonon
