// The vertical hairline through all lanes, and a second one from which differences are read.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <optional>

namespace syntonon {

class PlumbLine : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    // Its frequency, if it is on the lanes, and whether it stays when the pointer leaves.
    std::optional<double> hz() const { return hz_; }
    bool is_pinned() const { return is_pinned_; }
    // The second one; it goes when the first is no longer pinned.
    std::optional<double> second_hz() const { return second_hz_; }

    void set(std::optional<double> hz);
    void pin(bool pinned);
    void set_second(std::optional<double> hz);
    void take_away();

signals:
    void changed();

private:
    std::optional<double> hz_, second_hz_;
    bool is_pinned_ = false;
};

} // namespace syntonon
