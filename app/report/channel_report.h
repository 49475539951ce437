// One page about a channel, for those who have no Syntonon: curves, verdict, stages.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/study/analysis.h"
#include "core/study/before_after.h"

#include <QPainter>
#include <QRectF>
#include <QString>
#include <optional>
#include <vector>

namespace syntonon {

class Session;

// What stands on the page.
struct ChannelReport {
    QString study, channel, goal; // names; the goal's may be empty
    QColor colour;                // the channel's, on paper
    QString made_on;              // a date
    double sample_rate_hz = 48000;
    std::optional<BeforeAfter> result;               // absent without a measured set
    std::shared_ptr<const ChannelAnalysis> analysis; // not null
    Channel stages_of;
};

// Of any channel of the study, as it stands now. Refused while one of its stages is being designed,
// or where one cannot be.
Expected<ChannelReport> report_of(Session& session, const Channel& channel);

// Everything fits: of what there is too much, the last line says how much more there is.
void paint_report(QPainter& painter, const QRectF& page, const ChannelReport& report);

// A page of A4. Refused where the file cannot be written.
Expected<void> save_report(const ChannelReport& report, const QString& path);

// "zenith-left_report.pdf"
QString name_of_report(const ChannelReport& report);

} // namespace syntonon
