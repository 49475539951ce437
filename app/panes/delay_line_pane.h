// The chain run sample by sample: what goes in, what comes out, and what stands in its delay lines.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/filter/stepper.h"

#include <QWidget>
#include <vector>

class QComboBox;
class QSpinBox;
class QToolButton;

namespace syntonon {

class DelayLinePane : public QWidget {
    Q_OBJECT

public:
    explicit DelayLinePane(Session& session, QWidget* parent = nullptr);

    QSpinBox* sample() const { return sample_; } // the last one that went in
    QComboBox* input() const { return input_; }
    double last_output() const { return output_; }
    const std::vector<DelayLine>& lines() const { return lines_; }

protected:
    void showEvent(QShowEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void run();
    void paint_line(QPainter& painter, const DelayLine& line, const QRect& box) const;
    double input_at(int n) const;

    Session& session_;
    QSpinBox* sample_;
    QComboBox* input_;
    double output_ = 0, largest_ = 0;
    bool grows_ = false;
    std::vector<DelayLine> lines_;
};

} // namespace syntonon
