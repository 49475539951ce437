// A chain that is not the channel's, to be seen beside it: as it was before a change for a moment,
// or as it would be for as long as somebody points at it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <QObject>
#include <QString>
#include <QTimer>
#include <optional>
#include <string>
#include <utility>

namespace syntonon {

class Glimpse : public QObject {
    Q_OBJECT

public:
    static constexpr int moment_ms = 3000;

    explicit Glimpse(QObject* parent = nullptr) : QObject(parent) {
        timer_.setSingleShot(true);
        timer_.setInterval(moment_ms);
        connect(&timer_, &QTimer::timeout, this, &Glimpse::end);
    }

    // Of a channel, by its id.
    void show_before(const std::string& channel, Filter filter) {
        hold(channel, tr("before"), std::move(filter));
        timer_.start();
    }
    void hold(const std::string& channel, const QString& name, Filter filter) {
        timer_.stop();
        channel_ = channel;
        name_ = name;
        filter_ = std::move(filter);
        emit changed();
    }
    void end() {
        if (filter_) {
            filter_.reset();
            emit changed();
        }
    }
    std::optional<Filter> filter_of(const std::string& channel) const {
        return channel == channel_ ? filter_ : std::nullopt;
    }
    const QString& name() const { return name_; }

signals:
    void changed();

private:
    QTimer timer_;
    std::string channel_;
    QString name_;
    std::optional<Filter> filter_;
};

} // namespace syntonon
