// The fields of the selected stage: a panel for each kind.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

namespace syntonon {

class TrimPanel : public QWidget {
    Q_OBJECT

public:
    using QWidget::QWidget;
    // Shows the selected stage, which is of the panel's kind.
    virtual void show_stage(const Stage& stage) = 0;
    // It needs the room in which the strip else shows coefficients.
    virtual bool needs_all_room() const { return false; }
};

// The panel for specs of this one's kind, made on first use.
TrimPanel* make_trim_panel(const StageSpec& spec, Session& session);

} // namespace syntonon
