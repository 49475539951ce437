// How loud the channels were measured, each against all.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QTableWidget>
#include <optional>

namespace syntonon {

class LevelsPane : public QTableWidget {
    Q_OBJECT

public:
    explicit LevelsPane(Session& session, QWidget* parent = nullptr);

    void fill(); // now; else when it is looked at

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    Session& session_;
    std::optional<Study> seen_; // what the table was filled from
};

} // namespace syntonon
