// How loud and how late the measured channels are, each against all, and what aligns them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/study/alignment.h"

#include <QWidget>
#include <optional>
#include <vector>

class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class QuantityEdit;

class LevelsPane : public QWidget {
    Q_OBJECT

public:
    enum Column { name, level, against_all, arrival, to_align };

    explicit LevelsPane(Session& session, QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    QPushButton* align_button() const { return align_; }
    QuantityEdit* from_edit() const { return from_; }
    QuantityEdit* to_edit() const { return to_; }
    QString said() const;
    void fill(); // now; else when it is looked at

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void fill_row(int row, std::optional<double> mean_db);
    void take_range();

    Session& session_;
    QTableWidget* table_;
    QuantityEdit *from_, *to_;
    QPushButton* align_;
    QLabel* said_;
    AlignRange range_;
    std::vector<Standing> standings_; // parallel to the study's channels
    std::optional<Study> seen_;       // what the table was filled from
};

} // namespace syntonon
