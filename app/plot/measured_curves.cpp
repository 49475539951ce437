// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/measured_curves.h"

#include "app/plot/lane_line.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/curve/curve_delay.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::size_t bins_across = 700; // about a pixel each

// Of more points than pixels, each pixel's lowest and highest, so that no peak is missed.
LaneLine thinned(const LanePlot& plot, const std::vector<double>& hz,
                 const std::vector<double>& values) {
    LaneLine line;
    const auto first = std::ranges::lower_bound(hz, plot.low_hz());
    const auto begin =
        static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, first - hz.begin() - 1));
    const auto last = std::ranges::upper_bound(hz, plot.high_hz());
    const std::size_t end = std::min(hz.size(), static_cast<std::size_t>(last - hz.begin()) + 1);
    if (end - begin <= 2 * bins_across) {
        for (std::size_t i = begin; i < end; ++i) {
            line.add(hz[i], values[i]);
        }
        return line;
    }
    for (std::size_t i = begin; i < end;) {
        const double pixel = std::floor(plot.x_of(hz[i]));
        std::size_t low = i, high = i, next = i;
        for (; next < end && std::floor(plot.x_of(hz[next])) == pixel; ++next) {
            low = values[next] < values[low] ? next : low;
            high = values[next] > values[high] ? next : high;
        }
        line.add(hz[std::min(low, high)], values[std::min(low, high)]);
        if (low != high) {
            line.add(hz[std::max(low, high)], values[std::max(low, high)]);
        }
        i = next;
    }
    return line;
}

// In the lane's unit, wrapped with a gap where the line would jump across the lane.
std::vector<double> shown_phase(const CurveReader& reader, const Curve& curve, bool unwrapped) {
    std::vector<double> out;
    out.reserve(curve.frequency_hz.size());
    double last = 0;
    for (const double hz : curve.frequency_hz) {
        const double whole = reader.phase_deg_at(hz);
        const double deg = unwrapped ? whole : wrapped_deg(whole);
        const bool jumps = !unwrapped && !out.empty() && std::abs(deg - last) > 180;
        out.push_back(jumps ? std::nan("") : deg);
        last = deg;
    }
    return out;
}

QString db_text(double db) {
    return QString::fromStdString(signed_text(db, 2)) + tr(" dB");
}

} // namespace

QString curve_key(const Curve& curve) {
    return QStringLiteral("curve:") + QString::fromStdString(curve.id);
}

QColor curve_colour(const Study& study, const Curve& curve) {
    const auto place = std::ranges::find_if(
        study.curves, [&](const auto& other) { return other->id == curve.id; });
    // Not the first: copper is for what is in hand.
    const auto others = channel_colour_names().size() - 1;
    return channel_colour(QString::fromStdString(curve.colour),
                          static_cast<int>((place - study.curves.begin()) % others) + 1);
}

