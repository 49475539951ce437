// The target points that are held, to be moved together.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <set>

namespace syntonon {

class HeldPoints : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    const std::set<int>& points() const { return points_; } // by index
    void hold(std::set<int> points) {
        if (points_ != points) {
            points_ = std::move(points);
            emit changed();
        }
    }
    // Of a target that has so many points now. Says nothing: the target itself has changed.
    void keep_below(int count) {
        std::erase_if(points_, [count](int i) { return i >= count; });
    }

signals:
    void changed();

private:
    std::set<int> points_;
};

} // namespace syntonon
