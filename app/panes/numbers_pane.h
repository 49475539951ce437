// The chain's coefficients, section by section.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QStringList>
#include <QTableWidget>
#include <string>

namespace syntonon {

class NumbersPane : public QTableWidget {
    Q_OBJECT

public:
    explicit NumbersPane(Session& session, QWidget* parent = nullptr);

    // What stands behind a stage's name: five coefficients, or one text across.
    struct Numbers {
        QStringList cells, tips;
    };

protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override; // Ctrl+C copies the selected cells

private:
    void refresh();
    void put(int row, const QString& title, const Numbers& numbers, const std::string& stage);

    Session& session_;
};

} // namespace syntonon
