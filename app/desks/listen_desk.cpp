// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/listen_desk.h"

#include "app/panes/companion.h"
#include "app/panes/listen/bench_pictures.h"
#include "app/panes/listen/bench_view.h"
#include "app/panes/listen/blind_page.h"
#include "app/panes/listen/levels_page.h"
#include "app/panes/listen/signals_page.h"
#include "app/panes/listen/span_spectrum.h"
#include "app/panes/listen/steps_page.h"
#include "app/panes/listen/tone_page.h"
#include "app/panes/listen/voices_page.h"
#include "app/panes/rail.h"
#include "core/design/modelled_filter.h"

namespace syntonon {

ListenDesk::ListenDesk(Session& session, Rail* rail,
                       const std::function<std::filesystem::path()>& folder, QObject* parent)
    : QObject(parent), bench_(session, folder), listening_(session, bench_), rail_(rail),
      view_(new BenchView(session, bench_, listening_)),
      signals_page_(new SignalsPage(session, bench_, folder)), levels_(new LevelsPage(bench_)),
      steps_(new StepsPage(session, bench_)), blind_(new BlindPage(listening_)),
      upper_(new Companion(tr("Upper companion"))), lower_(new Companion(tr("Lower companion"))) {
    upper_->add_page(tr("Signals"), signals_page_);
    upper_->add_page(tr("Levels"), levels_);
    upper_->add_page(tr("Blind comparison"), blind_);
    upper_->add_page(tr("Table"), steps_);
    lower_->add_page(tr("Spectrogram"), [this] { return new SpectrogramPage(bench_); });
    lower_->add_page(tr("Histogram"), [this] { return new HistogramPage(bench_); });
    lower_->add_page(tr("Level over time"), [this] { return new LevelTimePage(bench_); });
    lower_->add_page(tr("Tone"), [this, &session] { return new TonePage(session, listening_); });
    voices_page_ = 4;
    lower_->add_page(tr("Voices"),
                     [this, &session] { return new VoicesPage(session, listening_); });
    lower_->show_page(0);
    const auto follow = [this, &session] {
        const auto analysis = session.analysis();
        lower_->set_page_there(voices_page_, analysis != nullptr && has_model(analysis->chain));
    };
    connect(&session, &Session::analysis_changed, this, follow);
    follow();
    // Notes are shaped on that page: it comes with them.
    const auto sends_notes = [&session] {
        return std::holds_alternative<NotesRecipe>(signal_sent(session).recipe);
    };
    had_notes_ = sends_notes();
    connect(&session, &Session::study_changed, this, [this, &session, sends_notes] {
        const bool has_notes = sends_notes();
        const auto analysis = session.analysis();
        if (has_notes && !had_notes_ && analysis != nullptr && has_model(analysis->chain)) {
            lower_->show_page(voices_page_);
        }
        had_notes_ = has_notes;
    });
    connect(&listening_, &Listening::ticked, this, [this, &session] {
        if (session.live().is_wished()) {
            session.live().show(listening_.live_levels());
        }
    });
}

DeskParts ListenDesk::parts() const {
    DeskParts parts;
    parts.left = rail_;
    parts.middle = view_;
    parts.upper = upper_;
    parts.lower = lower_;
    parts.rows = {330, 302};
    parts.trims = true;
    return parts;
}

void ListenDesk::show_levels() {
    constexpr int levels_page = 1;
    upper_->show_page(levels_page);
}

VoicesPage* ListenDesk::voices() {
    lower_->show_page(voices_page_);
    return static_cast<VoicesPage*>(lower_->page(voices_page_));
}

void ListenDesk::add_file(const QString& path) {
    constexpr int signals_page = 0;
    upper_->show_page(signals_page);
    signals_page_->add_file(path);
}

bool ListenDesk::is_busy() const {
    const auto* picture = dynamic_cast<const BenchPicture*>(lower_->page(lower_->shown_page()));
    return bench_.is_busy() || view_->spectrum()->is_busy() || levels_->is_busy()
           || (picture != nullptr && picture->is_busy());
}

} // namespace syntonon
