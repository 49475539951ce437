// How the curves on the lanes are named and explained.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_curves.h"

#include "app/model/fitter.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/study/chain.h"
#include "core/study/comparison.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr int most_named_takes = 10; // of more the names would fill the lane

QString db_text(double db) {
    return QString::number(db, 'g', 3);
}

QString corridor_text(const Goal& goal) {
    const auto& first = goal.corridor.front();
    const bool same = std::ranges::all_of(goal.corridor, [&](const CorridorRange& r) {
        return r.above_db == first.above_db && r.below_db == first.below_db && !r.absolute
               && !slopes(r);
    });
    if (!same || !first.above_db || !first.below_db) {
        return tr("goal");
    }
    return *first.above_db == *first.below_db
               ? QObject::tr("goal ±%1 dB").arg(db_text(*first.above_db))
               : QObject::tr("goal +%1 −%2 dB")
                     .arg(db_text(*first.above_db), db_text(*first.below_db));
}

} // namespace

std::vector<CurveName> LaneCurves::curves() const {
    std::vector<CurveName> all;
    const Channel* channel = session_.channel();
    if (channel == nullptr) {
        return all;
    }
    all.push_back({"prediction", shown_.measured ? tr("predicted") : tr("chain")});
    if (shown_.measured) {
        all.push_back({"measured", tr("measured")});
    }
    if (const auto analysis = session_.analysis();
        analysis != nullptr && analysis->words != nullptr && !analysis->words->problem) {
        all.push_back(
            {"words", tr("as the words of %1").arg(shown_words(analysis->words->delivery))});
    }
    if (timing_ != nullptr) {
        all.push_back({"predicted_timing", tr("predicted phase and delay")});
    }
    if (shown_.goal) {
        all.push_back({"target", tr("goal")});
    }
    if (session_.stage() != nullptr) {
        all.push_back({"stage", tr("selected stage")});
    }
    for (const PartGraphs::Part& part : parts_.parts()) {
        all.push_back({part.key, part.name});
    }
    if (fit_state() != nullptr) {
        all.push_back({"reachable", tr("reachable by correction")});
    }
    if (channel->difference) {
        all.push_back({"difference", tr("difference")});
    }
    for (const auto& take : channel->takes) {
        if (take->shown) {
            all.push_back({take_key(*take), QString::fromStdString(take->name)});
        }
    }
    return all;
}

namespace {

// Beside the highest place of the shown part, where it stands apart from the other curves.
CurveLabel measured_label(const LanePlot& plot, const Curve& curve) {
    double hz = std::max(curve.low_hz(), plot.low_hz()), level = -1e9;
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        if (curve.frequency_hz[i] >= plot.low_hz() && curve.frequency_hz[i] <= plot.high_hz()
            && curve.magnitude_db[i] > level) {
            hz = curve.frequency_hz[i];
            level = curve.magnitude_db[i];
        }
    }
    return {"measured", QObject::tr("measured"), theme().measured, hz, level, false, true};
}

// The last shown point of a trace.
std::optional<CurveLabel> end_label(const LanePlot& plot, const LevelTrace& trace) {
    const auto& hz = trace.frequency_hz;
    const auto after = std::ranges::upper_bound(hz, plot.high_hz() * 1.0001);
    if (after == hz.begin() || *(after - 1) < plot.low_hz()) {
        return std::nullopt;
    }
    const auto i = static_cast<std::size_t>(after - hz.begin()) - 1;
    CurveLabel label;
    label.hz = hz[i];
    label.level_db = trace.level_db[i];
    label.at_end = true;
    label.above = false;
    return label;
}

} // namespace

std::vector<CurveLabel> LaneCurves::labels() const {
    std::vector<CurveLabel> labels;
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    if (analysis == nullptr || channel == nullptr) {
        return labels;
    }
    const bool waits = !analysis->waits_for.empty();
    add_end_label(analysis->predicted, "prediction",
                  shown_.measured ? (waits ? tr("last prediction") : tr("predicted"))
                                  : (waits ? tr("last chain") : tr("chain")),
                  theme().ink, labels);
    if (analysis->words != nullptr && !analysis->words->problem) {
        add_end_label(analysis->words->predicted, "words", tr("as words"), theme().text, labels);
    }
    add_take_labels(*analysis, labels);
    if (channel->difference && is_shown("difference")) {
        if (const auto trace = difference_of(*channel->difference, *channel, *analysis)) {
            add_end_label(*trace, "difference", tr("difference"), theme().met, labels);
        }
    }
    const auto state = fit_state();
    if (state != nullptr && state->figures && !state->figures->reachable_db.empty()) {
        add_end_label({state->figures->hz, state->figures->reachable_db, {}, {}}, "reachable",
                      tr("reachable"), theme().copper, labels);
    }
    for (const PartGraphs::Part& part : parts_.parts()) {
        add_end_label(part.level, part.key, part.name, part.colour, labels);
    }
    add_goal_label(labels);
    if (shown_.measured && is_shown("measured")) {
        labels.push_back(measured_label(plot_, *shown_.measured->curve));
    }
    return labels;
}

