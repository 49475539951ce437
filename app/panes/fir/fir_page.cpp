// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/fir_page.h"

#include "app/panes/companion.h"
#include "app/panes/fir/bands_pane.h"
#include "app/panes/fir/phase_pane.h"
#include "app/panes/fir/samples_pane.h"
#include "app/panes/fir/time_forms_pane.h"
#include "app/panes/fir/trade_pane.h"
#include "app/panes/fir/weights_pane.h"
#include "app/panes/fir/window_pane.h"

#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <utility>

namespace syntonon {

FirPage::FirPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), pages_(new Companion(tr("Of the FIR"))),
      bands_(new BandsPane(session)), samples_(new SamplesPane(session)),
      weights_(new WeightsPane(session)), window_(new WindowPane(session)),
      trade_(new TradePane(session)), phases_(new PhasePane(session)),
      times_(new TimeFormsPane(session)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(pages_);
    pages_->add_page(tr("Bands"), bands_);
    pages_->add_page(tr("Samples"), samples_);
    pages_->add_page(tr("Weights"), weights_);
    pages_->add_page(tr("Window"), window_);
    pages_->add_page(tr("Trade"), trade_);
    pages_->add_page(tr("Forms of phase"), phases_);
    pages_->add_page(tr("In time"), times_);
    connect(&session_, &Session::analysis_changed, this, &FirPage::tell_pages);
    connect(&session_, &Session::selection_changed, this, &FirPage::tell_pages);
    connect(weights_, &WeightsPane::lane_wanted, this, &FirPage::weight_lane_wanted);
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
    const std::array<std::pair<Page, bool>, 5> those{{{bands, BandsPane::is_there(session_)},
                                                      {samples, SamplesPane::is_there(session_)},
                                                      {weights, WeightsPane::is_there(session_)},
                                                      {window, WindowPane::is_there(session_)},
                                                      {trade, TradePane::is_there(session_)}}};
    const int shown = pages_->shown_page();
    const auto goes = [&](const auto& page) { return page.first == shown && !page.second; };
    if (std::ranges::any_of(those, goes)) {
        const auto stays =
            std::ranges::find_if(those, [](const auto& page) { return page.second; });
        pages_->show_page(stays != those.end() ? stays->first : phases);
    }
    for (const auto& [page, is_there_now] : those) {
        pages_->set_page_there(page, is_there_now);
    }
}

} // namespace syntonon