MeasuredCurves::MeasuredCurves(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

bool MeasuredCurves::is_shown_by_itself(const QString& key) const {
    const Channel* channel = session_.channel();
    if (channel == nullptr) {
        return true;
    }
    if (key == "average") {
        return channel->measured.size() > 1;
    }
    return channel->measured.empty()
           || std::ranges::any_of(channel->measured, [&](const Position& position) {
                  return key == QStringLiteral("curve:") + QString::fromStdString(position.curve);
              });
}

void MeasuredCurves::update() {
    const Study& study = session_.study();
    const Channel* channel = session_.channel();
    const QString name = channel != nullptr ? QString::fromStdString(channel->id) : QString();
    const MeasuredSet set = channel != nullptr ? channel->measured : MeasuredSet{};
    const bool same = std::ranges::equal(study.curves, shown_curves_,
                                         [](const auto& a, const auto& b) { return a.same_as(b); })
                      && name == shown_channel_ && set == shown_set_
                      && session_.curve_in_hand().id() == shown_in_hand_;
    if (!same) {
        redraw_all();
    }
}

void MeasuredCurves::redraw_all() {
    const Channel* channel = session_.channel();
    shown_curves_ = session_.study().curves;
    shown_channel_ = channel != nullptr ? QString::fromStdString(channel->id) : QString();
    shown_set_ = channel != nullptr ? channel->measured : MeasuredSet{};
    shown_in_hand_ = session_.curve_in_hand().id();
    clear();
    collect();
    for (Drawn& drawn : drawn_) {
        draw(drawn);
    }
    plot_.redraw_when_idle();
}

void MeasuredCurves::clear() {
    for (const Drawn& drawn : drawn_) {
        for (const LaneCurve graph : {drawn.level, drawn.phase, drawn.delay}) {
            plot_.remove_curve(graph);
        }
    }
    drawn_.clear();
}

void MeasuredCurves::add(const QString& key, const QString& name, const QColor& colour,
                         const SharedValue<Curve>& curve) {
    const QPen pen(colour, 1);
    Drawn drawn{key,
                name,
                colour,
                curve,
                std::make_shared<CurveReader>(*curve),
                group_delay_s(*curve),
                plot_.add_curve(Lane::magnitude, "still", pen),
                plot_.add_curve(Lane::phase, "still", pen),
                plot_.add_curve(Lane::delay, "still", pen)};
    for (LaneCurve graph : {drawn.level, drawn.phase, drawn.delay}) {
        graph.set_smooth(true);
    }
    drawn_.push_back(std::move(drawn));
}

void MeasuredCurves::collect() {
    const Study& study = session_.study();
    const SharedValue<Curve>* held = nullptr;
    for (const auto& curve : study.curves) {
        if (!is_shown(curve_key(*curve))) {
            continue;
        }
        if (curve->id == shown_in_hand_) {
            held = &curve;
        } else {
            add(curve_key(*curve), QString::fromStdString(curve->name), curve_colour(study, *curve),
                curve);
        }
    }
    const auto analysis = session_.analysis();
    if (analysis != nullptr && analysis->measured != nullptr
        && analysis->measured->positions.size() > 1 && is_shown("average")) {
        add("average", tr("average of power"), theme().ink, analysis->measured->curve);
    }
    if (held != nullptr) {
        add(curve_key(**held), QString::fromStdString((*held)->name), theme().copper, *held);
    }
}

void MeasuredCurves::draw(Drawn& drawn) {
    const Curve& curve = *drawn.curve;
    const LaneLine level = thinned(plot_, curve.frequency_hz, curve.magnitude_db);
    plot_.set_data(drawn.level, Lane::magnitude, level.hz, level.values);
    if (!curve.has_phase()) {
        return;
    }
    const LaneLine phase = thinned(plot_, curve.frequency_hz,
                                   shown_phase(*drawn.reader, curve, plot_.view().unwrapped));
    plot_.set_data(drawn.phase, Lane::phase, phase.hz, phase.values, Symmetry::odd);
    std::vector<double> delay_ms(curve.frequency_hz.size());
    for (std::size_t i = 0; i < delay_ms.size(); ++i) {
        const double hz = curve.frequency_hz[i];
        const double phase_delay_s = -drawn.reader->phase_deg_at(hz) / 360 / hz;
        const bool group = plot_.view().delay == DelayKind::group && !drawn.delay_s.empty();
        delay_ms[i] = 1e3 * (group ? drawn.delay_s[i] : phase_delay_s);
    }
    const LaneLine delay = thinned(plot_, curve.frequency_hz, delay_ms);
    plot_.set_data(drawn.delay, Lane::delay, delay.hz, delay.values);
}

std::vector<CurveName> MeasuredCurves::curves() const {
    std::vector<CurveName> all;
    for (const auto& curve : session_.study().curves) {
        all.push_back({curve_key(*curve), QString::fromStdString(curve->name)});
    }
    if (shown_set_.size() > 1) {
        all.push_back({"average", tr("average of power")});
    }
    return all;
}

std::vector<CurveLabel> MeasuredCurves::labels() const {
    constexpr std::size_t most = 12; // of more the names would fill the lane
    std::vector<CurveLabel> labels;
    for (const Drawn& drawn : drawn_) {
        const double hz = std::min(drawn.curve->high_hz(), plot_.high_hz());
        if (labels.size() < most && hz > plot_.low_hz()) {
            labels.push_back({drawn.key, drawn.name, drawn.colour, hz,
                              drawn.reader->magnitude_db_at(hz), true, false});
        }
    }
    std::ranges::reverse(labels); // the one in hand keeps its name first
    return labels;
}

const MeasuredCurves::Drawn* MeasuredCurves::nearest(const QPointF& point) const {
    constexpr double reach = 6;
    double least = reach;
    const Drawn* found = nullptr;
    for (const Drawn& drawn : drawn_) {
        for (const LaneCurve graph : {drawn.level, drawn.phase, drawn.delay}) {
            if (const auto distance = graph.distance_to(point); distance && *distance <= least) {
                least = *distance;
                found = &drawn;
            }
        }
    }
    return found;
}

std::optional<CurveName> MeasuredCurves::explained_at(const QPointF& point) const {
    const Drawn* drawn = nearest(point);
    if (drawn == nullptr) {
        return std::nullopt;
    }
    const QString source = QString::fromStdString(drawn->curve->source);
    return CurveName{drawn->key, drawn->key == "average"
                                     ? tr("the level of the mean power of the channel's positions")
                                 : source.isEmpty() ? drawn->name
                                                    : tr("%1, from %2").arg(drawn->name, source)};
}

QString MeasuredCurves::title(Lane lane) const {
    const LaneView& view = plot_.view();
    switch (lane) {
    case Lane::magnitude:
        return view.level == LevelScale::db ? tr("Measured level dB") : tr("Measured, ratio");
    case Lane::weight:
        return tr("Weight ×");
    case Lane::phase:
        return view.radians ? tr("Measured phase rad") : tr("Measured phase °");
    case Lane::delay:
        return (view.delay == DelayKind::group ? tr("Measured group delay %1")
                                               : tr("Measured phase delay %1"))
            .arg(QString::fromUtf8(key_of(view.delay_unit).data()));
    case Lane::roots:
        break;
    }
    return {};
}

std::vector<ReadoutRow> MeasuredCurves::readout_at(double hz) const {
    constexpr std::size_t most = 10;
    std::vector<ReadoutRow> rows;
    for (std::size_t i = drawn_.size(); i-- > 0 && rows.size() < most;) {
        const Drawn* drawn = &drawn_[i];
        rows.push_back({drawn->name,
                        drawn->reader->covers(hz) ? db_text(drawn->reader->magnitude_db_at(hz))
                                                  : tr("not measured"),
                        drawn->colour});
        const bool in_hand = drawn->colour == theme().copper || drawn_.size() == 1;
        if (in_hand && drawn->curve->has_phase() && drawn->reader->covers(hz)) {
            rows.push_back({tr("phase"),
                            QString::fromStdString(
                                signed_text(wrapped_deg(drawn->reader->phase_deg_at(hz)), 1))
                                + QStringLiteral("°"),
                            drawn->colour});
        }
    }
    return rows;
}

std::vector<ReadoutRow> MeasuredCurves::differences_between(double from_hz, double to_hz) const {
    std::vector<ReadoutRow> rows;
    rows.push_back({tr("octaves"),
                    QString::fromStdString(signed_text(octaves_between(from_hz, to_hz), 3)),
                    theme().text});
    for (std::size_t i = drawn_.size(); i-- > 0;) {
        const Drawn* drawn = &drawn_[i];
        if (drawn->reader->covers(from_hz) && drawn->reader->covers(to_hz)) {
            rows.push_back({drawn->name,
                            db_text(drawn->reader->magnitude_db_at(to_hz)
                                    - drawn->reader->magnitude_db_at(from_hz)),
                            drawn->colour});
        }
    }
    return rows;
}

std::vector<LaneCurve> MeasuredCurves::curves_in_work() const {
    std::vector<LaneCurve> all;
    for (std::size_t i = drawn_.size(); i-- > 0;) {
        const Drawn* drawn = &drawn_[i];
        for (const LaneCurve graph : {drawn->level, drawn->phase, drawn->delay}) {
            all.push_back(graph);
        }
    }
    return all;
}

} // namespace syntonon