namespace {

// As level_extrema counts them: what trembles on a plateau is none.
std::size_t turns_in(const std::vector<double>& level_db) {
    const double least_step_db = ExtremaSearch().least_step_db;
    std::size_t turns = 0;
    double high = level_db.front(), low = high;
    int direction = 0;
    for (const double level : level_db) {
        high = std::max(high, level);
        low = std::min(low, level);
        const bool falls = direction >= 0 && level < high - least_step_db;
        const bool rises = direction <= 0 && level > low + least_step_db;
        if (falls || rises) {
            ++turns;
            direction = falls ? -1 : 1;
            high = low = level;
        }
    }
    return turns;
}

} // namespace

std::vector<LaneMark> LaneCurves::marks() const {
    constexpr std::size_t most = 48; // of more the lane says nothing any more
    std::vector<LaneMark> marks;
    const Channel* channel = session_.channel();
    if (channel == nullptr || !plot_.view().marks || !is_shown("prediction")
        || std::ranges::none_of(channel->stages, [](const auto& stage) {
               return stage->enabled && layout_of(*stage).has_value();
           })) {
        return marks;
    }
    const auto analysis = session_.analysis();
    if (analysis == nullptr || !analysis->total.band.empty()
        || turns_in(analysis->total.response.magnitude_db) > most) {
        return marks; // and does not look for them
    }
    const LevelExtrema& extrema = session_.facts().extrema();
    if (!extrema.is_complete || extrema.found.size() > most) {
        return marks;
    }
    for (const LevelExtremum& one : extrema.found) {
        marks.push_back({one.hz, one.is_peak,
                         QString::fromStdString(frequency_text(one.hz))
                             .replace(QStringLiteral(" kHz"), QStringLiteral("k"))
                             .remove(QStringLiteral(" Hz"))});
    }
    return marks;
}

void LaneCurves::add_end_label(const LevelTrace& trace, const QString& key, const QString& text,
                               const QColor& colour, std::vector<CurveLabel>& labels) const {
    auto label = end_label(plot_, trace);
    if (label && is_shown(key)) {
        label->key = key;
        label->text = text;
        label->colour = colour;
        labels.push_back(*label);
    }
}

void LaneCurves::add_take_labels(const ChannelAnalysis& analysis,
                                 std::vector<CurveLabel>& labels) const {
    int named = 0, unnamed = 0;
    for (std::size_t i = 0; i < shown_.takes.size() && i < analysis.takes.size(); ++i) {
        if (!shown_.takes[i]->shown || analysis.takes[i]->problem) {
            continue;
        }
        if (named == most_named_takes) { // a hint under the pointer names the others
            ++unnamed;
        } else {
            ++named;
            add_end_label(analysis.takes[i]->predicted, take_key(*shown_.takes[i]),
                          QString::fromStdString(shown_.takes[i]->name), take_colour(i), labels);
        }
    }
    if (unnamed > 0 && !alone() && !analysis.predicted.level_db.empty()) {
        labels.push_back({{},
                          QObject::tr("and %1 more takes").arg(unnamed),
                          take_colour(0),
                          plot_.high_hz(),
                          analysis.predicted.level_db.back(),
                          true,
                          false});
    }
}

void LaneCurves::add_goal_label(std::vector<CurveLabel>& labels) const {
    if (!shown_.goal || !is_shown("target")) {
        return;
    }
    const Goal& goal = *shown_.goal->goal;
    const QColor& colour = theme().corridor_edge;
    const double last_hz = goal.corridor.empty() ? plot_.high_hz() : goal.corridor.back().to_hz;
    const double hz = std::clamp(last_hz, plot_.low_hz(), plot_.high_hz());
    const auto band =
        goal.corridor.empty() ? std::nullopt : band_at(goal.corridor.back(), *shown_.goal, hz);
    const auto target = shown_.goal->level ? shown_.goal->level->value_at(hz) : std::nullopt;
    if (band && std::isfinite(band->upper_db)) {
        labels.push_back({"target", corridor_text(goal), colour, hz, band->upper_db});
    } else if (target && is_stated(goal.target)) {
        labels.push_back({"target", tr("target"), colour, hz, *target});
    }
}

