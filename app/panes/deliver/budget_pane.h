// What the chosen delivery costs on its processor, and from where on block convolution is cheaper.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/word/budget.h"

#include <QWidget>
#include <optional>

namespace syntonon {

class BudgetPane : public QWidget {
    Q_OBJECT

public:
    explicit BudgetPane(QWidget* parent = nullptr);

    void show_budget(const Processor& processor, int block_frames, double sample_rate_hz,
                     Expected<Budget> budget);
    void show_nothing();
    QString line(std::size_t i) const; // "1240 of 2000"
    QString break_even() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paint_bars(QPainter& painter, int& y) const;
    void paint_break_even(QPainter& painter, int y) const;

    std::optional<Processor> processor_;
    int block_frames_ = 1;
    double sample_rate_hz_ = 48000;
    std::optional<Expected<Budget>> budget_;
};

} // namespace syntonon
