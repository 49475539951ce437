// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/part_graphs.h"

#include "app/widgets/theme.h"
#include "core/study/part_curves.h"

#include <QObject>
#include <array>

namespace syntonon {
namespace {

const QString without_key = QStringLiteral("part:without");
const QString together_key = QStringLiteral("part:together");
const QString analog_key = QStringLiteral("part:analog");
const QString analog_stage_key = QStringLiteral("part:analog_stage");
const QString unaliased_key = QStringLiteral("part:unaliased");
const QString origin_key = QStringLiteral("part:origin");
const QString bilinear_key = QStringLiteral("part:bilinear");
const QString before_key = QStringLiteral("part:before");

QString name_of(const PartCurve& part) {
    return part.key == "open_loop"    ? QObject::tr("round the loop")
           : part.key == "forward"    ? QObject::tr("forward alone")
           : part.key == "added"      ? QObject::tr("added by the way back")
           : part.key == "difference" ? QObject::tr("difference of the branches")
                                      : QString::fromStdString(part.name);
}

bool is_on_all_lanes(const QString& key) {
    return key == before_key || key == analog_key || key == analog_stage_key || key == unaliased_key
           || key == bilinear_key || key == origin_key;
}

QColor colour_at(std::size_t index) {
    const Theme& t = theme();
    const std::array colours{t.corridor_edge, t.soft, t.met, t.measured};
    return colours.at(index % colours.size());
}

} // namespace

PartGraphs::PartGraphs(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

bool PartGraphs::is_shown_by_itself(const QString& key) {
    return key == without_key || key == together_key || key == unaliased_key || key == bilinear_key
           || key == origin_key || key == before_key;
}

// Behind the mappings of a sampled channel.
void PartGraphs::add_analog_side(const IsShown& is_shown, std::vector<Part>& found) const {
    const Channel* channel = session_.channel();
    if (channel == nullptr || channel->domain == Domain::analog) {
        return;
    }
    const Channel* origin = channel_of(session_.study(), channel->mapped_from);
    if (origin != nullptr && origin->domain == Domain::analog) {
        found.push_back({origin_key,
                         QString::fromStdString(origin->name),
                         theme().corridor_edge,
                         is_shown(origin_key) ? session_.analysis_of(*origin)->chain : Filter(),
                         {},
                         {},
                         {},
                         {}});
    } else {
        bool is_mapped = false;
        visit_stages(channel->stages, [&](const Stage& stage, const Slot&, int) {
            is_mapped = is_mapped || (stage.enabled && has_analog_side(stage.spec));
        });
        if (is_mapped) {
            const auto filter =
                is_shown(analog_key) ? session_.facts().analog() : std::optional(Filter());
            found.push_back({analog_key,
                             QObject::tr("analog"),
                             theme().corridor_edge,
                             filter.value_or(Filter()),
                             {},
                             {},
                             {},
                             {}});
        }
    }
    if (session_.stage() != nullptr && has_analog_side(session_.stage()->spec)) {
        add_stage_side(*session_.stage(), is_shown, found);
    }
}

// By itself shown where a mapping aliases, or does not do what the usual one does.
void PartGraphs::add_stage_side(const Stage& stage, const IsShown& is_shown,
                                std::vector<Part>& found) const {
    const bool aliases = is_impulse_invariant(stage.spec);
    const QString key = aliases ? unaliased_key : analog_stage_key;
    const auto analog = is_shown(key) ? session_.facts().analog(stage.id) : std::optional(Filter());
    if (analog) {
        found.push_back(
            {key,
             aliases ? QObject::tr("stage without aliases") : QObject::tr("stage, analog"),
             theme().plum,
             *analog,
             {},
             {},
             {},
             {}});
    }
    const auto bilinear = aliases ? std::nullopt : session_.facts().bilinear(stage);
    if (bilinear) {
        found.push_back({bilinear_key,
                         QObject::tr("stage, bilinear"),
                         theme().measured,
                         *bilinear,
                         {},
                         {},
                         {},
                         {}});
    }
}

std::vector<PartGraphs::Part> PartGraphs::found(const IsShown& is_shown) const {
    std::vector<Part> found;
    ChainFacts& facts = session_.facts();
    if (const auto& marked = session_.marked(); !marked.empty()) {
        if (const auto filter = facts.filter_of(marked)) {
            found.push_back({together_key,
                             QObject::tr("%1 stages together").arg(marked.size()),
                             theme().copper,
                             *filter,
                             {},
                             {},
                             {},
                             {}});
        }
    }
    if (const Channel* channel = session_.channel()) {
        if (const auto before = session_.glimpse().filter_of(channel->id)) {
            found.push_back(
                {before_key, session_.glimpse().name(), theme().plum, *before, {}, {}, {}, {}});
        }
    }
    add_analog_side(is_shown, found);
    const Stage* network = session_.network();
    const auto analysis = session_.analysis();
    const StageAnalysis* designed =
        network != nullptr && analysis != nullptr ? analysis->stage(network->id) : nullptr;
    if (designed == nullptr || !designed->filter) {
        return found;
    }
    if (const auto without = facts.without_feedback(network->id)) {
        found.push_back({without_key,
                         QObject::tr("without feedback"),
                         theme().measured,
                         *without,
                         {},
                         {},
                         {},
                         {}});
    }
    std::size_t index = 0;
    for (const PartCurve& part : part_curves(*designed->filter)) {
        found.push_back({QStringLiteral("part:") + QString::fromStdString(part.key),
                         name_of(part),
                         colour_at(index++),
                         part.filter,
                         {},
                         {},
                         {},
                         {}});
    }
    return found;
}

void PartGraphs::update(const IsShown& is_shown, const TraceOf& trace_of, const Draw& draw) {
    parts_ = found(is_shown);
    while (graphs_.size() < parts_.size()) {
        graphs_.emplace_back();
        constexpr std::array lanes{Lane::magnitude, Lane::magnitude, Lane::magnitude, Lane::phase,
                                   Lane::delay};
        for (std::size_t k = 0; k < lanes.size(); ++k) {
            graphs_.back().at(k) = plot_.add_curve(lanes.at(k), "live", QPen());
            graphs_.back().at(k).set_smooth(true);
        }
    }
    for (auto& graphs : graphs_) {
        for (LaneCurve& graph : graphs) {
            graph.clear();
        }
    }
    for (std::size_t i = 0; i < parts_.size(); ++i) {
        Part& part = parts_[i];
        part.graph = graphs_[i][0];
        part.least = graphs_[i][1];
        part.most = graphs_[i][2];
        if (is_shown(part.key)) {
            Trace trace = trace_of(part.filter);
            part.level = prediction_of(trace, nullptr);
            if (is_on_all_lanes(part.key)) {
                part.trace = std::move(trace);
                part.phase = graphs_[i][3];
                part.delay = graphs_[i][4];
            }
            for (LaneCurve& graph : graphs_[i]) {
                graph.set_pen(QPen(part.colour, 1));
            }
            draw(part);
        }
    }
}

} // namespace syntonon
