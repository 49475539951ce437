// The sections that a correction found, as a table.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace syntonon {

class NumberTable;

class FoundSectionsPane : public QWidget {
    Q_OBJECT

public:
    enum Column { shape, frequency, gain, q, held };

    explicit FoundSectionsPane(Session& session, QWidget* parent = nullptr);

    NumberTable* table() const { return table_; }
    QPushButton* lock() const { return lock_; }
    QPushButton* add() const { return add_; }
    QPushButton* remove() const { return remove_; }
    QPushButton* open() const { return open_; }
    QString words() const;

private:
    void refresh();
    void tell_buttons();
    void take(int row, int column, const QString& text);

    Session& session_;
    NumberTable* table_;
    QPushButton *lock_, *add_, *remove_, *open_;
    QLabel* words_;
    QString refused_;
};

} // namespace syntonon
