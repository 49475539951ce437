// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/bench_view.h"

#include "app/panes/listen/span_spectrum.h"
#include "app/panes/listen/transport.h"
#include "app/panes/listen/waveform_stack.h"

#include <QShortcut>
#include <QSplitter>
#include <QVBoxLayout>

namespace syntonon {

BenchView::BenchView(Session& session, BenchWork& bench, Listening& listening, QWidget* parent)
    : QWidget(parent), bench_(bench), listening_(listening),
      waveforms_(new WaveformStack(session, bench)), spectrum_(new SpanSpectrum(session, bench)),
      transport_(new Transport(session, listening)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* parts = new QSplitter(Qt::Vertical);
    parts->setHandleWidth(1);
    parts->setChildrenCollapsible(false);
    parts->addWidget(waveforms_);
    parts->addWidget(spectrum_);
    parts->setSizes({340, 290});
    column->addWidget(parts, 1);
    column->addWidget(transport_);
    auto* space = new QShortcut(Qt::Key_Space, this);
    space->setContext(Qt::WidgetWithChildrenShortcut);
    connect(space, &QShortcut::activated, this,
            [&listening] { listening.play(!listening.is_playing()); });
    // What plays goes on beside the other desks, and follows what is done there.
    connect(&listening, &Listening::changed, this,
            [this] { bench_.set_watched(isVisible() || listening_.is_playing()); });
    connect(&listening, &Listening::ticked, this, [this, &listening] {
        const bool plays = listening.is_playing();
        waveforms_->show_place(plays ? std::optional(static_cast<double>(listening.position()))
                                     : std::nullopt);
    });
}

void BenchView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    bench_.set_watched(true);
}

void BenchView::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    bench_.set_watched(listening_.is_playing());
}

} // namespace syntonon
