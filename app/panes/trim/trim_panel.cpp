// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/trim_panel.h"

#include "app/panes/trim/trim_panels.h"

namespace syntonon {

TrimPanel* make_trim_panel(const StageSpec& spec, Session& session) {
    return std::visit([&](const auto& s) { return make_panel(s, session); }, *spec);
}

} // namespace syntonon
