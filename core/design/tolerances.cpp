// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/tolerances.h"

#include "core/base/number_text.h"
#include "core/base/units.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace syntonon {

using Band = ClassicalBand;

namespace {

constexpr std::array band_names = std::to_array<NamedValue<Band>>({
    {Band::low_pass, "low_pass", "low-pass"},
    {Band::high_pass, "high_pass", "high-pass"},
    {Band::band_pass, "band_pass", "band-pass"},
    {Band::band_stop, "band_stop", "band-stop"},
});

} // namespace

bool has_two_edges(Band band) {
    return band == Band::band_pass || band == Band::band_stop;
}

std::span<const NamedValue<Band>> names_of_bands() {
    return band_names;
}

std::string_view title_of(Band band) {
    return named<Band>(band_names, band).title;
}

double pass_ripple_db_of(const Tolerances& t) {
    return t.pass_as_ratio ? -db_from_ratio(t.pass_ratio[0]) : t.pass_ripple_db;
}

double stop_attenuation_db_of(const Tolerances& t) {
    return t.stop_as_ratio ? -db_from_ratio(t.stop_ratio) : t.stop_attenuation_db;
}

void use_ratio(Tolerances& t, bool Tolerances::*which, bool as_ratio) {
    if (t.*which == as_ratio) {
        return;
    }
    if (which == &Tolerances::pass_as_ratio) {
        const double ripple_db = pass_ripple_db_of(t);
        t.pass_ratio = {ratio_from_db(-ripple_db), std::max(t.pass_ratio[1], 1.0)};
        t.pass_ripple_db = ripple_db;
    } else {
        const double down_db = stop_attenuation_db_of(t);
        t.stop_ratio = ratio_from_db(-down_db);
        t.stop_attenuation_db = down_db;
    }
    t.*which = as_ratio;
}

Tolerances in_order_for(Tolerances t, Band band) {
    std::array all{t.pass_edges_hz[0], t.pass_edges_hz[1], t.stop_edges_hz[0], t.stop_edges_hz[1]};
    if (has_two_edges(band)) {
        std::ranges::sort(all);
        const bool passes = band == Band::band_pass;
        if (std::ranges::adjacent_find(all) != all.end()) { // an octave between what fell together
            const auto& inner = passes ? t.pass_edges_hz : t.stop_edges_hz;
            (passes ? t.stop_edges_hz : t.pass_edges_hz) = {inner[0] / 2, inner[1] * 2};
        } else {
            (passes ? t.stop_edges_hz : t.pass_edges_hz) = {all[0], all[3]};
            (passes ? t.pass_edges_hz : t.stop_edges_hz) = {all[1], all[2]};
        }
    } else if ((t.pass_edges_hz[0] < t.stop_edges_hz[0]) != (band == Band::low_pass)) {
        std::swap(t.pass_edges_hz[0], t.stop_edges_hz[0]);
    }
    return t;
}

std::string binding_side(const Tolerances& t) {
    return t.pass_as_ratio && t.pass_ratio[1] > 1
               ? fmt::format("of {} to {} the lower side binds: nothing rises above 1",
                             shortest_text(t.pass_ratio[0]), shortest_text(t.pass_ratio[1]))
               : "";
}

} // namespace syntonon
