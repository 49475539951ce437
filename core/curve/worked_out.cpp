// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/worked_out.h"

#include <cmath>
#include <utility>

namespace syntonon {
namespace {

void take_out(const Curve& microphone, Curve& curve) {
    const CurveReader adds(microphone);
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        curve.magnitude_db[i] -= adds.magnitude_db_at(curve.frequency_hz[i]);
        if (curve.has_phase()) {
            curve.phase_deg[i] -= adds.phase_deg_at(curve.frequency_hz[i]);
        }
    }
}

Expected<void> take_points(const CurveOrigin& origin, const Gate* gate, Curve& curve) {
    const Measurement& measured = *origin.measured;
    if (!measured.is_impulse()) {
        curve.frequency_hz = measured.frequency_hz;
        curve.magnitude_db = measured.magnitude_db;
        curve.phase_deg = measured.phase_deg;
        return {};
    }
    const double middle_s = middle_of(origin);
    const Gate all = whole_of(measured.impulse, middle_s);
    auto response = gated_response(measured.impulse, gate != nullptr ? *gate : all, middle_s);
    if (!response) {
        return tl::unexpected(response.error());
    }
    curve.frequency_hz = std::move(response->frequency_hz);
    curve.magnitude_db = std::move(response->magnitude_db);
    curve.phase_deg = std::move(response->phase_deg);
    curve.delay_s = middle_s;
    return {};
}

} // namespace

Gate whole_of(const ImpulseResponse& impulse, double middle_s) {
    const double begin_s = impulse.seconds_of(0) - middle_s;
    const double end_s = impulse.seconds_of(impulse.samples.size()) - middle_s;
    return {begin_s, begin_s, end_s, end_s, {}};
}

double middle_of(const CurveOrigin& origin) {
    return origin.middle_s ? *origin.middle_s : arrival_s(origin.measured->impulse);
}

void keep_as_measured(Curve& curve) {
    if (curve.origin) {
        return;
    }
    Measurement measured;
    measured.frequency_hz = curve.frequency_hz;
    measured.magnitude_db = curve.magnitude_db;
    measured.phase_deg = curve.phase_deg;
    curve.origin = CurveOrigin{std::move(measured), "", "", {}};
}

Expected<Curve> worked_out(Curve curve, const Gate* gate, const Curve* microphone) {
    if (!curve.origin || curve.origin->measured->is_missing()) {
        return curve;
    }
    if (auto ok = take_points(*curve.origin, gate, curve); !ok) {
        return tl::unexpected(ok.error());
    }
    if (microphone != nullptr) {
        take_out(*microphone, curve);
    }
    if (auto ok = check(curve); !ok) {
        return tl::unexpected(ok.error());
    }
    return curve;
}

Curve thinned(const Curve& curve, double points_an_octave) {
    Curve thin = curve;
    thin.frequency_hz.clear();
    thin.magnitude_db.clear();
    thin.phase_deg.clear();
    const double step = std::exp2(1 / points_an_octave);
    double next_hz = 0;
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        if (curve.frequency_hz[i] < next_hz && i + 1 < curve.frequency_hz.size()) {
            continue;
        }
        thin.frequency_hz.push_back(curve.frequency_hz[i]);
        thin.magnitude_db.push_back(curve.magnitude_db[i]);
        if (curve.has_phase()) {
            thin.phase_deg.push_back(curve.phase_deg[i]);
        }
        next_hz = curve.frequency_hz[i] * step;
    }
    return thin;
}

} // namespace syntonon
