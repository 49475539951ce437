// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/measured_curves.h"

#include "app/plot/lane_line.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/curve/spread.h"

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

QString signed_db_text(double db) {
    return QString::fromStdString(signed_text(db, 2)) + tr(" dB");
}

} // namespace

QString curve_key(const Curve& curve) {
    return QStringLiteral("curve:") + QString::fromStdString(curve.id);
}

QString average_key(AverageOf of) {
    return of == AverageOf::power   ? QStringLiteral("average")
           : of == AverageOf::level ? QStringLiteral("average:level")
                                    : QStringLiteral("average:vectors");
}

QString name_of(AverageOf of) {
    return of == AverageOf::power   ? tr("average of power")
           : of == AverageOf::level ? tr("average of dB")
                                    : tr("average of vectors");
}

QString explained(AverageOf of) {
    switch (of) {
    case AverageOf::power:
        return tr("the level of the mean power of the positions: what all of them together hear");
    case AverageOf::level:
        return tr(
            "the mean of the positions' levels in dB: none outweighs the others by being loud");
    case AverageOf::vectors:
        break;
    }
    return tr(
        "the mean of the complex responses, each from its own arrival: what they agree on, for "
        "phase and timing");
}

QString name_of(const Smoothing& smoothing) {
    switch (smoothing.kind) {
    case SmoothingKind::octave:
        return smoothing.is_none() ? tr("not smoothed")
                                   : tr("1/%1 octave").arg(std::lround(1 / smoothing.width_oct));
    case SmoothingKind::by_frequency:
        return tr("smoothed by frequency");
    case SmoothingKind::erb:
        return tr("ERB");
    case SmoothingKind::psychoacoustic:
        break;
    }
    return tr("psychoacoustic");
}

QColor curve_colour(const Study& study, const Curve& curve) {
    const auto place = std::ranges::find_if(
        study.curves, [&](const auto& other) { return other->id == curve.id; });
    // Not the first: copper is for what is in hand.
    const auto others = channel_colour_names().size() - 1;
    return channel_colour(QString::fromStdString(curve.colour),
                          static_cast<int>((place - study.curves.begin()) % others) + 1);
}

MeasuredCurves::MeasuredCurves(LanePlot& plot, Session& session, const MeasureView& look)
    : plot_(plot), session_(session), look_(look) {}

