// The pages that belong to an FIR alone.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

namespace syntonon {

class BandsPane;
class Companion;
class PhasePane;
class SamplesPane;
class TimeFormsPane;
class TradePane;
class WeightsPane;
class WindowPane;

// Pages that the selected FIR does not have are not there.
class FirPage : public QWidget {
    Q_OBJECT

public:
    enum Page { bands, samples, weights, window, trade, phases, times };

    explicit FirPage(Session& session, QWidget* parent = nullptr);
    static bool is_there(const Session& session); // the selected stage is an FIR

    Companion* pages() const { return pages_; }
    BandsPane* bands_pane() const { return bands_; }
    SamplesPane* samples_pane() const { return samples_; }
    WeightsPane* weights_pane() const { return weights_; }
    WindowPane* window_pane() const { return window_; }
    TradePane* trade_pane() const { return trade_; }
    TimeFormsPane* times_pane() const { return times_; }
    PhasePane* phase_pane() const { return phases_; }

signals:
    void weight_lane_wanted();

private:
    void tell_pages();

    Session& session_;
    Companion* pages_;
    BandsPane* bands_;
    SamplesPane* samples_;
    WeightsPane* weights_;
    WindowPane* window_;
    TradePane* trade_;
    PhasePane* phases_;
    TimeFormsPane* times_;
};

} // namespace syntonon
