// The chain's coefficients, section by section.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QTableWidget>

namespace syntonon {

class NumbersPane : public QTableWidget {
    Q_OBJECT

public:
    explicit NumbersPane(Session& session, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override; // Ctrl+C copies the selected cells

private:
    void refresh();

    Session& session_;
};

} // namespace syntonon
