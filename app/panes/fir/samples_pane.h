// The samples that an FIR goes through, as a table.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/sample_commands.h"

#include <QWidget>
#include <optional>

class QLabel;
class QPushButton;

namespace syntonon {

class NumberTable;

class SamplesPane : public QWidget {
    Q_OBJECT

public:
    enum Column { frequency, gain, gain_db };

    explicit SamplesPane(Session& session, QWidget* parent = nullptr);
    // The selected stage is a sampled FIR whose samples can be had.
    static bool is_there(const Session& session);

    NumberTable* table() const { return table_; }
    QPushButton* add() const { return add_; }
    QPushButton* remove() const { return remove_; }
    QPushButton* best() const { return best_; }
    QPushButton* on_grid() const { return on_grid_; }
    QString words() const;

private:
    void refresh();
    void tell_buttons();
    void take(int row, int column, const QString& text);
    void add_sample();
    std::optional<std::size_t> chosen() const;

    Session& session_;
    NumberTable* table_;
    QPushButton *add_, *remove_, *best_, *on_grid_;
    QLabel* words_;
    std::optional<QString>
        refused_; // what was typed and could not be, until there is something new
};

} // namespace syntonon
