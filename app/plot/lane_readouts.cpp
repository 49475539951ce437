// What the plumb line reads of the chain's curves.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_curves.h"

#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <cmath>

namespace syntonon {
namespace {

QString readout_level(double db) {
    return std::isinf(db) ? QStringLiteral("−∞ dB")
                          : QString::fromStdString(signed_text(db, 2)) + " dB";
}

// The first few shown takes: a box full of fifty would hide the curves.
void add_takes(std::vector<ReadoutRow>& rows, const Channel& channel, const ChannelPoint& point) {
    constexpr int most = 4;
    int shown = 0;
    for (std::size_t i = 0; i < channel.takes.size() && i < point.takes_db.size(); ++i) {
        if (channel.takes[i]->shown && point.takes_db[i] && shown < most) {
            ++shown;
            rows.push_back({QString::fromStdString(channel.takes[i]->name),
                            readout_level(*point.takes_db[i]), take_colour(i)});
        }
    }
}

QString signed_number(double value, int places, const QString& unit) {
    return std::isfinite(value) ? QString::fromStdString(signed_text(value, places)) + unit
                                : tr("none");
}

} // namespace

std::vector<ReadoutRow> LaneCurves::differences_between(double from_hz, double to_hz) const {
    const auto a = session_.point_at(from_hz), b = session_.point_at(to_hz);
    if (!a || !b) {
        return {};
    }
    const Theme& t = theme();
    std::vector<ReadoutRow> rows;
    rows.push_back({tr("octaves"), signed_number(octaves_between(from_hz, to_hz), 3, {}), t.text});
    rows.push_back({tr("ratio"), QString::number(to_hz / from_hz, 'g', 4), t.text});
    const auto add_level = [&](const QString& name, const std::optional<double>& from,
                               const std::optional<double>& to, const QColor& colour) {
        if (from && to) {
            rows.push_back({name, signed_number(*to - *from, 2, tr(" dB")), colour});
        }
    };
    add_level(tr("measured"), a->measured_db, b->measured_db, t.measured);
    if (a->measured_db) {
        add_level(tr("predicted"), a->predicted_db, b->predicted_db, t.ink);
    }
    add_level(tr("goal"), a->target_db, b->target_db, t.corridor_edge);
    add_level(tr("chain"), a->chain.magnitude_db, b->chain.magnitude_db, t.text);
    rows.push_back({tr("phase"),
                    signed_number(deg_from_rad(b->chain.phase_rad - a->chain.phase_rad), 1,
                                  QStringLiteral("°")),
                    t.text});
    const double per_ms = session_.study().sample_rate_hz / 1e3;
    rows.push_back(
        {tr("group delay"),
         signed_number((b->chain.group_delay_samples - a->chain.group_delay_samples) / per_ms, 3,
                       tr(" ms")),
         t.text});
    return rows;
}

std::vector<ReadoutRow> LaneCurves::readout_at(double hz) const {
    const auto point = session_.point_at(hz);
    if (!point) {
        return {};
    }
    const Theme& t = theme();
    std::vector<ReadoutRow> rows;
    if (point->measured_db) {
        rows.push_back({tr("measured"), readout_level(*point->measured_db), t.measured});
    }
    if (point->measured_db && point->predicted_db) {
        rows.push_back({tr("predicted"), readout_level(*point->predicted_db), t.ink});
    }
    if (point->target_db) {
        rows.push_back({tr("goal"), readout_level(*point->target_db), t.corridor_edge});
    }
    rows.push_back({tr("chain"), readout_level(point->chain.magnitude_db), t.text});
    add_takes(rows, *session_.channel(), *point);
    const StageAnalysis* selected = session_.stage_analysis();
    if (selected != nullptr && selected->filter) {
        rows.push_back(
            {tr("stage"),
             readout_level(selected->filter->response_at(hz, session_.axis()).magnitude_db),
             t.copper});
    }
    for (const PartGraphs::Part& part : parts_.parts()) {
        if (is_shown(part.key)) {
            const Probe probe(part.filter, session_.axis());
            rows.push_back({part.name, readout_level(probe.level_db(hz)), part.colour});
        }
    }
    rows.push_back(
        {tr("phase"),
         QString::fromStdString(signed_text(wrapped_deg(deg_from_rad(point->chain.phase_rad)), 1))
             + "°",
         t.text});
    const auto measured =
        timing_ != nullptr && is_shown("predicted_timing") ? timing_->at(hz) : std::nullopt;
    if (measured) {
        const double deg = deg_from_rad(point->chain.phase_rad + measured->phase_rad);
        rows.push_back({tr("predicted phase"),
                        QString::fromStdString(signed_text(wrapped_deg(deg), 1)) + "°",
                        t.measured});
        const double predicted_ms =
            1e3
            * (measured->group_delay_s
               + point->chain.group_delay_samples / session_.study().sample_rate_hz);
        rows.push_back({tr("predicted delay"),
                        std::isnan(predicted_ms)
                            ? tr("none")
                            : QString::fromStdString(signed_text(predicted_ms, 3)) + " ms",
                        t.measured});
    }
    const double delay_ms =
        point->chain.group_delay_samples / session_.study().sample_rate_hz * 1e3;
    rows.push_back({tr("group delay"),
                    std::isnan(delay_ms) ? tr("none")
                                         : QString::fromStdString(signed_text(delay_ms, 3)) + " ms",
                    t.text});
    return rows;
}

} // namespace syntonon
