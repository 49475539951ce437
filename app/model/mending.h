// Mending the selected channel's chain, beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"

#include <QObject>
#include <QString>

namespace syntonon {

class Mending : public QObject {
    Q_OBJECT

public:
    static constexpr int most_added = 4; // bells

    Mending(Session& session, QObject* parent);

    // What is found becomes one step of the history. Refused without a goal, with nothing to turn,
    // with what is met already, or while it is being done.
    Expected<void> begin();
    bool is_busy() const { return work_.is_busy(); }
    void stop() { work_.stop(); }

signals:
    // "Peak 78 Hz: gain −7.4 → −8.2 dB; …", and whether the goal is met now.
    void ended(const QString& changes, bool is_met);
    void refused(const QString& why);

private:
    Session& session_;
    Beside work_{this};
};

} // namespace syntonon
