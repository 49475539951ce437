// Classical filters designed at 48 kHz.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical.h"
#include "tests/support/rate.h"

namespace syntonon {

inline Expected<Design> designed(const ClassicalSpec& spec, const Axis& axis = rate) {
    return design(spec, brief_at(axis), Watch());
}

inline ClassicalSpec by_order(ClassicalFamily family, ClassicalBand band, int order, double low_hz,
                              double high_hz = 0) {
    ClassicalSpec spec;
    spec.family = family;
    spec.band = band;
    spec.order = order;
    spec.edges_hz = {low_hz, high_hz};
    return spec;
}

inline ClassicalSpec by_tolerances(ClassicalFamily family, ClassicalBand band,
                                   const Tolerances& tolerances) {
    ClassicalSpec spec;
    spec.family = family;
    spec.band = band;
    spec.by_tolerances = true;
    spec.tolerances = tolerances;
    return spec;
}

inline double level_db(const Design& design, double hz, const Axis& axis = rate) {
    return design.filter.response_at(hz, axis).magnitude_db;
}

inline Tolerances tolerances_for(ClassicalBand band) {
    Tolerances t;
    t.pass_ripple_db = 0.7;
    t.stop_attenuation_db = 47;
    switch (band) {
    case ClassicalBand::low_pass:
        t.pass_edges_hz = {1000, 0};
        t.stop_edges_hz = {2100, 0};
        break;
    case ClassicalBand::high_pass:
        t.pass_edges_hz = {2100, 0};
        t.stop_edges_hz = {1000, 0};
        break;
    case ClassicalBand::band_pass:
        t.pass_edges_hz = {2000, 4100};
        t.stop_edges_hz = {1000, 9000};
        break;
    case ClassicalBand::band_stop:
        t.pass_edges_hz = {1000, 9000};
        t.stop_edges_hz = {2000, 4100};
        break;
    }
    return t;
}

} // namespace syntonon
