// Designs that are made beside the window: what, how far, and a button to stop them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QPushButton;

namespace syntonon {

// Hidden while there are none.
class JobsBox : public QWidget {
    Q_OBJECT

public:
    explicit JobsBox(Session& session, QWidget* parent);
    void refresh();
    QString line() const { return line_; } // "Zenith: FIR 4096 taps" or "3 designs"
    QPushButton* button() const { return button_; }
    QSize sizeHint() const override { return {230, 44}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Session& session_;
    QString line_;
    double done_ = 0; // of all, 0 to 1
    bool is_stopped_ = false, judges_only_ = false;
    QPushButton* button_; // stops, or starts again
};

} // namespace syntonon
