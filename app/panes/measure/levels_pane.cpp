// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/levels_pane.h"

#include "app/widgets/fitted_columns.h"
#include "app/widgets/table_rows.h"
#include "core/base/number_text.h"

#include <QHeaderView>
#include <numeric>
#include <optional>

namespace syntonon {
namespace {

constexpr double from_hz = 200, to_hz = 5000;

QString db(double value) {
    return QString::fromStdString(signed_text(value, 1)) + QObject::tr(" dB");
}

} // namespace

LevelsPane::LevelsPane(Session& session, QWidget* parent)
    : QTableWidget(parent), session_(session) {
    set_up_rows(*this, {tr("channel"), tr("positions"), tr("level"), tr("against all")});
    set_up_reading(*this, beside_page);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    title_numbers(*this, {1, 2, 3});
    setSelectionBehavior(SelectRows);
    setSelectionMode(SingleSelection);
    setAccessibleName(tr("Measured levels of the channels"));
    setToolTip(tr("Averages in dB from 200 Hz to 5 kHz, over log frequency; against all: minus the "
                  "average of the measured channels"));
    connect(&session_, &Session::study_changed, this, &LevelsPane::refresh);
    connect(this, &QTableWidget::cellClicked, this,
            [this](int row, int) { session_.select_channel(row); });
}

void LevelsPane::showEvent(QShowEvent* event) {
    QTableWidget::showEvent(event);
    refresh();
}

void LevelsPane::refresh() {
    if (isVisible()) {
        fill();
    }
}

void LevelsPane::fill() {
    if (session_.study() == seen_) {
        return;
    }
    seen_ = session_.study();
    std::vector<std::optional<double>> levels;
    double sum = 0;
    int counted = 0;
    for (const auto& channel : session_.study().channels) {
        // Only what was measured: working out whole chains would take far longer.
        const auto measured = session_.briefs().measured_of(session_.study(), *channel);
        levels.emplace_back();
        if (measured && *measured != nullptr) {
            if (const auto mean = mean_level_db(*(*measured)->curve, from_hz, to_hz)) {
                levels.back() = *mean;
                sum += *mean;
                ++counted;
            }
        }
    }
    setRowCount(static_cast<int>(levels.size()));
    for (int row = 0; row < rowCount(); ++row) {
        const auto i = static_cast<std::size_t>(row);
        const Channel& channel = *session_.study().channels[i];
        const QString text[] = {QString::fromStdString(channel.name),
                                QString::number(channel.measured.size()),
                                levels[i] ? db(*levels[i]) : tr("not measured"),
                                levels[i] ? db(*levels[i] - sum / counted) : QStringLiteral("–")};
        for (int column = 0; column < columnCount(); ++column) {
            auto* item = new QTableWidgetItem(text[column]);
            item->setToolTip(text[column]);
            item->setTextAlignment((column == 0 ? Qt::AlignLeft : Qt::AlignRight)
                                   | Qt::AlignVCenter);
            setItem(row, column, item);
        }
    }
    fit_columns(*this, {1, 2, 3});
}

} // namespace syntonon
