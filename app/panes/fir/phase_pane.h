// What each form of an FIR's phase costs in delay and pre-ringing, to choose by.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "core/design/fir.h"
#include "core/design/fir/compared_phases.h"

#include <QWidget>
#include <optional>

class QLabel;
class QTableWidget;

namespace syntonon {

// Worked out beside the window while it is looked at. A click on a form, or Enter in its row, takes
// it.
class PhasePane : public QWidget {
    Q_OBJECT

public:
    explicit PhasePane(Session& session, QWidget* parent = nullptr);
    static bool is_there(const Session& session); // the selected stage is an FIR

    QTableWidget* table() const { return table_; }
    QString words() const;
    bool is_ready() const { return !work_.is_busy(); }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void compare(const FirSpec& spec, const Filter& filter);
    void show_rows(const std::vector<PhaseFacts>& all);
    void take_row(int row);
    void show_words(const QString& text);

    Session& session_;
    QTableWidget* table_;
    QLabel* words_;
    std::optional<Filter> compared_; // null: nothing is, or is being
    std::vector<FirPhase> forms_;    // of the rows
    Beside work_{this};
};

} // namespace syntonon
