// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/joint_sections.h"

#include "tests/core/fit/corrected_rooms.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

CorrectionSpec plain_spec() {
    CorrectionSpec spec;
    spec.dip_db = spec.spread_db = 0;
    spec.boost_limit_db = 9;
    return spec;
}

// Some that reach beyond limits and range, so that all kinds of errors are there.
std::vector<SectionNumbers> some_sections() {
    return {{ParametricShape::peak, std::log2(45.0), 11, 0.2},
            {ParametricShape::high_shelf, std::log2(9000.0), -5, -0.5},
            {ParametricShape::peak, std::log2(700.0), -3, 1.7}};
}

TEST(JointSections, ErrorsHaveTheSlopesOfTheirDifferences) {
    const CorrectionSpec spec = plain_spec();
    const CorrectionAim aim = *correction_aim(spec, brief_seeing({level_of(two_bells())}));
    const JointSections task(spec, aim, rate);
    constexpr std::array members = {&SectionNumbers::log2_hz, &SectionNumbers::gain_db,
                                    &SectionNumbers::log2_q};
    const auto sections = some_sections();
    const std::size_t places = task.place_count(), numbers = 3 * sections.size();
    std::vector<double> gain(places), slopes(numbers * places);
    for (std::size_t s = 0; s < sections.size(); ++s) {
        const auto row = [&](std::size_t j) {
            return std::span(slopes).subspan((3 * s + j) * places, places);
        };
        add_levels(sections[s], task.grid(), gain, {row(0), row(1), row(2)});
    }
    std::vector<double> found(task.error_count() * numbers);
    task.error_slopes(gain, slopes, found.data());
    const auto errors_at = [&](std::vector<SectionNumbers> at, std::size_t k, double step) {
        at[k / 3].*members[k % 3] += step;
        std::vector<double> errors(task.error_count());
        task.errors(task.gains(at), errors);
        return errors;
    };
    constexpr double h = 1e-6;
    std::size_t kinks = 0;
    for (std::size_t k = 0; k < numbers; ++k) {
        const auto up = errors_at(sections, k, h), down = errors_at(sections, k, -h);
        for (std::size_t r = 0; r < task.error_count(); ++r) {
            const double difference = (up[r] - down[r]) / (2 * h), slope = found[r * numbers + k];
            const bool is_off = std::abs(slope - difference) > 1e-4 * (1 + std::abs(difference));
            kinks += is_off ? 1 : 0; // where a limit is just reached
        }
    }
    EXPECT_LE(kinks, 3U);
    std::vector<double> errors(task.error_count());
    task.errors(task.gains(sections), errors);
    EXPECT_GT(task.worst_outside_db(sections), 1) << "else nothing is tried there";
    EXPECT_GT(task.worst_over_limit_db(sections), 0.5);
}

TEST(JointSections, RefiningFindsTheSectionsThatAreMissing) {
    const CorrectionSpec spec = plain_spec();
    const CorrectionAim aim = *correction_aim(spec, brief_seeing({level_of(two_bells())}));
    const JointSections task(spec, aim, rate);
    for (const Bounding bounding : {Bounding::by_projection, Bounding::by_sine}) {
        std::vector<SectionNumbers> sections{{ParametricShape::peak, std::log2(120.0), -1, 0},
                                             {ParametricShape::peak, std::log2(3000.0), 1, 0}};
        task.refine(sections, {100, 1e-9, bounding}, Watch());
        EXPECT_NEAR(std::exp2(sections[0].log2_hz), 150, 1);
        EXPECT_NEAR(sections[0].gain_db, -7, 0.3) << "averaging over 1/6 octave rounds it off";
        EXPECT_NEAR(std::exp2(sections[1].log2_hz), 2500, 10);
        EXPECT_NEAR(sections[1].gain_db, 5, 0.1);
    }
}

TEST(JointSections, WhatIsNotFreeStays) {
    const CorrectionSpec spec = plain_spec();
    const CorrectionAim aim = *correction_aim(spec, brief_seeing({level_of(two_bells())}));
    const JointSections task(spec, aim, rate);
    auto sections = some_sections();
    const auto before = sections;
    task.refine(sections, {20, 1e-6, {}}, Watch(), {.frequency = false}, 1);
    EXPECT_EQ(sections[0].gain_db, before[0].gain_db);
    for (std::size_t s = 0; s < sections.size(); ++s) {
        EXPECT_EQ(sections[s].log2_hz, before[s].log2_hz);
    }
    EXPECT_NE(sections[2].gain_db, before[2].gain_db);
    EXPECT_LT(task.cost(sections), task.cost(before));
}

TEST(JointSections, KeepWithinTheirBounds) {
    CorrectionSpec spec = plain_spec();
    auto& method = std::get<SectionsCorrection>(spec.method);
    method.section_boost_limit_db = 2;
    method.section_cut_limit_db = 3;
    method.q_limits = {{100, 8, {}}, {10'000, 2, {}}};
    const CorrectionAim aim = *correction_aim(spec, brief_seeing({level_of(two_bells())}));
    const JointSections task(spec, aim, rate);
    std::vector<SectionNumbers> sections{{ParametricShape::peak, std::log2(150.0), -9, 5},
                                         {ParametricShape::peak, std::log2(2500.0), 9, 5}};
    task.refine(sections, {50, 1e-6, {}}, Watch());
    EXPECT_GE(sections[0].gain_db, -3);
    EXPECT_LE(sections[1].gain_db, 2);
    EXPECT_LE(std::exp2(sections[0].log2_q), 8);
    EXPECT_LE(sections[1].log2_q,
              std::log2(q_limit_at(method, std::exp2(sections[1].log2_hz))) + 1e-12);
    EXPECT_NEAR(q_limit_at(method, 1000), 4, 1e-9);
}

TEST(JointSections, LockedSectionsCount) {
    CorrectionSpec spec = plain_spec();
    std::get<SectionsCorrection>(spec.method).found = {
        {parametric(ParametricShape::peak, 150, -7, 2), true, {}},
        {parametric(ParametricShape::peak, 500, -9, 2), false, {}}}; // is looked for anew
    const CorrectionAim aim = *correction_aim(spec, brief_seeing({level_of(two_bells())}));
    const auto left = JointSections(spec, aim, rate).left_over({});
    for (std::size_t i = 0; i < aim.size(); ++i) {
        if (aim.hz[i] < 600) {
            EXPECT_NEAR(left[i], 0, 0.6) << aim.hz[i];
        }
    }
    EXPECT_NEAR(*std::ranges::max_element(left), 5, 0.2);
}

} // namespace
} // namespace syntonon
