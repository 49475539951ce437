// A house curve's numbers.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

#include <QWidget>
#include <vector>

namespace syntonon {

class QuantityEdit;

class HouseCurveForm : public QWidget {
    Q_OBJECT

public:
    HouseCurveForm();
    void show_curve(const HouseCurve& curve);
    QuantityEdit* edit(int index) const { return edits_.at(static_cast<std::size_t>(index)); }

signals:
    void entered(const syntonon::HouseCurve& curve);
    void keep_asked(); // as points
    void problem_found(const QString& text);

private:
    HouseCurve shown_;
    std::vector<QuantityEdit*> edits_;
};

} // namespace syntonon
