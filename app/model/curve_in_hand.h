// The measured curve that is being looked at.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <string>

namespace syntonon {

class CurveInHand : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    const std::string& id() const { return id_; } // empty: none
    void take(const std::string& id) {
        if (id != id_) {
            id_ = id;
            emit changed();
        }
    }

signals:
    void changed();

private:
    std::string id_;
};

} // namespace syntonon
