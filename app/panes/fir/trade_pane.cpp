// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/trade_pane.h"

#include "app/model/selected_fir.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

struct Title {
    TradeOf of;
    const char* text;
};
constexpr std::array titles = std::to_array<Title>({
    {TradeOf::attenuation, QT_TR_NOOP("attenuation dB, by length")},
    {TradeOf::ripple, QT_TR_NOOP("ripple dB, by length")},
    {TradeOf::transition, QT_TR_NOOP("transition Hz, by length")},
    {TradeOf::delay, QT_TR_NOOP("attenuation dB, by delay")},
});

QString words_of(const TradePoint& point, TradeOf of, double rate) {
    QStringList parts;
    if (of == TradeOf::delay) {
        parts << QObject::tr("delay %1 (%2 ms)")
                     .arg(shown_number(point.delay_samples, 4),
                          shown_number(1e3 * point.delay_samples / rate, 3));
    } else {
        parts << QObject::tr("%1 taps").arg(point.length);
    }
    if (of == TradeOf::transition && point.measures.transition_w) {
        parts << QObject::tr("transition %1")
                     .arg(QString::fromStdString(frequency_text(
                         hz_from_rad_per_sample(*point.measures.transition_w, rate), 4)));
    }
    if (point.measures.attenuation_db) {
        parts << QObject::tr("%1 dB down").arg(shown_number(*point.measures.attenuation_db, 3));
    }
    if (point.measures.ripple_db) {
        parts << QObject::tr("ripple %1 dB").arg(shown_number(*point.measures.ripple_db, 2));
    }
    return parts.join(QStringLiteral(" · "));
}

} // namespace

TradePane::TradePane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), curve_(session), chooser_(new QComboBox),
      stop_(new QPushButton(tr("Stop"))), words_(new QLabel),
      plot_(new TradePlot(session, curve_)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 4);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(16, 0, 16, 0);
    row->setSpacing(12);
    row->addWidget(chooser_);
    row->addWidget(words_, 1);
    row->addWidget(stop_);
    column->addLayout(row);
    column->addWidget(plot_, 1);
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    chooser_->setAccessibleName(tr("Which trade"));
    chooser_->setToolTip(tr("Point at a design below to see it on the lanes; a click takes it"));
    connect(chooser_, &QComboBox::activated, this, [this](int index) {
        curve_.choose(static_cast<TradeOf>(chooser_->itemData(index).toInt()));
    });
    connect(stop_, &QPushButton::clicked, this,
            [this] { curve_.is_busy() ? curve_.stop() : curve_.begin(); });
    connect(&curve_, &TradeCurve::changed, this, &TradePane::refresh);
    connect(plot_, &TradePlot::pointed, this, &TradePane::show_words);
}

bool TradePane::is_there(const Session& session) {
    const FirSpec* spec = selected_fir(session);
    return spec != nullptr && !trades_of(*spec).empty();
}

QString TradePane::words() const {
    return words_->text();
}

void TradePane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    curve_.watch(true);
    refresh();
}

void TradePane::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    curve_.watch(false);
}

void TradePane::refresh() {
    if (!isVisible()) {
        return;
    }
    const FirSpec* spec = selected_fir(session_);
    if (spec == nullptr) {
        return;
    }
    const auto offered = trades_of(*spec);
    std::vector<TradeOf> listed;
    for (int i = 0; i < chooser_->count(); ++i) {
        listed.push_back(static_cast<TradeOf>(chooser_->itemData(i).toInt()));
    }
    if (listed != offered) {
        chooser_->clear();
        for (const TradeOf of : offered) {
            const auto title = std::ranges::find(titles, of, &Title::of);
            chooser_->addItem(tr(title->text), static_cast<int>(of));
        }
    }
    const int index = chooser_->findData(static_cast<int>(curve_.of()));
    if (index >= 0) {
        chooser_->setCurrentIndex(index);
    } else if (!offered.empty()) {
        curve_.choose(offered.front());
    }
    stop_->setVisible(curve_.is_busy() || curve_.is_stopped());
    stop_->setText(curve_.is_busy() ? tr("Stop") : tr("Go on"));
    show_words();
}

void TradePane::show_words() {
    const auto at = plot_->pointed_at();
    const auto& points = curve_.points();
    const double rate = session_.study().sample_rate_hz;
    if (at && *at < points.size() && points[*at]) {
        const TradePoint& point = *points[*at];
        words_->setText(point.why.empty() ? words_of(point, curve_.of(), rate)
                                          : QString::fromStdString(point.why));
    } else if (curve_.is_busy()) {
        words_->setText(points.empty()
                            ? tr("being worked out …")
                            : tr("%1 of %2 found").arg(curve_.done()).arg(points.size()));
    } else {
        words_->setText(curve_.present()
                            ? tr("now: %1").arg(words_of(*curve_.present(), curve_.of(), rate))
                            : QString());
    }
}

} // namespace syntonon
