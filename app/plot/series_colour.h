// Colours of lines that are one of a series.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/theme.h"

#include <QColor>
#include <algorithm>
#include <cstddef>

namespace syntonon {

// So that those beside each other can be told apart: from ink over copper to plum.
inline QColor series_colour(std::size_t i, std::size_t count) {
    const QColor ends[] = {theme().ink, theme().copper, theme().plum, theme().corridor_edge};
    const double place =
        count > 1 ? 3.0 * static_cast<double>(i) / static_cast<double>(count - 1) : 0;
    const auto from = std::min<std::size_t>(2, static_cast<std::size_t>(place));
    const double share = place - static_cast<double>(from);
    const auto mix = [&](int a, int b) { return static_cast<int>(a + share * (b - a)); };
    const QColor &a = ends[from], &b = ends[from + 1];
    return {mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue())};
}

} // namespace syntonon
