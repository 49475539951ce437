// How measured curves are looked at on the Measure desk; not part of the study, which they leave
// unchanged.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/smoothing.h"

#include <QObject>

namespace syntonon {

enum class PhaseShown {
    whole,   // as it was measured
    minimum, // what the level already says
    excess   // the rest: delays, reflections
};

class MeasureView : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    const Smoothing& smoothing() const { return smoothing_; }
    void smooth(const Smoothing& smoothing) {
        if (!(smoothing == smoothing_)) {
            smoothing_ = smoothing;
            emit changed();
        }
    }
    PhaseShown phase() const { return phase_; }
    void show_phase(PhaseShown phase) {
        if (phase != phase_) {
            phase_ = phase;
            emit changed();
        }
    }

signals:
    void changed();

private:
    Smoothing smoothing_;
    PhaseShown phase_ = PhaseShown::whole;
};

} // namespace syntonon
