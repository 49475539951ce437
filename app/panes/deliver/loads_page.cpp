// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/loads_page.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace syntonon {
namespace {

constexpr int loads_often_ms = 120;

QString percent(double share) {
    return QObject::tr("%1 %").arg(shown_number(100 * share, 2));
}

} // namespace

LoadsPage::LoadsPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), measure_(new QPushButton(tr("Measure"))),
      words_(new QLabel), table_(new QTableWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    auto* row = new QHBoxLayout;
    row->addWidget(measure_);
    words_->setWordWrap(true);
    row->addWidget(words_, 1);
    column->addLayout(row);
    set_up_rows(*table_, {tr("taps"), tr("direct"), tr("block")});
    set_up_reading(*table_);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    title_numbers(*table_, {0, 1, 2});
    table_->setAccessibleName(tr("Load of FIRs on this machine"));
    column->addWidget(table_, 1);
    words_->setText(tr("Of this machine's core, with the engines that play."));
    measure_->setToolTip(
        tr("Noise through FIRs of 128 to 65536 taps, by both ways, in the delivery's "
           "blocks"));
    progress_.setInterval(loads_often_ms);
    connect(&progress_, &QTimer::timeout, this, &LoadsPage::show_progress);
    connect(measure_, &QPushButton::clicked, this, &LoadsPage::measure);
}

void LoadsPage::use_block(int frames) {
    block_frames_ = frames;
}

void LoadsPage::measure() {
    if (work_.is_busy()) {
        work_.stop();
        show_progress();
        return;
    }
    const double rate_hz = session_.study().sample_rate_hz;
    work_.begin(
        [frames = static_cast<std::size_t>(block_frames_), rate_hz](const Watch& watch) {
            return measured_loads(usual_tap_counts(), frames, rate_hz, watch);
        },
        [this, rate_hz](const Expected<std::vector<ConvolutionLoad>>& loads) {
            show_progress();
            if (loads) {
                show_loads(*loads);
                words_->setText(tr("This machine, one core, %1 Hz, blocks of %2 frames.")
                                    .arg(shown_number(rate_hz, 6))
                                    .arg(block_frames_));
            }
        });
    progress_.start();
    show_progress();
}

void LoadsPage::show_progress() {
    const bool is_busy = work_.is_busy();
    measure_->setText(is_busy ? tr("Stop, %1 %").arg(qRound(100 * work_.done())) : tr("Measure"));
    if (!is_busy) {
        progress_.stop();
    }
}

void LoadsPage::show_loads(const std::vector<ConvolutionLoad>& loads) {
    table_->setRowCount(static_cast<int>(loads.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const ConvolutionLoad& load = loads[static_cast<std::size_t>(row)];
        const QString texts[] = {QString::number(load.taps), percent(load.direct),
                                 percent(load.block)};
        for (int column = 0; column < table_->columnCount(); ++column) {
            auto* item = new QTableWidgetItem(texts[column]);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            // The cheaper one stands out.
            const bool is_cheaper = (column == 1 && load.direct <= load.block)
                                    || (column == 2 && load.block < load.direct);
            item->setFont(text_font(12, is_cheaper ? QFont::DemiBold : QFont::Normal));
            table_->setItem(row, column, item);
        }
    }
}

} // namespace syntonon
