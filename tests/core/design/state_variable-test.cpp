// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/state_variable.h"

#include "core/design/parametric.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using modelled::StateVariableResponse;

Expected<Design> made_of(const StateVariableSpec& spec, const Axis& axis = 48000) {
    return design(spec, brief_at(axis), Watch());
}

StateVariableSpec state_variable(StateVariableResponse response, double hz, double q,
                                 double gain_db = 0) {
    StateVariableSpec spec;
    spec.response = response;
    spec.frequency_hz = hz;
    spec.resonance = 1 - 1 / (2 * q);
    spec.gain_db = gain_db;
    return spec;
}

// By other equations: those of parametric sections, which come from the bilinear transform, too.
TEST(StateVariableDesign, AnswersAsTheParametricSectionOfItsName) {
    const auto expect_alike = [](StateVariableResponse response, ParametricShape shape,
                                 double parametric_q) {
        const auto filter = made_of(state_variable(response, 2500, 2, 6))->filter;
        const auto wanted = parametric_filter(parametric(shape, 2500, 6, parametric_q), 48000);
        const Probe one(filter, 48000), other(*wanted, 48000);
        for (const double hz : {10.0, 400.0, 2400.0, 9000.0, 20000.0}) {
            EXPECT_LT(std::abs(one.value(hz).h - other.value(hz).h), 1e-10)
                << int(shape) << " at " << hz;
        }
    };
    expect_alike(StateVariableResponse::low, ParametricShape::low_pass, 2);
    expect_alike(StateVariableResponse::high, ParametricShape::high_pass, 2);
    expect_alike(StateVariableResponse::band, ParametricShape::band_pass, 2);
    expect_alike(StateVariableResponse::notch, ParametricShape::notch, 2);
    expect_alike(StateVariableResponse::all_pass, ParametricShape::all_pass, 2);
    expect_alike(StateVariableResponse::peak, ParametricShape::peak, 2);
    expect_alike(StateVariableResponse::low_shelf, ParametricShape::low_shelf, 2);
    expect_alike(StateVariableResponse::high_shelf, ParametricShape::high_shelf, 2);
}

TEST(StateVariableDesign, SeveralInSeriesMultiply) {
    auto spec = state_variable(StateVariableResponse::low, 1000, 0.8);
    const double once = Probe(made_of(spec)->filter, 48000).level_db(3000);
    for (const int oversampling : {1, 4}) {
        spec.oversampling = oversampling;
        spec.in_series = 1;
        const double one = Probe(made_of(spec)->filter, 48000).level_db(3000);
        spec.in_series = 3;
        EXPECT_NEAR(Probe(made_of(spec)->filter, 48000).level_db(3000), 3 * one, 1e-6);
        EXPECT_NEAR(one, once, 0.2);
    }
}

TEST(StateVariableDesign, RefusesWhatItCannotDo) {
    const auto place_of = [](const StateVariableSpec& spec) {
        const auto made = made_of(spec);
        return made ? std::string() : made.error().place;
    };
    auto spec = state_variable(StateVariableResponse::low, 30000, 1);
    EXPECT_EQ(place_of(spec), "frequency_hz");
    spec = state_variable(StateVariableResponse::low, 1000, 1);
    spec.resonance = 1;
    EXPECT_EQ(place_of(spec), "resonance");
    spec = state_variable(StateVariableResponse::low, 1000, 1);
    spec.in_series = 5;
    EXPECT_EQ(place_of(spec), "in_series");
    spec.in_series = 1;
    spec.oversampling = 5;
    EXPECT_EQ(place_of(spec), "oversampling");
    spec.oversampling = 0;
    EXPECT_EQ(place_of(spec), "oversampling");
}

TEST(StateVariableDesign, WhatGoesInSaturatesWhereItIsDriven) {
    auto spec = state_variable(StateVariableResponse::low, 10000, 0.5);
    spec.saturating = true;
    spec.drive_db = 40;
    std::vector<double> loud(2000, 1.0);
    made_of(spec)->filter.run(loud);
    EXPECT_NEAR(loud.back(), 0.01, 1e-4) << "tanh(100) / 100";
    std::vector<double> soft(2000, 1e-5);
    made_of(spec)->filter.run(soft);
    EXPECT_NEAR(soft.back(), 1e-5, 1e-10);
}

TEST(StateVariableDesign, InAnAnalogChannelHasItsOwnAxis) {
    const Axis analog(48000, Domain::analog);
    const auto made = made_of(state_variable(StateVariableResponse::low, 100000, 1.5), analog);
    ASSERT_TRUE(made);
    EXPECT_NEAR(Probe(made->filter, analog).level_db(100000), 20 * std::log10(1.5), 1e-9);
}

} // namespace
} // namespace syntonon
