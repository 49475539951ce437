// Second-order sections whose numbers stay, in transposed direct form II, for voices side by side.
// It needs nothing but the standard library, since what instruments are given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/flushed.h"

#include <array>
#include <cstddef>

namespace syntonon::modelled {

struct FixedSection {
    double b0, b1, b2, a1, a2; // y = b0 x + b1 x' + b2 x'' - a1 y' - a2 y''
};

template <std::size_t Voices, std::size_t Count>
struct FixedSections {
    using Row = std::array<double, Voices>;
    std::array<Row, Count> s1{}, s2{};

    void reset(std::size_t voice) {
        for (std::size_t i = 0; i < Count; ++i) {
            s1[i][voice] = s2[i][voice] = 0;
        }
    }
    void step(const std::array<FixedSection, Count>& sections, Row& x) {
        for (std::size_t i = 0; i < Count; ++i) {
            const FixedSection& c = sections[i];
            for (std::size_t j = 0; j < Voices; ++j) {
                const double y = c.b0 * x[j] + s1[i][j];
                s1[i][j] = flushed(c.b1 * x[j] - c.a1 * y + s2[i][j]);
                s2[i][j] = flushed(c.b2 * x[j] - c.a2 * y);
                x[j] = y;
            }
        }
    }
};

} // namespace syntonon::modelled
