// A limit by frequency: points in a table, with buttons for more and fewer.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <QWidget>
#include <set>
#include <utility>
#include <vector>

class QPushButton;

namespace syntonon {

class NumberTable;

class LimitTable : public QWidget {
    Q_OBJECT

public:
    LimitTable(const QString& caption, const QString& title, const QString& about,
               QWidget* parent = nullptr);

    void show_points(const std::vector<std::pair<double, double>>& points);
    NumberTable* table() const { return table_; }
    QPushButton* add() const { return add_; }
    QPushButton* remove() const { return remove_; }

signals:
    void entered(int row, int column, const QString& text);
    void more_wanted();
    void fewer_wanted(const std::set<int>& rows);

private:
    void tell_buttons();

    NumberTable* table_;
    QPushButton *add_, *remove_;
};

} // namespace syntonon
