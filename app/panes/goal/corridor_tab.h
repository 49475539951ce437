// The corridor's ranges as a table.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/goal/goal_tab.h"

class QPushButton;

namespace syntonon {

class CorridorTab : public GoalTab {
    Q_OBJECT

public:
    explicit CorridorTab(Session& session);
    void refresh(const Goal* goal) override;
    NumberTable* table() const { return table_; }

private:
    void take(int row, int column, const QString& text);
    const CorridorRange* range_in_hand(); // of the table's current row
    void follow_range();
    void add(void (*command)(Session&));

    NumberTable* table_;
    QPushButton *add_, *stopband_, *remove_, *absolute_;
};

} // namespace syntonon
