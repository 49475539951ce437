// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/tone_meter.h"

#include "app/model/session.h"
#include "core/signal/tone_meter.h"

#include <cmath>
#include <vector>

namespace syntonon {
namespace {

Expected<ToneReading> reading_of(const Filter& chain, double hz, const Axis& axis) {
    const auto measured = measured_gain_db(chain, hz, axis.sample_rate_hz);
    if (!measured) {
        return tl::unexpected(measured.error());
    }
    return ToneReading{hz, *measured, chain.response_at(hz, axis).magnitude_db};
}

} // namespace

ToneMeter::ToneMeter(Session& session) : QObject(&session), session_(session) {
    connect(&session_.plumb(), &PlumbLine::changed, this, &ToneMeter::follow);
    connect(&session_, &Session::analysis_changed, this, &ToneMeter::follow);
}

void ToneMeter::switch_on(bool on) {
    on_ = on;
    now_.reset();
    problem_.clear();
    if (!on) {
        work_.stop();
        sweeping_.stop();
        forget();
    } else if (!session_.plumb().hz()) {
        constexpr double first_hz = 1000;
        session_.plumb().set(first_hz);
        session_.plumb().pin(true);
    }
    follow();
    emit changed();
}

void ToneMeter::forget() {
    collected_.clear();
    emit changed();
}

void ToneMeter::follow() {
    const auto analysis = session_.analysis();
    const auto hz = session_.plumb().hz();
    if (!on_ || analysis == nullptr || session_.channel() == nullptr) {
        return;
    }
    if (!measured_ || !measured_->is_same_as(analysis->chain)) {
        measured_ = analysis->chain;
        sweeping_.stop();
        collected_.clear();
    }
    if (!hz || *hz <= 0 || *hz >= session_.axis().end_hz() || session_.axis().is_analog()) {
        now_.reset();
        emit changed();
        return;
    }
    if (now_ && now_->hz == *hz && collected_.contains(*hz)) {
        return;
    }
    work_.begin([chain = analysis->chain, hz = *hz,
                 axis = session_.axis()](const Watch&) { return reading_of(chain, hz, axis); },
                [this, chain = analysis->chain](const Expected<ToneReading>& reading) {
                    take(chain, reading);
                });
}

void ToneMeter::take(const Filter& chain, const Expected<ToneReading>& reading) {
    if (!on_ || !measured_ || !measured_->is_same_as(chain)) {
        return; // of a chain that is no longer there
    }
    problem_ = reading ? QString() : QString::fromStdString(to_text(reading.error()));
    now_.reset();
    if (reading) {
        now_ = *reading;
        collected_[reading->hz] = *reading;
    }
    emit changed();
}

void ToneMeter::sweep(int count) {
    const auto analysis = session_.analysis();
    if (analysis == nullptr || session_.channel() == nullptr || session_.axis().is_analog()) {
        return;
    }
    if (!on_) {
        switch_on(true);
    }
    const Axis axis = session_.axis();
    sweeping_.begin(
        [chain = analysis->chain, axis, count](const Watch& watch) {
            std::vector<ToneReading> readings;
            constexpr double low_hz = 20, share = 0.98;
            const double ratio = share * axis.end_hz() / low_hz;
            for (int i = 0; i < count && !watch.is_stopped(); ++i) {
                const double hz = low_hz * std::pow(ratio, i / std::max(1.0, count - 1.0));
                if (const auto reading = reading_of(chain, hz, axis)) {
                    readings.push_back(*reading);
                }
            }
            return readings;
        },
        [this](const std::vector<ToneReading>& readings) {
            for (const ToneReading& reading : readings) {
                collected_[reading.hz] = reading;
            }
            emit changed();
        });
}

} // namespace syntonon
