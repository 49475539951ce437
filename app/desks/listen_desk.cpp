// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/listen_desk.h"

#include "app/panes/companion.h"
#include "app/panes/listen/samples_table.h"
#include "app/panes/listen/signal_pane.h"
#include "app/panes/listen/signals_view.h"
#include "app/panes/rail.h"

namespace syntonon {

ListenDesk::ListenDesk(Session& session, Rail* rail, QObject* parent)
    : QObject(parent), rail_(rail), view_(new SignalsView(session, signal_)),
      signal_pane_(new SignalPane(signal_)), table_(new SamplesTable),
      upper_(new Companion(tr("Upper companion"))), lower_(new Companion(tr("Lower companion"))) {
    upper_->add_page(tr("Signal"), signal_pane_);
    lower_->add_page(tr("First values"), table_);
    connect(view_, &SignalsView::worked_out, table_,
            [this] { table_->show_values(view_->input(), view_->output()); });
}

DeskParts ListenDesk::parts() const {
    DeskParts parts;
    parts.left = rail_;
    parts.middle = view_;
    parts.upper = upper_;
    parts.lower = lower_;
    parts.rows = {300, 332};
    parts.trims = true;
    return parts;
}

} // namespace syntonon
