// The middle of the Listen desk: waveforms above the spectrum of what is selected in them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"

#include <QWidget>

namespace syntonon {

class Listening;
class SpanSpectrum;
class Transport;
class WaveformStack;

class BenchView : public QWidget {
    Q_OBJECT

public:
    BenchView(Session& session, BenchWork& bench, Listening& listening, QWidget* parent = nullptr);

    WaveformStack* waveforms() const { return waveforms_; }
    SpanSpectrum* spectrum() const { return spectrum_; }
    Transport* transport() const { return transport_; }

protected:
    // Signals are worked on while they are looked at.
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    BenchWork& bench_;
    Listening& listening_;
    WaveformStack* waveforms_;
    SpanSpectrum* spectrum_;
    Transport* transport_;
};

} // namespace syntonon
