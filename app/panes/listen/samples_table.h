// The first values of a signal before and after the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QTableWidget>
#include <vector>

namespace syntonon {

class SamplesTable : public QTableWidget {
    Q_OBJECT

public:
    static constexpr int shown_values = 32;

    explicit SamplesTable(QWidget* parent = nullptr);
    void show_values(const std::vector<double>& in, const std::vector<double>& out);

protected:
    void keyPressEvent(QKeyEvent* event) override;
};

} // namespace syntonon
