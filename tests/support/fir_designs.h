// FIRs designed at 48 kHz, and refused.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir.h"
#include "core/filter/form.h"
#include "tests/support/rate.h"

#include <gtest/gtest.h>
#include <utility>
#include <vector>

namespace syntonon {

inline std::vector<double> taps_of(const FirSpec& spec, const Brief& brief = brief_at(rate)) {
    const auto made = design(spec, brief, Watch());
    EXPECT_TRUE(made) << (made ? "" : to_text(made.error()));
    if (!made) {
        return {};
    }
    const auto values = std::get<Taps>(made->filter.form()).values();
    return {values.begin(), values.end()};
}

inline Filter filter_of(const FirSpec& spec) {
    return design(spec, brief_at(rate), Watch())->filter;
}

inline double level_db(const FirSpec& spec, double hz) {
    return filter_of(spec).response_at(hz, rate).magnitude_db;
}

inline Problem refused(const FirSpec& spec, const Brief& brief = brief_at(rate)) {
    const auto made = design(spec, brief, Watch());
    EXPECT_FALSE(made);
    if (made) {
        return {};
    }
    EXPECT_FALSE(made.error().way_out.empty());
    return made.error();
}

template <class Method>
FirSpec with(Method method, int length = 101) {
    FirSpec spec;
    spec.method = std::move(method);
    spec.length = length;
    return spec;
}

} // namespace syntonon
