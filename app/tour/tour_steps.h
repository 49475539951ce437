// The first hour, step by step: what is said, what is ringed, how it is done by hand or shown.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QList>
#include <QString>
#include <functional>

class QWidget;

namespace syntonon {

class MainWindow;

struct TourStep {
    QString title, text;
    std::function<void(MainWindow&)> prepare;   // brings the place to the front; may be empty
    std::function<QWidget*(MainWindow&)> place; // what is ringed; may be empty
    std::function<void(MainWindow&)> show;      // does it; empty: there is only to look
    std::function<bool(MainWindow&)> is_done;   // by hand or by `show`; empty with it
};

// For the demo study; the same window goes through all of them in order.
QList<TourStep> tour_steps();

} // namespace syntonon
