// What the loudspeaker of the measured curve in view adds to what it plays.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/measure/impulse_picture.h"
#include "core/curve/harmonics.h"

#include <vector>

namespace syntonon {

class HarmonicsPage : public ImpulsePicture {
    Q_OBJECT

public:
    explicit HarmonicsPage(Session& session, QWidget* parent = nullptr);
    // "at 1 kHz: 1.1 % in all · 2nd −40.1 dB · 3rd −51 dB", at the pointer's frequency.
    QString reading() const;

protected:
    void work_out(const SharedValue<Measurement>& measured) override;
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRectF room() const;
    double x_of(double hz) const;
    void paint_order(QPainter& painter, std::size_t index) const;

    std::vector<HarmonicLevels> orders_;
    std::vector<double> all_db_; // at the first order's frequencies
    double read_at_hz_ = 1000;
};

} // namespace syntonon
