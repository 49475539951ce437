// A hand on a grip, and how long each of its moves took.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_stack.h"

#include <QApplication>
#include <QMouseEvent>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <utility>
#include <vector>

namespace syntonon {

struct DragTimes {
    double median_ms, percentile_95_ms, worst_ms;
};

inline void send_mouse(QWidget& widget, QEvent::Type type, const QPointF& at,
                       Qt::MouseButton button, Qt::MouseButtons buttons) {
    QMouseEvent event(type, at, widget.mapToGlobal(at), button, buttons, Qt::NoModifier);
    QApplication::sendEvent(&widget, &event);
}

// Everything that was asked to be repainted is painted when this returns.
inline void paint_all() {
    QApplication::sendPostedEvents();
    QApplication::processEvents();
}

inline DragTimes summed_up(std::vector<double> ms) {
    std::ranges::sort(ms);
    return {ms[ms.size() / 2], ms[ms.size() * 95 / 100], ms.back()};
}

// The whole window painted anew, with nothing changed: what a move is measured against.
inline DragTimes repaint_all(QWidget& window, int times) {
    std::vector<double> ms;
    for (int i = 0; i < times; ++i) {
        const auto begun = std::chrono::steady_clock::now();
        for (QWidget* each : window.findChildren<QWidget*>()) {
            each->update();
        }
        window.update();
        paint_all();
        const std::chrono::duration<double, std::milli> took =
            std::chrono::steady_clock::now() - begun;
        ms.push_back(took.count());
    }
    return summed_up(std::move(ms));
}

// A widget held at `start` and moved by steps(i); each move until everything is painted.
template <class Steps>
DragTimes drag_from(QWidget& widget, const QPointF& start, int moves, Steps steps) {
    send_mouse(widget, QEvent::MouseButtonPress, start, Qt::LeftButton, Qt::LeftButton);
    std::vector<double> ms;
    for (int i = 0; i < moves; ++i) {
        const QPointF at = start + steps(i);
        const auto begun = std::chrono::steady_clock::now();
        send_mouse(widget, QEvent::MouseMove, at, Qt::NoButton, Qt::LeftButton);
        paint_all();
        const std::chrono::duration<double, std::milli> took =
            std::chrono::steady_clock::now() - begun;
        ms.push_back(took.count());
    }
    send_mouse(widget, QEvent::MouseButtonRelease, start, Qt::LeftButton, Qt::NoButton);
    return summed_up(std::move(ms));
}

// The selected stage's grip, in small circles.
inline DragTimes drag_grip(LaneStack& lanes, int moves) {
    return drag_from(lanes, *lanes.stage_grips().grip_point(), moves, [](int i) {
        return QPointF(120 * std::sin(i * 0.05), 80 * std::sin(i * 0.083));
    });
}

} // namespace syntonon
