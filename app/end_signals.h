// SIGTERM, SIGHUP and SIGINT as a signal that the event loop delivers.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>

class QSocketNotifier;

namespace syntonon {

// One at a time. A second signal while the first is being answered ends the program at once.
class EndSignals : public QObject {
    Q_OBJECT

public:
    explicit EndSignals(QObject* parent = nullptr);
    ~EndSignals() override;

signals:
    void end_asked_for();

private:
    QSocketNotifier* notifier_ = nullptr;
};

} // namespace syntonon
