// Roots that take long to find, found beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "core/filter/filter.h"

#include <QObject>
#include <map>
#include <string>

namespace syntonon {

class SlowRoots : public QObject {
    Q_OBJECT

public:
    explicit SlowRoots(QObject* parent = nullptr) : QObject(parent) {}

    // Of a stage, by its id: at once where they are at hand. Else they are looked for, and those of
    // the stage's filter before stand for them meanwhile; null where there are none of it.
    const Expected<Roots>* of(const std::string& stage, const Filter& filter);
    bool is_busy() const { return work_.is_busy(); }

signals:
    void found();

private:
    void look_for(const std::string& stage, const Filter& filter);

    std::map<std::string, Filter, std::less<>> last_; // by stage, whose roots are at hand
    Beside work_{this};
};

} // namespace syntonon
