// What a correction does at each position.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace syntonon {

class FitSeatsPane : public QWidget {
    Q_OBJECT

public:
    explicit FitSeatsPane(Session& session, QWidget* parent = nullptr);
    QTableWidget* table() const { return table_; }
    QString words() const;

private:
    void refresh();

    Session& session_;
    QTableWidget* table_;
    QLabel* words_;
};

} // namespace syntonon
