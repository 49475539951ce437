// How the impulse response in view dies away: decay by octaves, energy over time, waterfall,
// spectrogram.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/measure/impulse_picture.h"
#include "core/curve/decay.h"
#include "core/curve/energy.h"
#include "core/curve/waterfall.h"
#include "core/signal/spectrogram.h"

#include <vector>

namespace syntonon {

class DecayPage : public ImpulsePicture {
    Q_OBJECT

public:
    explicit DecayPage(Session& session, QWidget* parent = nullptr);
    const std::vector<DecayTimes>& times() const { return made_.times; }

protected:
    void work_out(const SharedValue<Measurement>& measured) override;
    void paintEvent(QPaintEvent* event) override;

private:
    struct Made {
        std::vector<DecayTimes> times; // the first of all frequencies
        std::vector<DecayCurve> curves;
    };
    static Made made_of(const ImpulseResponse& impulse);
    void paint_curves(QPainter& painter, const QRectF& room) const;
    void paint_table(QPainter& painter, const QRectF& room) const;
    Made made_;
};

class EnergyPage : public ImpulsePicture {
    Q_OBJECT

public:
    explicit EnergyPage(Session& session, QWidget* parent = nullptr);
    const EarlyAndLate& early_and_late() const { return made_.early_and_late; }

protected:
    void work_out(const SharedValue<Measurement>& measured) override;
    void paintEvent(QPaintEvent* event) override;

private:
    struct Made {
        EnergyOverTime over_time;
        EarlyAndLate early_and_late;
        double arrival_s = 0;
    };
    Made made_;
};

class WaterfallPage : public ImpulsePicture {
    Q_OBJECT

public:
    explicit WaterfallPage(Session& session, QWidget* parent = nullptr);
    const Waterfall& waterfall() const { return made_; }

protected:
    void work_out(const SharedValue<Measurement>& measured) override;
    void paintEvent(QPaintEvent* event) override;

private:
    Waterfall made_;
};

class ImpulseSpectrogramPage : public ImpulsePicture {
    Q_OBJECT

public:
    explicit ImpulseSpectrogramPage(Session& session, QWidget* parent = nullptr);

protected:
    void work_out(const SharedValue<Measurement>& measured) override;
    void paintEvent(QPaintEvent* event) override;

private:
    struct Made {
        Spectrogram picture;
        double from_ms = 0, to_ms = 0, rate_hz = 48'000;
    };
    Made made_;
};

} // namespace syntonon
