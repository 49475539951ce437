// What FIRs take on this machine, measured on request.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "core/engine/convolution_load.h"

#include <QTimer>
#include <QWidget>

class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class LoadsPage : public QWidget {
    Q_OBJECT

public:
    explicit LoadsPage(Session& session, QWidget* parent = nullptr);

    void use_block(int frames); // of the next measurement
    QPushButton* measure_button() const { return measure_; }
    QTableWidget* table() const { return table_; }

private:
    void measure();
    void show_progress();
    void show_loads(const std::vector<ConvolutionLoad>& loads);

    Session& session_;
    int block_frames_ = 64;
    QPushButton* measure_;
    QLabel* words_;
    QTableWidget* table_;
    QTimer progress_;
    Beside work_{this};
};

} // namespace syntonon
