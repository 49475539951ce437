// Measured curves as they are looked at: smoothed, and with a part of their phase.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/measure_view.h"
#include "core/study/measured.h"

#include <QString>
#include <map>
#include <memory>
#include <utility>
#include <vector>

namespace syntonon {

struct LookedAt {
    SharedValue<Curve> curve; // its phase is the part that is shown
    std::shared_ptr<const CurveReader> reader;
    std::vector<double> delay_s; // of that phase; empty without one
};

// Keeps what it made as long as the curves and the look stay.
class LookedAtCurves {
public:
    // By a key of the caller's.
    const LookedAt& of(const QString& key, const SharedValue<Curve>& curve,
                       const MeasureView& view);
    // An average of the set, or nothing where there is none.
    const SharedValue<Curve>* average_of(const SharedMeasured& measured, AverageOf of);
    void forget_but(const std::vector<QString>& keys);

private:
    struct Kept {
        SharedValue<Curve> made_of;
        Smoothing smoothing;
        PhaseShown phase;
        LookedAt looked;
    };
    std::map<QString, Kept> kept_;
    SharedMeasured averages_of_;
    std::map<AverageOf, std::optional<SharedValue<Curve>>> averages_;
};

} // namespace syntonon
