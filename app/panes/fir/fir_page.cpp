// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/fir_page.h"

#include "app/panes/companion.h"
#include "app/panes/fir/bands_pane.h"
#include "app/panes/fir/phase_pane.h"
#include "app/panes/fir/window_pane.h"

#include <QVBoxLayout>

namespace syntonon {

FirPage::FirPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), pages_(new Companion(tr("Of the FIR"))),
      bands_(new BandsPane(session)), window_(new WindowPane(session)),
      phases_(new PhasePane(session)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(pages_);
    pages_->add_page(tr("Bands"), bands_);
    pages_->add_page(tr("Window"), window_);
    pages_->add_page(tr("Forms of phase"), phases_);
    connect(&session_, &Session::analysis_changed, this, &FirPage::tell_pages);
    connect(&session_, &Session::selection_changed, this, &FirPage::tell_pages);
    tell_pages();
}

bool FirPage::is_there(const Session& session) {
    return PhasePane::is_there(session);
}

// Phases first: a page that goes makes room for the first one that is there.
void FirPage::tell_pages() {
    if (!is_there(session_)) {
        return;
    }
    const bool has_bands = BandsPane::is_there(session_);
    const bool has_window = WindowPane::is_there(session_);
    const int shown = pages_->shown_page();
    if ((shown == bands && !has_bands) || (shown == window && !has_window)) {
        pages_->show_page(has_bands ? bands : has_window ? window : phases);
    }
    pages_->set_page_there(bands, has_bands);
    pages_->set_page_there(window, has_window);
}

} // namespace syntonon
