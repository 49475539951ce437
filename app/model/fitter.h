// Stages of the selected channel that are fitted: how they stand, and fitting them beside the
// window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/so_far.h"
#include "core/study/fit_stages.h"

#include <QObject>
#include <QString>
#include <QTimer>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

class Session;

// How one stage stands now.
struct FitState {
    bool is_fitted = false;              // something was found once
    std::optional<OutOfDate> outdated;   // since then
    Expected<FitFigures> figures;        // or why it cannot be fitted
    std::vector<QString> position_names; // parallel to the figures' positions
};

class Fitter : public QObject {
    Q_OBJECT

public:
    explicit Fitter(Session& session);

    // Null until it was worked out, which is a moment after a change, and for stages of other
    // kinds.
    std::shared_ptr<const FitState> state_of(const std::string& stage) const;

    // Fits it anew; what is found becomes one step of the history. Refused where it cannot be.
    Expected<void> begin(const std::string& stage);
    // What has been found by then is taken.
    void stop();
    bool is_busy() const { return work_.is_busy(); }
    bool is_fitting(const std::string& stage) const { return is_busy() && stage_ == stage; }
    double done() const { return work_.done(); }

signals:
    void changed();

private:
    void look_again();
    void refit_by_itself();
    void show_best_so_far();
    void take(const StageSpec& from, const StageSpec& found);

    Session& session_;
    std::map<std::string, std::shared_ptr<const FitState>, std::less<>> states_;
    QTimer settling_, showing_;
    std::string channel_, stage_; // being fitted
    StageSpec from_;
    std::shared_ptr<SoFar<StageSpec>> so_far_;
    std::string refused_by_itself_; // what need not be tried again until something changes
    Beside work_{this};
};

} // namespace syntonon
