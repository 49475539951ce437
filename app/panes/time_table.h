// The first values of the chain's impulse and step response, to be read and copied.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QTableWidget>

namespace syntonon {

class TimeTable : public QTableWidget {
    Q_OBJECT

public:
    static constexpr int shown_values = 32;

    explicit TimeTable(Session& session, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();

    Session& session_;
};

} // namespace syntonon
