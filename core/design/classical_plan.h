// From a classical filter's spec to what is designed: an order, edges, ripple and attenuation.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical.h"
#include "core/math/elliptic.h"

namespace syntonon {

// How the order was found. Angular frequencies are analog: with the bilinear mapping prewarped.
struct FoundOrder {
    std::array<double, 2> pass_rad_per_s{}, stop_rad_per_s{};
    double pass_ripple_db = 0, stop_attenuation_db = 0; // as wished
    // Of the low-pass prototype whose pass edge is at 1: where its stopband begins, and which of
    // two stop edges is the nearer one, so that it decides.
    double stop_edge = 0;
    std::size_t deciding_edge = 0;
    double pass_ripple_factor = 0, stop_ripple_factor = 0; // sqrt(10^(dB/10) - 1)
    std::optional<double> unrounded; // nothing where the family has no formula: found by search
};

struct ClassicalPlan {
    ClassicalFamily family = ClassicalFamily::butterworth;
    ClassicalBand band = ClassicalBand::low_pass;
    int order = 0;
    double pass_ripple_db = 0, stop_attenuation_db = 0; // where the family has them
    BesselEdge normalised_to = BesselEdge::level;
    std::array<double, 2> edges_rad_per_s{}; // analog, of the prototype's edge
    std::optional<FoundOrder> found;         // of a spec by tolerances
};

Expected<ClassicalPlan> plan_of(const ClassicalSpec& spec, const Axis& axis);
Expected<Prototype> prototype_of(const ClassicalPlan& plan);

// Hz to the analog filter's rad/s and back.
double analog_edge_rad_per_s(double hz, PlaneMapping mapping, const Axis& axis);
double edge_hz(double rad_per_s, PlaneMapping mapping, const Axis& axis);

// Of a prototype against its level at 0.
double level_db_of(const Prototype& prototype, double rad_per_s);
// |H(0)| of the prototype: even orders of what ripples begin at the foot of the ripple.
double level_at_0(const ClassicalPlan& plan);
// The level in dB at which a family has its edge.
double level_at_edge_db(const ClassicalPlan& plan);

} // namespace syntonon
