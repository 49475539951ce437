// The roots that are held, to be moved and changed together.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/root_edits.h"

#include <QObject>
#include <set>
#include <string>

namespace syntonon {

// A root, or a pair by one of its two, of a stage: counted as in its filter's roots.
struct RootRef {
    std::string stage; // its id
    RootPlace place;

    auto operator<=>(const RootRef&) const = default; // NOLINT(modernize-use-nullptr): it is none
};

class RootsInHand : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    const std::set<RootRef>& roots() const { return roots_; }
    bool holds(const RootRef& root) const { return roots_.contains(root); }
    // Alone, unless it is one of those that are held.
    void take(const RootRef& root) {
        if (!holds(root)) {
            hold({root});
        }
    }
    void toggle(const RootRef& root) {
        std::set<RootRef> roots = roots_;
        if (!roots.erase(root)) {
            roots.insert(root);
        }
        hold(std::move(roots));
    }
    void hold(std::set<RootRef> roots) {
        if (roots_ != roots) {
            roots_ = std::move(roots);
            emit changed();
        }
    }

signals:
    void changed();

private:
    std::set<RootRef> roots_;
};

} // namespace syntonon
