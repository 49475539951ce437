// The bands that an FIR is asked for, as a table.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/fir.h"

#include <QWidget>
#include <functional>
#include <optional>

class QLabel;
class QPushButton;

namespace syntonon {

class NumberTable;

class BandsPane : public QWidget {
    Q_OBJECT

public:
    enum Column { from_hz, to_hz, gain, gain_db, gain_to, weight };

    explicit BandsPane(Session& session, QWidget* parent = nullptr);
    // The selected stage is an FIR that is asked for by bands, or the goal.
    static bool is_there(const Session& session);

    NumberTable* table() const { return table_; }
    QPushButton* add() const { return add_; }
    QPushButton* remove() const { return remove_; }
    QString problem() const;

private:
    const FirSpec* fir() const;
    void refresh();
    void take(int row, int column, const QString& text);
    void add_band();
    void change(const QString& name, const std::function<void(FirWish&)>& change);

    Session& session_;
    NumberTable* table_;
    QPushButton *add_, *remove_;
    QLabel* problem_;
    // What was typed and refused stays said until the bands are others.
    struct Refused {
        FirWish wish;
        QString why;
    };
    std::optional<Refused> refused_;
};

} // namespace syntonon
