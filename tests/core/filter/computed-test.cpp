// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/computed.h"

#include "core/engine/filter_engine.h"
#include "core/filter/form.h"
#include "core/filter/grid.h"
#include "core/filter/in_sections.h"

#include <gtest/gtest.h>

#include <cmath>

namespace syntonon {
namespace {

// Halves a signal and cuts it off at a whole number: nothing that a linear filter does.
class Halving final : public WayOfComputing {
public:
    std::unique_ptr<Computation> start() const override {
        class AtWork final : public Computation {
        public:
            void process(std::span<double> block) noexcept override {
                for (double& x : block) {
                    x = std::trunc(x / 2 + kept_);
                    kept_ = 0.25;
                }
            }
            void reset() noexcept override { kept_ = 0; }

        private:
            double kept_ = 0;
        };
        return std::make_unique<AtWork>();
    }
    bool is_like(const WayOfComputing& other) const override {
        return dynamic_cast<const Halving*>(&other) != nullptr;
    }
    std::size_t bytes() const override { return 8; }
};

const Filter linear = Cascade{{Biquad{0.5, 0.1, 0, -0.9, 0.5}, Biquad{1, 0, -1, 0, 0.25}}};
const Filter computed = Computed{linear, std::make_shared<Halving>()};

TEST(Computed, AnswersAsTheLinearFilterThatStandsForIt) {
    const auto grid = FrequencyGrid::logarithmic(20, 20000, 50, Axis{48000});
    EXPECT_EQ(computed.magnitude_db(*grid), linear.magnitude_db(*grid));
    EXPECT_EQ(computed.group_delay_samples(*grid), linear.group_delay_samples(*grid));
    const Response own = computed.response(*grid), wanted = linear.response(*grid);
    EXPECT_EQ(own.phase_rad, wanted.phase_rad);
    EXPECT_EQ(computed.roots()->poles, linear.roots()->poles);
    EXPECT_EQ(computed.is_stable(), linear.is_stable());
    EXPECT_EQ(computed.stability_margin(), linear.stability_margin());
    EXPECT_EQ(computed.latency_samples(), linear.latency_samples());
    EXPECT_EQ(computed.cost().multiplies, linear.cost().multiplies);
    EXPECT_EQ(computed.at_once(), linear.at_once());
    EXPECT_EQ(computed.sections()->sections, linear.sections()->sections);
    EXPECT_EQ(series_parts_of(computed.form())->cascade.sections.size(), 2u);
    EXPECT_TRUE(computed.has_roots_at_hand());
    EXPECT_GT(computed.bytes(), linear.bytes());
    EXPECT_FALSE(computed.is_analog());
}

TEST(Computed, RunsInItsOwnWay) {
    const std::vector<double> in = {5, 3, -7, 8};
    std::vector<double> out = in;
    computed.run(out);
    EXPECT_EQ(out, (std::vector<double>{2, 1, -3, 4}));
    const auto engine = engine_of(computed);
    ASSERT_TRUE(engine);
    for (int again = 0; again < 2; ++again) {
        std::vector<double> first(in.begin(), in.begin() + 1), rest(in.begin() + 1, in.end());
        (*engine)->process(first);
        (*engine)->process(rest);
        EXPECT_EQ(first[0], 2);
        EXPECT_EQ(rest, (std::vector<double>{1, -3, 4}));
        (*engine)->reset();
    }
    // Behind a gain, as a part of a chain.
    const Filter parts[] = {Filter(Gain{2}), computed};
    std::vector<double> behind = in;
    series(parts).run(behind);
    EXPECT_EQ(behind, (std::vector<double>{5, 3, -6, 8}));
}

TEST(Computed, IsEqualWhereBothAre) {
    EXPECT_EQ(computed, Filter(Computed{linear, std::make_shared<Halving>()}));
    EXPECT_FALSE(computed == Filter(Computed{Filter(), std::make_shared<Halving>()}));
    EXPECT_FALSE(computed == linear);
}

} // namespace
} // namespace syntonon
