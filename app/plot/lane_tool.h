// Something on the lanes that can be held: grips of the stage, points of the goal.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QCursor>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <optional>
#include <vector>

namespace syntonon {

// Handlers return true when they took the event; the next tool is asked otherwise.
class LaneTool {
public:
    virtual ~LaneTool() = default;
    virtual void paint(QPainter& painter) = 0;
    virtual bool press(const QMouseEvent& event) = 0;
    virtual bool move(const QMouseEvent& event) = 0; // while a button is held after a taken press
    virtual void release() = 0;
    virtual bool key(const QKeyEvent&) { return false; }
    virtual bool wheel(const QPointF&, double /*clicks*/, bool /*fine*/) { return false; }
    virtual std::optional<QCursor> cursor_at(const QPointF& point) const = 0;
    virtual bool is_holding() const = 0;
    virtual std::vector<QPointF> handle_points() const = 0; // all that are drawn

protected:
    // Escape lets go of what is held and takes back what became of it; true when it did.
    bool escapes(const QKeyEvent& event, Session& session, const QString& gesture) {
        if (event.key() != Qt::Key_Escape) {
            return false;
        }
        session.cancel_gesture(gesture);
        release();
        return true;
    }
};

// Distance in pixels within which a handle is meant.
inline constexpr double handle_reach = 9;

inline bool near(const QPointF& a, const QPointF& b) {
    const QPointF d = a - b;
    return d.x() * d.x() + d.y() * d.y() <= handle_reach * handle_reach;
}

} // namespace syntonon
