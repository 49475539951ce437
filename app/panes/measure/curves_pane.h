// The study's curves in a table: where they come from, whose they are, and what is done with them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/widgets/theme.h"

#include <QWidget>
#include <optional>

class QMenu;
class QPushButton;
class QTableWidget;
class QToolButton;

namespace syntonon {

class CurvesPane : public QWidget {
    Q_OBJECT

public:
    explicit CurvesPane(Session& session, QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    QPushButton* colour_button() const { return colour_; }
    QPushButton* remove_button() const { return remove_; }
    QPushButton* give_button() const { return give_; }

    enum Column { channels, position, points, range, level, source };

    void fill(); // now; else when it is looked at

protected:
    void showEvent(QShowEvent* event) override;

private:
    void follow();
    void refresh();
    void fill_row(int row, const Curve& curve);
    QString channels_of(const Curve& curve) const;
    void fill_channels(QMenu& menu);
    void choose_colour();

    Session& session_;
    QTableWidget* table_;
    QPushButton *rename_, *colour_, *give_, *remove_;
    bool filling_ = false;
    // What the table was filled from.
    struct Seen {
        Study study;
        std::string in_hand;
        ThemeName theme = ThemeName::paper;
        bool operator==(const Seen&) const = default;
    };
    std::optional<Seen> seen_;
};

} // namespace syntonon
