// What “add a stage” offers.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/stage.h"

#include <QString>
#include <functional>
#include <vector>

class QMenu;
class QObject;

namespace syntonon {

struct NewStage {
    QString title;
    StageSpec spec;     // with useful first values
    QString group = {}; // those of one stand in a menu of their own
};

const std::vector<NewStage>& new_stages();

// All of them into a menu, groups in menus of their own.
void fill_with_new_stages(QMenu& menu, QObject* context,
                          const std::function<void(const StageSpec&)>& chosen);

} // namespace syntonon
