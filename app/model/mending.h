// Mending the selected channel's chain, beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"

#include <QObject>
#include <QString>
#include <QTimer>

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
    void stop(); // nothing is changed

signals:
    void working(int percent); // now and then, where it takes long enough to be told
    // "Peak 78 Hz: gain −7.4 → −8.2 dB; …", and whether the goal is met now.
    void ended(const QString& changes, bool is_met);
    void refused(const QString& why);

private:
    Session& session_;
    QTimer showing_;
    Beside work_{this};
};

} // namespace syntonon
