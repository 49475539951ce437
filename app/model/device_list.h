// Devices that this machine knows: those it was connected to, and simulated ones that run in this
// program.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/word/processor.h"

#include <QObject>
#include <QString>
#include <memory>
#include <vector>

namespace syntonon::oca {
class RunningDevice;
enum class FaultKind;
} // namespace syntonon::oca

namespace syntonon {

struct KnownDevice {
    QString address; // "host:port"
    QString name;    // as it called itself
    bool is_simulated = false;
};

// Addresses are kept with the machine's settings; simulated ones run until the window is closed.
class DeviceList : public QObject {
    Q_OBJECT

public:
    explicit DeviceList(QObject* parent = nullptr);
    ~DeviceList() override;

    // Simulated ones first, then those connected to last.
    std::vector<KnownDevice> all() const;
    void remember(const QString& address, const QString& name);
    void forget(const QString& address);

    // With four outputs, of that processor, at that rate or the nearest that it has; gives its
    // address. Refused where no port is free.
    Expected<QString> start_simulated(const Processor& processor, double sample_rate_hz);
    // At a certain port of this machine, so that studies find it again.
    Expected<QString> start_simulated(const Processor& processor, double sample_rate_hz,
                                      quint16 port);
    void stop_simulated(const QString& address);
    // In the middle of it.
    void fail_next_transfer(const QString& address, oca::FaultKind fault);
    // Null: none runs there.
    oca::RunningDevice* simulated(const QString& address) const;

signals:
    void changed();

private:
    struct Running;
    void keep();

    std::vector<Running> running_;
    std::vector<KnownDevice> known_; // the one connected to last is the first
};

} // namespace syntonon