bool MeasuredCurves::is_shown_by_itself(const QString& key) const {
    const Channel* channel = session_.channel();
    if (channel == nullptr) {
        return true;
    }
    if (key == "spread") {
        return channel->measured.size() > 1;
    }
    if (key.startsWith("average")) {
        return channel->measured.size() > 1 && key == average_key(channel->average);
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
                      && (channel == nullptr || channel->average == shown_average_)
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
    shown_average_ = channel != nullptr ? channel->average : AverageOf::power;
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
    if (spread_label_hz_ > 0) {
        plot_.remove_curve(spread_low_);
        plot_.remove_curve(spread_high_);
        spread_label_hz_ = 0;
    }
}

void MeasuredCurves::add(const QString& key, const QString& name, const QColor& colour,
                         const SharedValue<Curve>& curve) {
    const QPen pen(colour, 1);
    Drawn drawn{key,
                name,
                colour,
                looked_.of(key, curve, look_),
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
    add_spread();
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
    add_averages();
    if (held != nullptr) {
        add(curve_key(**held), QString::fromStdString((*held)->name), theme().copper, *held);
    }
    std::vector<QString> keys;
    std::ranges::transform(drawn_, std::back_inserter(keys), &Drawn::key);
    looked_.forget_but(keys);
}

void MeasuredCurves::add_averages() {
    const auto analysis = session_.analysis();
    const SharedMeasured measured = analysis != nullptr ? analysis->measured : nullptr;
    for (const AverageOf of : {AverageOf::power, AverageOf::level, AverageOf::vectors}) {
        const SharedValue<Curve>* average =
            is_shown(average_key(of)) ? looked_.average_of(measured, of) : nullptr;
        if (average != nullptr) {
            add(average_key(of), name_of(of), of == shown_average_ ? theme().ink : theme().plum,
                *average);
        }
    }
}

// From the lowest to the highest of the positions that count, as they are looked at.
void MeasuredCurves::add_spread() {
    const Study& study = session_.study();
    if (shown_set_.size() < 2 || !is_shown("spread")) {
        return;
    }
    std::vector<const CurveReader*> readers;
    std::vector<LookedAt> kept;
    for (const Position& position : shown_set_) {
        const auto curve = std::ranges::find_if(
            study.curves, [&](const auto& each) { return each->id == position.curve; });
        if (curve != study.curves.end() && position.weight > 0) {
            kept.push_back(looked_.of(curve_key(**curve), *curve, look_));
        }
    }
    std::ranges::transform(kept, std::back_inserter(readers),
                           [](const LookedAt& looked) { return looked.reader.get(); });
    constexpr double spread_points_an_octave = 48;
    const Spread spread = spread_of(readers, spread_points_an_octave);
    if (spread.frequency_hz.empty()) {
        return;
    }
    QColor fill = theme().measured;
    constexpr int faint = 60;
    fill.setAlpha(faint);
    const auto values = [](const std::vector<double>& db) {
        return QList<double>(db.begin(), db.end());
    };
    spread_low_ = plot_.add_curve(Lane::magnitude, "still", Qt::NoPen);
    spread_high_ = plot_.add_curve(Lane::magnitude, "still", Qt::NoPen);
    plot_.set_data(spread_low_, Lane::magnitude, spread.frequency_hz, values(spread.lowest_db));
    plot_.set_data(spread_high_, Lane::magnitude, spread.frequency_hz, values(spread.highest_db));
    spread_high_.fill_to(spread_low_, fill);
    // Named where it is widest.
    std::size_t widest = 0;
    for (std::size_t i = 0; i < spread.frequency_hz.size(); ++i) {
        const double hz = spread.frequency_hz[i];
        const bool seen = hz > plot_.low_hz() && hz < plot_.high_hz();
        widest = seen
                         && spread.highest_db[i] - spread.lowest_db[i]
                                > spread.highest_db[widest] - spread.lowest_db[widest]
                     ? i
                     : widest;
    }
    spread_label_hz_ = spread.frequency_hz[widest];
    spread_label_db_ = spread.highest_db[widest];
}

void MeasuredCurves::draw(Drawn& drawn) {
    const Curve& curve = *drawn.looked.curve;
    const CurveReader& reader = *drawn.looked.reader;
    const std::vector<double>& group_s = drawn.looked.delay_s;
    const LaneLine level = thinned(plot_, curve.frequency_hz, curve.magnitude_db);
    plot_.set_data(drawn.level, Lane::magnitude, level.hz, level.values);
    if (!curve.has_phase()) {
        return;
    }
    const LaneLine phase =
        thinned(plot_, curve.frequency_hz, shown_phase(reader, curve, plot_.view().unwrapped));
    plot_.set_data(drawn.phase, Lane::phase, phase.hz, phase.values, Symmetry::odd);
    std::vector<double> delay_ms(curve.frequency_hz.size());
    for (std::size_t i = 0; i < delay_ms.size(); ++i) {
        const double hz = curve.frequency_hz[i];
        const double phase_delay_s = -reader.phase_deg_at(hz) / 360 / hz;
        const bool group = plot_.view().delay == DelayKind::group && !group_s.empty();
        delay_ms[i] = 1e3 * (group ? group_s[i] : phase_delay_s);
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
        for (const AverageOf of : {AverageOf::power, AverageOf::level, AverageOf::vectors}) {
            all.push_back({average_key(of), name_of(of)});
        }
        all.push_back({"spread", tr("spread of the positions")});
    }
    return all;
}

std::vector<CurveLabel> MeasuredCurves::labels() const {
    constexpr std::size_t most = 12; // of more the names would fill the lane
    std::vector<CurveLabel> labels;
    if (spread_label_hz_ > 0) {
        labels.push_back({"spread", tr("spread"), theme().soft, spread_label_hz_, spread_label_db_,
                          false, true});
    }
    for (const Drawn& drawn : drawn_) {
        const double hz = std::min(drawn.looked.curve->high_hz(), plot_.high_hz());
        if (labels.size() < most && hz > plot_.low_hz()) {
            labels.push_back({drawn.key, drawn.name, drawn.colour, hz,
                              drawn.looked.reader->magnitude_db_at(hz), true, false});
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
    for (const AverageOf of : {AverageOf::power, AverageOf::level, AverageOf::vectors}) {
        if (drawn->key == average_key(of)) {
            return CurveName{drawn->key, explained(of)};
        }
    }
    const QString source = QString::fromStdString(drawn->looked.curve->source);
    return CurveName{drawn->key,
                     source.isEmpty() ? drawn->name : tr("%1, from %2").arg(drawn->name, source)};
}

QString MeasuredCurves::phase_title() const {
    return look_.phase() == PhaseShown::whole     ? tr("Measured phase %1")
           : look_.phase() == PhaseShown::minimum ? tr("Minimum phase %1")
                                                  : tr("Excess phase %1");
}

QString MeasuredCurves::title(Lane lane) const {
    const LaneView& view = plot_.view();
    switch (lane) {
    case Lane::magnitude:
        return (view.level == LevelScale::db ? tr("Measured level dB") : tr("Measured, ratio"))
               + (look_.smoothing().is_none() ? QString()
                                              : QStringLiteral(" · ") + name_of(look_.smoothing()));
    case Lane::weight:
        return tr("Weight ×");
    case Lane::phase:
        return phase_title().arg(view.radians ? tr("rad") : tr("°"));
    case Lane::delay:
        return (look_.phase() != PhaseShown::whole
                    ? phase_title().section(' ', 0, 0) + tr(" delay %1")
                : view.delay == DelayKind::group ? tr("Measured group delay %1")
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
                        drawn->looked.reader->covers(hz)
                            ? signed_db_text(drawn->looked.reader->magnitude_db_at(hz))
                            : tr("not measured"),
                        drawn->colour});
        const bool in_hand = drawn->colour == theme().copper || drawn_.size() == 1;
        if (in_hand && drawn->looked.curve->has_phase() && drawn->looked.reader->covers(hz)) {
            rows.push_back({tr("phase"),
                            QString::fromStdString(
                                signed_text(wrapped_deg(drawn->looked.reader->phase_deg_at(hz)), 1))
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
        if (drawn->looked.reader->covers(from_hz) && drawn->looked.reader->covers(to_hz)) {
            rows.push_back({drawn->name,
                            signed_db_text(drawn->looked.reader->magnitude_db_at(to_hz)
                                           - drawn->looked.reader->magnitude_db_at(from_hz)),
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
