// How loud input, output and reference are, and how far the first two are from the third.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/model/latest_beside.h"
#include "core/signal/against_reference.h"
#include "core/signal/levels.h"

#include <QTableWidget>
#include <array>
#include <optional>

namespace syntonon {

// Of the selected stretch.
struct BenchFigures {
    PerTrack<SignalLevels> levels;
    // Against the reference, and without one against the input.
    PerTrack<std::optional<AgainstReference>> against;
    bool has_reference = false;
    // Of a step's answers, the whole of them.
    PerTrack<std::optional<double>> overshoot;
    PerTrack<std::optional<double>> settling_samples; // to within 1 % of the final value
};

class LevelsPage : public QTableWidget {
    Q_OBJECT

public:
    explicit LevelsPage(BenchWork& bench, QWidget* parent = nullptr);

    const BenchFigures& figures() const { return figures_; }
    bool is_busy() const { return work_.is_busy(); }

signals:
    void worked_out();

protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void take(const BenchFigures& figures);
    void put(int row, int column, const QString& text, const QString& tip);

    BenchWork& bench_;
    BenchFigures figures_;
    bool stale_ = true;
    LatestBeside work_{this};
};

} // namespace syntonon
