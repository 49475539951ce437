// What a recursive fit follows instead of the goal: level, phase or delay by points in a table.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/fit/fitted.h"

#include <QWidget>
#include <set>
#include <vector>

namespace syntonon {

class LimitTable;

enum class OwnLine { level, phase, delay };

// Null where the spec states none.
std::vector<TargetPoint>* points_of(FittedSpec& spec, OwnLine line);
// Level over its range to begin with.
void state_own(FittedSpec& spec, OwnLine line);
void leave_own(FittedSpec& spec, OwnLine line);

class OwnTarget : public QWidget {
    Q_OBJECT

public:
    OwnTarget(Session& session, OwnLine line, QWidget* parent = nullptr);

    void show_spec(const FittedSpec& spec); // nothing where it states none
    LimitTable* table() const { return table_; }

signals:
    void problem_found(const QString& text);

private:
    void take(int row, int column, const QString& text);
    void add_point();
    void remove_points(const std::set<int>& rows);
    void edit(const std::function<void(std::vector<TargetPoint>&)>& change);

    Session& session_;
    OwnLine line_;
    LimitTable* table_;
};

} // namespace syntonon
