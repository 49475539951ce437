// What the verdict finds on FIRs, splits, combs, phasers and mixes of them, against looking at very
// many frequencies: as brute_force-test.cpp does for cascades.
// GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/filter/form.h"
#include "core/goal/verdict.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

constexpr double sample_rate = 48000;
constexpr double from_hz = 50, to_hz = 20000;

class Maker {
public:
    explicit Maker(unsigned seed) : random_(seed) {}

    Filter taps() {
        std::vector<double> values(1 + random_() % 120);
        std::ranges::generate(values, [&] { return number(-1, 1); });
        values[0] += 3; // no zeros on the circle: every level has a number
        return Filter(Taps(std::move(values)));
    }
    Filter cascade() {
        std::vector<Filter> sections;
        for (int i = 0; i < 3; ++i) {
            sections.push_back(
                parametric_filter(parametric(ParametricShape::peak, 40 * std::exp2(number(0, 8.5)),
                                             number(-9, 9), number(0.5, 12)),
                                  sample_rate)
                    .value());
        }
        return series(sections);
    }
    Filter split() {
        return Filter(ParallelSum{{{1, cascade()},
                                   {number(-0.6, 0.6), Filter(Delay{random_() % 200})},
                                   {number(-0.2, 0.2), cascade()}}});
    }
    Filter mix() {
        const std::array parts{split(), cascade(), Filter(Delay{7}), taps(), Filter(Gain{-0.3})};
        return series(parts);
    }
    // Teeth of a delay, fed forward or back, with sections in the way.
    Filter comb() {
        const Filter back = series(std::array{Filter(Delay{1 + random_() % 700}), low_pass()});
        const Filter loop(Loop{random_() % 2 == 0 ? Filter() : cascade(), number(-0.9, 0.9), back});
        return Filter(ParallelSum{{{1, Filter()}, {number(-0.8, 0.8), loop}}});
    }
    Filter phaser() {
        const Filter all_pass =
            parametric_filter(parametric(ParametricShape::all_pass, 100 * std::exp2(number(0, 6)),
                                         0, number(0.5, 3)),
                              sample_rate)
                .value();
        const Filter row = repeated(all_pass, 1 + random_() % 12);
        const Filter loop(Loop{row, number(-0.85, 0.85), Filter(Delay{1})});
        return Filter(ParallelSum{{{0.6, Filter()}, {number(0.1, 0.5), loop}}});
    }
    Filter any() {
        switch (random_() % 5) {
        case 0:
            return taps();
        case 1:
            return split();
        case 2:
            return comb();
        case 3:
            return phaser();
        default:
            return mix();
        }
    }

private:
    Filter low_pass() { // 1 at 0 Hz, nowhere more
        const double pole = number(0, 0.9);
        return Filter(Cascade{{Biquad{1 - pole, 0, 0, -pole, 0}}});
    }
    double number(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random_);
    }
    std::mt19937 random_;
};

struct Seen {
    double low = INFINITY, high = -INFINITY;
    void take(double value) {
        if (std::isfinite(value)) {
            low = std::min(low, value);
            high = std::max(high, value);
        }
    }
};

class BruteForceForms : public testing::TestWithParam<unsigned> {
protected:
    Finding judged(const RequirementSpec& spec) {
        Goal goal;
        goal.requirements = {{spec, {}}};
        const Finding finding = judge(&goal, Prediction(filter, nullptr, sample_rate)).at(0);
        EXPECT_NE(finding.outcome, Outcome::undecided) << finding.reason;
        return finding;
    }
    double value_of(const RequirementSpec& spec) { return judged(spec).value.value_or(NAN); }
    Filter filter = Maker(GetParam()).any();
};

TEST_P(BruteForceForms, NeverSeeMoreThanTheVerdict) {
    const auto grid = FrequencyGrid::linear(from_hz, to_hz, 60'000, sample_rate).value();
    Seen level, delay, phase;
    for (const double db : filter.magnitude_db(grid)) {
        level.take(db);
    }
    for (const double samples : filter.group_delay_samples(grid)) {
        delay.take(samples);
    }
    for (const double rad : filter.wrapped_phase_rad(grid)) {
        phase.take(std::abs(wrapped_deg(deg_from_rad(rad))));
    }
    const Duration none{0, TimeUnit::samples};
    const Finding attenuation = judged(AttenuationRequirement{from_hz, to_hz, 0});
    EXPECT_LE(*attenuation.value, -level.high + 1e-9);
    EXPECT_NEAR(Probe(filter, sample_rate).level_db(*attenuation.worst_hz), -*attenuation.value,
                1e-9)
        << "what it names is there";
    EXPECT_GE(value_of(RippleRequirement{from_hz, to_hz, 0}), level.high - level.low - 1e-9);
    const double variation = value_of(DelayVariationRequirement{from_hz, to_hz, none});
    EXPECT_GE(variation, (delay.high - delay.low) * (1 - 1e-9));
    const double farthest = value_of(PhaseRequirement{from_hz, to_hz, 0, 0});
    EXPECT_GE(std::abs(farthest), phase.high - 1e-6);
}

INSTANTIATE_TEST_SUITE_P(Filters, BruteForceForms, testing::Range(1U, 51U));

} // namespace
} // namespace syntonon
