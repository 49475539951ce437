// What starting costs, measured by the program itself: for docs/figures.md.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QElapsedTimer>
#include <QObject>

namespace syntonon {

class MainWindow;

// Waits for the window's first paint, then for five idle seconds, prints milliseconds since the
// process was started, resident megabytes and the CPU time used while idle, and quits.
class StartMeasure : public QObject {
    Q_OBJECT

public:
    explicit StartMeasure(MainWindow& window);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void report();

    MainWindow& window_;
    bool painted_ = false;
    double first_paint_ms_ = 0;
    double cpu_seconds_ = 0;
};

} // namespace syntonon
