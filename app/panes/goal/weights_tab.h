// Weights: a curve through points, and ranges.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/goal/goal_tab.h"

class QCheckBox;

namespace syntonon {

class WeightsTab : public GoalTab {
    Q_OBJECT

public:
    explicit WeightsTab(Session& session);
    void refresh(const Goal* goal) override;
    NumberTable* points() const { return points_; }
    NumberTable* ranges() const { return ranges_; }
    QCheckBox* lane_shown() const { return lane_shown_; }

signals:
    void lane_wanted(bool shown);

private:
    void take_point(int row, int column, const QString& text);
    void take_range(int row, int column, const QString& text);

    NumberTable *points_, *ranges_;
    QCheckBox* lane_shown_;
};

} // namespace syntonon
