// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/correction_page.h"

#include "app/model/correction_commands.h"
#include "app/panes/companion.h"
#include "app/panes/correction/fit_channels_pane.h"
#include "app/panes/correction/fit_seats_pane.h"
#include "app/panes/correction/fit_settings_pane.h"
#include "app/panes/correction/found_sections_pane.h"
#include "app/panes/correction/result_pane.h"

namespace syntonon {

CorrectionPage::CorrectionPage(Session& session, QWidget* parent)
    : QWidget(parent), pages_(new Companion(tr("Of the correction"))),
      settings_(new FitSettingsPane(session)), sections_(new FoundSectionsPane(session)),
      seats_(new FitSeatsPane(session)), result_(new ResultPane(session)),
      channels_(new FitChannelsPane(session)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(pages_);
    pages_->add_page(tr("Limits"), settings_);
    pages_->add_page(tr("Sections"), sections_);
    pages_->add_page(tr("Positions"), seats_);
    pages_->add_page(tr("Result"), result_);
    pages_->add_page(tr("Channels"), channels_);
    const auto tell_pages = [this, &session] {
        const CorrectionSpec* spec = selected_correction(session);
        pages_->set_page_there(
            sections, spec != nullptr && std::holds_alternative<SectionsCorrection>(spec->method));
    };
    connect(&session, &Session::selection_changed, this, tell_pages);
    connect(&session, &Session::analysis_changed, this, tell_pages);
    tell_pages();
}

bool CorrectionPage::is_there(const Session& session) {
    return selected_correction(session) != nullptr;
}

} // namespace syntonon
