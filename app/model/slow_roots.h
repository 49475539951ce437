// Roots that take long to find, found beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "core/filter/filter.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <map>
#include <string>

namespace syntonon {

class SlowRoots : public QObject {
    Q_OBJECT

public:
    explicit SlowRoots(QObject* parent = nullptr);

    // Of a stage, by its id: at once where they are at hand. Else they are looked for, and those of
    // the stage's filter before stand for them meanwhile; null where there are none of it. While
    // filters follow one another quickly only some have theirs looked for, the last one among them:
    // whoever drags something needs the machine.
    const Expected<Roots>* of(const std::string& stage, const Filter& filter);
    bool is_busy() const { return work_.is_busy() || rest_.isActive(); }

signals:
    void found();

private:
    void look_for(const std::string& stage, const Filter& filter);

    std::map<std::string, Filter, std::less<>> last_; // by stage, whose roots are at hand
    QElapsedTimer since_;                             // the last search was begun
    QTimer rest_;                                     // until the next one may be
    Beside work_{this};
};

} // namespace syntonon
