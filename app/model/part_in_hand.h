// Which of a stage's many parts is held, where it has several that are held alike: a found section
// of a correction.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <cstddef>

namespace syntonon {

class PartInHand : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    std::size_t at() const { return at_; } // may be beyond the last one: then that is meant
    void take(std::size_t at) {
        if (at != at_) {
            at_ = at;
            emit changed();
        }
    }

signals:
    void changed();

private:
    std::size_t at_ = 0;
};

} // namespace syntonon