QString LaneCurves::explanation(const QString& key) const {
    const Channel& channel = *session_.channel();
    const auto on = std::ranges::count_if(channel.stages, &Stage::enabled);
    const QString measured =
        shown_.measured ? QString::fromStdString(shown_.measured->name()) : QString();
    if (key == "prediction") {
        return shown_.measured
                   ? QObject::tr("predicted: measured “%1” times the %2 stages that are on")
                         .arg(measured)
                         .arg(on)
                   : QObject::tr("chain: the %1 stages that are on").arg(on);
    }
    if (key == "measured") {
        return QObject::tr("measured: “%1”").arg(measured);
    }
    if (key == "predicted_timing") {
        return QObject::tr(
                   "phase and delay of measured “%1” times the chain, from its arrival on; of "
                   "several positions those of the average of their vectors")
            .arg(measured);
    }
    if (key == "words") {
        return QObject::tr(
            "the words that the processor of this delivery gets, in exact arithmetic");
    }
    if (key == "stage") {
        return QObject::tr("the selected stage alone");
    }
    if (key == "target" && shown_.goal) {
        return QObject::tr("target of the goal “%1”")
            .arg(QString::fromStdString(shown_.goal->goal->name));
    }
    if (key == "reachable") {
        return QObject::tr("reachable by the selected correction: the target as far as its limits, "
                           "narrow dips and what differs between positions let it");
    }
    if (key == "difference" && channel.difference) {
        return QObject::tr("difference: %1 minus %2")
            .arg(QString::fromStdString(channel.difference->of),
                 QString::fromStdString(channel.difference->from));
    }
    for (const PartGraphs::Part& part : parts_.parts()) {
        if (key == part.key) {
            return part.name;
        }
    }
    for (const auto& take : channel.takes) {
        if (key == take_key(*take)) {
            return QObject::tr("take “%1”: a frozen chain of %2 stages")
                .arg(QString::fromStdString(take->name))
                .arg(std::ranges::count_if(take->stages, &Stage::enabled));
        }
    }
    return key;
}

QString LaneCurves::weight_title() const {
    const QString weight = weights_of_ == DrawnWeights::Of::fir    ? tr("Weight × of the FIR")
                           : weights_of_ == DrawnWeights::Of::goal ? tr("Weight × of the goal")
                                                                   : tr("Weight ×");
    return error_rms_db_ ? tr("%1 (left) · weighted error dB (right), rms %2 dB")
                               .arg(weight)
                               .arg(*error_rms_db_, 0, 'f', 2)
                         : weight;
}

QString LaneCurves::title(Lane lane) const {
    const LaneView& view = plot_.view();
    switch (lane) {
    case Lane::magnitude:
        return view.level == LevelScale::db ? tr("Magnitude dB") : tr("Magnitude, ratio");
    case Lane::weight:
        return weight_title();
    case Lane::phase:
        return view.radians ? tr("Phase of the chain rad") : tr("Phase of the chain °");
    case Lane::delay:
        return (view.delay == DelayKind::group ? tr("Group delay of the chain %1")
                                               : tr("Phase delay of the chain %1"))
            .arg(QString::fromUtf8(key_of(view.delay_unit).data()));
    case Lane::roots:
        return view.root_width == RootWidth::decay ? tr("Roots: decay to −60 dB")
                                                   : tr("Roots: bandwidth");
    }
    return {};
}

std::optional<std::pair<double, double>> LaneCurves::corridor_reach() const {
    if (!shown_.goal || !is_shown("target")) {
        return std::nullopt;
    }
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (const CorridorRange& range : shown_.goal->goal->corridor) {
        for (const double end : {range.from_hz, range.to_hz}) {
            const double hz = std::clamp(end, plot_.low_hz(), plot_.high_hz());
            const bool is_seen = hz >= range.from_hz && hz <= range.to_hz;
            const auto band = is_seen ? band_at(range, *shown_.goal, hz) : std::nullopt;
            for (const double edge : {band ? band->lower_db : low, band ? band->upper_db : high}) {
                if (std::isfinite(edge)) {
                    low = std::min(low, edge);
                    high = std::max(high, edge);
                }
            }
        }
    }
    return low <= high ? std::optional(std::pair(low, high)) : std::nullopt;
}

std::optional<CurveName> LaneCurves::explained_at(const QPointF& point) const {
    std::vector<std::pair<LaneCurve, QString>> candidates = {
        {stage_, "stage"},
        {stage_phase_, "stage"},
        {difference_, "difference"},
        {reachable_, "reachable"},
        {predicted_, "prediction"},
        {phase_, "prediction"},
        {delay_, "prediction"},
        {measured_, "measured"},
        {target_, "target"},
        {phase_target_, "target"},
        {delay_target_, "target"},
        {predicted_phase_, "predicted_timing"},
        {predicted_delay_, "predicted_timing"},
        {words_, "words"},
        {words_phase_, "words"},
        {words_delay_, "words"},
    };
    for (const TakeGraphs& take : takes_) {
        for (const LaneCurve graph : {take.level, take.phase, take.delay}) {
            candidates.emplace_back(graph, graph.name());
        }
    }
    for (const PartGraphs::Part& part : parts_.parts()) {
        candidates.emplace_back(part.graph, part.key);
    }
    constexpr double reach = 6;
    double nearest = reach;
    std::optional<CurveName> found;
    for (const auto& [graph, key] : candidates) {
        const auto distance = graph.distance_to(point);
        if (distance && *distance < nearest) {
            nearest = *distance;
            found = CurveName{key, explanation(key)};
        }
    }
    return found;
}

} // namespace syntonon
