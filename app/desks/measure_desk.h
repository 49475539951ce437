// The desk of measured curves: whose they are, how they look, where they came from.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk_frame.h"
#include "app/model/measure_view.h"
#include "app/model/session.h"
#include "core/curve/sweep.h"

#include <QObject>

class QActionGroup;
class QSplitter;
class QToolButton;

namespace syntonon {

class CurvesPane;
class ImpulsePane;
class LaneStack;
class LevelsPane;
class PositionsPane;
class SweepPage;

class MeasureDesk : public QObject {
    Q_OBJECT

public:
    explicit MeasureDesk(Session& session, QObject* parent = nullptr);

    DeskParts parts() const;
    void prepare(); // fills what would be filled when it is first shown
    LaneStack* lanes() const { return lanes_; }
    QToolButton* smoothing_button() const { return smoothing_; }
    PositionsPane* positions() const { return positions_; }
    CurvesPane* curves() const { return curves_; }
    ImpulsePane* impulse() const { return impulse_; }
    MeasureView& look() { return look_; }
    SweepPage* sweep_page() const { return sweep_; }
    const SweepPlan& sweep() const; // that recordings are deconvolved with
    Companion* upper() const { return upper_; }
    Companion* lower() const { return lower_; }
    bool is_busy() const; // something of what is shown is being worked out

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; // of the smoothing's button

private:
    QWidget* look_row();
    void turn_smoothing(int steps); // coarser
    void offer_smoothing();
    void offer_phase();
    Session& session_;
    MeasureView look_;
    LaneStack* lanes_;
    ImpulsePane* impulse_;
    QSplitter* middle_;
    QToolButton *smoothing_, *phase_;
    QActionGroup* smoothings_ = nullptr; // as the menu has them
    int turned_ = 0;                     // of the wheel, less than a notch
    PositionsPane* positions_;
    CurvesPane* curves_;
    LevelsPane* levels_;
    SweepPage* sweep_;
    Companion *upper_, *lower_;
};

} // namespace syntonon
