// One of the goal pane's tabs.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/goal_commands.h"
#include "app/panes/goal/number_table.h"

#include <QWidget>

namespace syntonon {

class GoalTab : public QWidget {
    Q_OBJECT

public:
    explicit GoalTab(Session& session) : session_(session) {}

    // The channel's goal, or the one that the first change makes; null without a channel. Called
    // whenever the study or the way levels are written changes.
    virtual void refresh(const Goal* goal) = 0;
    void refresh_stated() { refresh(stated()); }
    void set_level_text(LevelText form) { level_text_ = form; }

signals:
    void problem_found(const QString& text);

protected:
    QuantityContext context(double current) const {
        return {session_.study().sample_rate_hz, current};
    }
    // Makes `tried` the goal, or says what is wrong with it and shows the old one.
    void take_if(const Expected<void>& typed, const QString& name, const Goal& tried) {
        const auto ok = typed ? check(tried) : typed;
        if (!ok) {
            refresh_stated();
            emit problem_found(QString::fromStdString(to_text(ok.error())));
            return;
        }
        emit problem_found({});
        // Later than the signal of the table or line, whose editor is still open.
        QMetaObject::invokeMethod(
            this,
            [this, name, tried] {
                edit_goal(session_, name, [&](Goal& g) { g = tried; });
                refresh_stated(); // "8k" for what is 8000 already is written out, too
            },
            Qt::QueuedConnection);
    }

    // Good until it is asked for again.
    const Goal* stated() {
        if (session_.channel() == nullptr) {
            return nullptr;
        }
        stated_ = goal_to_state(session_);
        return &stated_;
    }

    Session& session_;
    LevelText level_text_ = LevelText::db;

private:
    Goal stated_;
};

} // namespace syntonon
