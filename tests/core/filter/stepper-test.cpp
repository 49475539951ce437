// Networks run one sample at a time, against the inverse transform of their responses.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/stepper.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/math/fft.h"
#include "tests/support/noise.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <gtest/gtest.h>
#include <string>

namespace syntonon {
namespace {

Filter all_pass(double c) {
    return Filter(Cascade{{Biquad{c, 1, 0, c, 0}}});
}
Filter fed_back(const Filter& forward, double factor, const Filter& feedback) {
    return closed_loop({forward, factor, feedback}).value();
}
Filter in_row(const std::vector<Filter>& parts) {
    return series(parts);
}

struct Network {
    const char* name;
    Filter filter;
};

// Loops with and without delay, within one another and beside one another.
std::vector<Network> networks() {
    const Filter leaky(Cascade{{Biquad{0.3, 0.1, 0, -0.6, 0}}});
    const Filter fir(Taps({0.5, -0.25, 0, 0.125}));
    const Filter phaser = Filter(ParallelSum{
        {{0.5, Filter()}, {0.5, fed_back(repeated(all_pass(-0.9), 8), 0.62, Filter(Delay{1}))}}});
    const Filter solved = fed_back(in_row({leaky, fir}), -1.7, leaky);
    return {
        {"comb", fed_back(Filter(), 0.7, Filter(Delay{12}))},
        {"phaser", phaser},
        {"without delay", solved},
        {"a loop in a loop's way and in its return",
         fed_back(in_row({solved, Filter(Delay{3})}), 0.4, fed_back(leaky, -0.5, fir))},
        {"loops without delay in one another", fed_back(fed_back(leaky, 0.8, fir), -0.9, solved)},
        {"repeated loops", repeated(fed_back(leaky, 0.5, Filter(Delay{2})), 3)},
        {"side by side", Filter(ParallelSum{{{-1, solved}, {0.3, Filter(Delay{5})}, {2, fir}}})},
    };
}

TEST(Stepper, EqualsTheInverseTransformOfTheResponse) {
    constexpr std::size_t length = 1 << 14; // long enough for all to have died away
    const auto grid = FrequencyGrid::linear(0, rate / 2, length / 2 + 1, rate).value();
    for (const Network& network : networks()) {
        RealFft fft(length);
        const auto values = network.filter.values(grid);
        for (std::size_t k = 0; k < values.size(); ++k) {
            fft.spectrum()[k] = values[k].h;
        }
        fft.to_signal();
        const auto stepper = stepper_of(network.filter);
        const auto run = network.filter.impulse_response(4000);
        for (std::size_t n = 0; n < 4000; ++n) {
            const double wanted = fft.signal()[n] / static_cast<double>(length);
            ASSERT_NEAR(stepper->take(n == 0 ? 1 : 0), wanted, 1e-12) << network.name << " " << n;
            ASSERT_NEAR(run[n], wanted, 1e-12) << network.name << " " << n;
        }
    }
}

TEST(Stepper, SaysBeforehandWhatItWillAnswer) {
    const auto signal = noise(300, 7);
    for (const Network& network : networks()) {
        const auto stepper = stepper_of(network.filter);
        for (const double x : signal) {
            const double wanted = stepper->at_once() * x + stepper->held();
            ASSERT_NEAR(stepper->take(x), wanted, 1e-13 * (1 + std::abs(wanted))) << network.name;
        }
    }
}

TEST(Stepper, ShowsWhatItsDelayLinesHold) {
    const Filter net = in_row({Filter(Delay{3}), Filter(Gain{2}), Filter(Taps({1, 1, 1}))});
    const auto stepper = stepper_of(net);
    const auto lines = [&] {
        std::vector<DelayLine> found;
        stepper->add_lines(100, found);
        return found;
    };
    ASSERT_EQ(lines().size(), 2u);
    EXPECT_EQ(lines()[0].name, "delay of 3 samples");
    EXPECT_EQ(lines()[0].length, 3u);
    EXPECT_TRUE(lines()[0].taps.empty()) << "nothing has come in";
    for (const double x : {1.0, 2.0, 3.0, 4.0, 5.0}) {
        stepper->take(x);
    }
    EXPECT_EQ(lines()[0].taps, (std::vector<double>{5, 4, 3}));
    EXPECT_EQ(lines()[1].taps, (std::vector<double>{4, 2})); // twice 2 and 1, three samples late
    std::vector<DelayLine> few;
    stepper->add_lines(1, few);
    EXPECT_EQ(few[0].taps, (std::vector<double>{5}));
}

TEST(Stepper, LongFirsInALoopComeOutTheSameEitherWay) {
    // Beyond a few taps run() transforms; the stepper never does.
    auto taps = noise(700, 3);
    for (double& tap : taps) {
        tap *= 0.02;
    }
    const Filter loop = fed_back(Filter(Taps(taps)), 0.5, Filter(Delay{9}));
    const auto run = loop.impulse_response(3000);
    const auto stepper = stepper_of(loop);
    for (std::size_t n = 0; n < run.size(); ++n) {
        ASSERT_NEAR(stepper->take(n == 0 ? 1 : 0), run[n], 1e-13) << n;
    }
}

} // namespace
} // namespace syntonon
