// The chain as it was before a change, to be seen beside the new one for a moment.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <QObject>
#include <QTimer>
#include <optional>
#include <string>

namespace syntonon {

class Glimpse : public QObject {
    Q_OBJECT

public:
    static constexpr int moment_ms = 3000;

    explicit Glimpse(QObject* parent = nullptr) : QObject(parent) {
        timer_.setSingleShot(true);
        timer_.setInterval(moment_ms);
        connect(&timer_, &QTimer::timeout, this, [this] {
            filter_.reset();
            emit changed();
        });
    }

    // Of a channel, by its id.
    void show(const std::string& channel, Filter filter) {
        channel_ = channel;
        filter_ = std::move(filter);
        timer_.start();
        emit changed();
    }
    std::optional<Filter> filter_of(const std::string& channel) const {
        return channel == channel_ ? filter_ : std::nullopt;
    }

signals:
    void changed();

private:
    QTimer timer_;
    std::string channel_;
    std::optional<Filter> filter_;
};

} // namespace syntonon
