// Handles of classical filters on the magnitude lane: their edges, each at its level.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_grips.h"
#include "core/base/units.h"
#include "core/design/classical.h"
#include "core/design/classical_plan.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::array<std::string_view, 2> edge_keys{"edge", "upper edge"};
constexpr std::array<std::string_view, 2> pass_keys{"pass edge", "upper pass edge"};
constexpr std::array<std::string_view, 2> stop_keys{"stop edge", "upper stop edge"};
constexpr double lowest_edge_hz = 0.01, least_ratio = 1.002, least_db = 0.01, most_db = 400;

std::size_t edges_of(const ClassicalSpec& spec) {
    return has_two_edges(spec.band) ? 2 : 1;
}

// Every edge that the band has, so that none is dragged past another.
std::vector<double*> all_edges(ClassicalSpec& spec) {
    std::vector<double*> all;
    for (std::size_t i = 0; i < edges_of(spec); ++i) {
        if (spec.by_tolerances) {
            all.push_back(&spec.tolerances.pass_edges_hz[i]);
            all.push_back(&spec.tolerances.stop_edges_hz[i]);
        } else {
            all.push_back(&spec.edges_hz[i]);
        }
    }
    std::ranges::sort(all, {}, [](const double* hz) { return *hz; });
    return all;
}

void move_edge(ClassicalSpec& spec, double& edge, double hz, const Axis& axis) {
    double low = lowest_edge_hz, high = axis.end_hz() * 0.999;
    for (const double* other : all_edges(spec)) {
        if (other != &edge && *other < edge) {
            low = std::max(low, *other * least_ratio);
        } else if (other != &edge && *other > edge) {
            high = std::min(high, *other / least_ratio);
        }
    }
    edge = low < high ? std::clamp(hz, low, high) : edge;
}

void set_attenuation(ClassicalSpec& spec, double db) {
    Tolerances& t = spec.tolerances;
    const double least = spec.by_tolerances ? pass_ripple_db_of(t) + 1 : least_db;
    db = std::clamp(db, least, most_db);
    if (!spec.by_tolerances) {
        spec.stop_attenuation_db = db;
    } else if (t.stop_as_ratio) {
        t.stop_ratio = ratio_from_db(-db);
    } else {
        t.stop_attenuation_db = db;
    }
}

} // namespace

std::vector<Grip> grips_of(const ClassicalSpec& spec, const Axis& axis) {
    const auto plan = plan_of(spec, axis);
    std::vector<Grip> grips;
    if (!plan) {
        return grips;
    }
    for (std::size_t i = 0; i < edges_of(spec); ++i) {
        if (spec.by_tolerances) {
            const Tolerances& t = spec.tolerances;
            grips.push_back({pass_keys[i], t.pass_edges_hz[i], -pass_ripple_db_of(t), false,
                             "Move the pass edge of %1"});
            grips.push_back({stop_keys[i], t.stop_edges_hz[i], -stop_attenuation_db_of(t), true,
                             "Move the stop edge of %1"});
        } else {
            grips.push_back({edge_keys[i], spec.edges_hz[i], level_at_edge_db(*plan),
                             spec.family == ClassicalFamily::inverse_chebyshev,
                             "Move the edge of %1"});
        }
    }
    return grips;
}

void move_grip(ClassicalSpec& spec, std::string_view key, double hz, std::optional<double> level_db,
               const Axis& axis) {
    for (std::size_t i = 0; i < 2; ++i) {
        if (key == edge_keys[i]) {
            move_edge(spec, spec.edges_hz[i], hz, axis);
        } else if (key == pass_keys[i]) {
            move_edge(spec, spec.tolerances.pass_edges_hz[i], hz, axis);
        } else if (key == stop_keys[i]) {
            move_edge(spec, spec.tolerances.stop_edges_hz[i], hz, axis);
        }
    }
    const bool is_stop = std::ranges::find(stop_keys, key) != stop_keys.end();
    if (level_db && (is_stop || spec.family == ClassicalFamily::inverse_chebyshev)) {
        set_attenuation(spec, -*level_db);
    }
}

// Of bands the distance of the edges from their middle; the others have no width.
void widen(ClassicalSpec& spec, double octave_factor, const Axis& axis) {
    if (!has_two_edges(spec.band) || spec.by_tolerances) {
        return;
    }
    const double middle = std::sqrt(spec.edges_hz[0] * spec.edges_hz[1]);
    const double half = std::pow(spec.edges_hz[1] / middle, octave_factor);
    if (half > least_ratio && middle * half < axis.end_hz()) {
        spec.edges_hz = {middle / half, middle * half};
    }
}

} // namespace syntonon
