// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_curves.h"

#include "app/model/fitter.h"
#include "app/plot/lane_line.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/comparison.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double dash_on = 7, dash_period = 11; // pixels along the line
constexpr double error_top_db = 12;             // at the weight lane's upper edge

// A dashed line as gaps in the data: stroking a dashed pen would cost more than all other curves.
QVector<double> dashed(const LanePlot& plot, Lane lane, std::span<const double> hz,
                       const QVector<double>& values) {
    QVector<double> out = values;
    double length = 0;
    QPointF last;
    for (qsizetype i = 0; i < out.size(); ++i) {
        const QPointF at(plot.x_of(hz[static_cast<std::size_t>(i)]), plot.y_of(lane, values[i]));
        const double step = i > 0 && std::isfinite(at.y()) && std::isfinite(last.y())
                                ? std::hypot(at.x() - last.x(), at.y() - last.y())
                                : 0;
        length = std::fmod(length + step, dash_period);
        last = at;
        if (length > dash_on) {
            out[i] = qQNaN();
        }
    }
    return out;
}

// In degrees; wrapped to ±180 with a gap where the line would jump across the lane.
QVector<double> phase_deg(std::span<const double> rad, bool unwrapped) {
    QVector<double> out(static_cast<qsizetype>(rad.size()));
    double last = 0, last_whole = 0;
    for (qsizetype i = 0; i < out.size(); ++i) {
        const double whole = deg_from_rad(rad[static_cast<std::size_t>(i)]);
        const double deg = unwrapped ? whole : wrapped_deg(whole);
        // Nor where it turns so far from point to point that nobody could tell how often.
        const bool jumps =
            i > 0 && (std::abs(deg - last) > 180 || std::abs(whole - last_whole) > 180);
        out[i] = !unwrapped && jumps ? qQNaN() : deg;
        last = deg;
        last_whole = whole;
    }
    return out;
}

// In ms: group delay, or phase delay -phase/omega.
QVector<double> delay_ms(const Trace& trace, DelayKind kind, double sample_rate_hz) {
    const std::size_t count = trace.frequency_hz.size();
    QVector<double> out(static_cast<qsizetype>(count));
    for (std::size_t i = 0; i < count; ++i) {
        out[static_cast<qsizetype>(i)] =
            kind == DelayKind::group
                ? trace.response.group_delay_samples[i] / sample_rate_hz * 1e3
                : -trace.response.phase_rad[i] / rad_per_s_from_hz(trace.frequency_hz[i]) * 1e3;
    }
    return out;
}

// How many of a line's points stand before the band that takes its place.
std::size_t drawn_as_line(std::span<const double> hz, std::span<const double> band_hz) {
    return band_hz.empty() ? hz.size()
                           : static_cast<std::size_t>(std::ranges::upper_bound(hz, band_hz.front())
                                                      - hz.begin());
}

} // namespace

QString take_key(const Take& take) {
    return QStringLiteral("take:") + QString::fromStdString(take.id);
}

QColor take_colour(std::size_t index) {
    // In percent of the theme's plum; all of them stand out from the panel at least 3:1.
    constexpr std::array on_paper = {100, 140, 70, 120}, at_night = {100, 120, 82, 135};
    const auto& shades = theme().name == ThemeName::paper ? on_paper : at_night;
    return theme().plum.lighter(shades.at(index % shades.size()));
}

LaneCurves::LaneCurves(LanePlot& plot, Session& session)
    : plot_(plot), session_(session), parts_(plot, session) {
    const auto still = [&](Lane lane) { return plot_.add_curve(lane, "still", QPen()); };
    const auto live = [&](Lane lane) { return plot_.add_curve(lane, "live", QPen()); };
    target_ = still(Lane::magnitude);
    measured_ = still(Lane::magnitude);
    weight_ = live(Lane::weight);
    phase_target_ = still(Lane::phase);
    delay_target_ = still(Lane::delay);
    for (std::size_t i = 0; i < bands_.size(); ++i) {
        const Lane lane = std::array{Lane::magnitude, Lane::phase, Lane::delay}[i];
        bands_[i] = {live(lane), live(lane)};
    }
    stage_band_ = {live(Lane::magnitude), live(Lane::magnitude)};
    difference_ = live(Lane::magnitude);
    reachable_ = live(Lane::magnitude);
    stage_ = live(Lane::magnitude);
    predicted_ = live(Lane::magnitude);
    error_floor_ = live(Lane::weight);
    error_ = live(Lane::weight);
    stage_phase_ = live(Lane::phase);
    phase_ = live(Lane::phase);
    delay_ = live(Lane::delay);
    predicted_phase_ = live(Lane::phase);
    predicted_delay_ = live(Lane::delay);
    words_ = live(Lane::magnitude);
    words_phase_ = live(Lane::phase);
    words_delay_ = live(Lane::delay);
    restyle();
}

void LaneCurves::restyle() {
    const Theme& t = theme();
    for (LaneCurve target : {target_, phase_target_, delay_target_}) {
        target.set_pen(QPen(t.corridor_edge, 1, Qt::DotLine));
    }
    measured_.set_dots(t.measured, 2.2);
    weight_.set_pen(QPen(t.corridor_edge, 1));
    predicted_.set_pen(QPen(t.ink, 1));
    difference_.set_pen(QPen(t.met, 1));
    reachable_.set_pen(QPen(t.copper, 1, Qt::DotLine));
    stage_.set_pen(QPen(t.copper, 1));
    stage_phase_.set_pen(QPen(t.copper, 1));
    phase_.set_pen(QPen(t.ink, 1));
    delay_.set_pen(QPen(t.ink, 1));
    for (LaneCurve timing : {predicted_phase_, predicted_delay_}) {
        timing.set_pen(QPen(t.measured, 1));
    }
    for (LaneCurve of_words : {words_, words_phase_, words_delay_}) {
        of_words.set_pen(QPen(t.text, 1));
    }
    QColor wash = t.ink;
    wash.setAlphaF(0.16F);
    error_.set_pen(QPen(t.ink, 1));
    error_.fill_to(error_floor_, wash);
    error_floor_.set_pen(Qt::NoPen);
    for (BandGraph& band : bands_) {
        band.least.set_pen(QPen(t.ink, 1));
        band.most.set_pen(QPen(t.ink, 1));
        band.most.fill_to(band.least, wash);
    }
    for (LaneCurve edge : {stage_band_.least, stage_band_.most}) {
        edge.set_pen(QPen(t.copper, 1));
    }
    for (LaneCurve live :
         {predicted_, difference_, stage_, stage_phase_, phase_, delay_, error_, weight_}) {
        live.set_smooth(true);
    }
}

void LaneCurves::remember() {
    const auto analysis = session_.analysis();
    shown_ = {};
    if (analysis != nullptr) {
        shown_.goal = analysis->goal;
        shown_.measured = analysis->measured;
        if (timing_of_ != analysis->measured) {
            timing_of_ = analysis->measured;
            timing_ = timing_of_ != nullptr && timing_of_->timing
                          ? std::make_shared<const MeasuredTiming>(**timing_of_->timing)
                          : nullptr;
        }
    }
    if (const Channel* channel = session_.channel()) {
        shown_.takes = channel->takes;
        shown_.channel = QString::fromStdString(channel->id);
    }
}

bool LaneCurves::is_still_right() const {
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    return channel != nullptr && analysis != nullptr && analysis->measured == shown_.measured
           && analysis->goal == shown_.goal && shown_.channel == QString::fromStdString(channel->id)
           && std::ranges::equal(channel->takes, shown_.takes,
                                 [](const auto& a, const auto& b) { return a.same_as(b); });
}

void LaneCurves::update() {
    if (still_is_shown_ && is_still_right()) {
        update_live();
        plot_.redraw_live();
        return;
    }
    remember();
    update_live();
    update_still();
    plot_.redraw_when_idle();
    still_is_shown_ = true;
}

void LaneCurves::redraw_all() {
    restyle();
    remember();
    update_live();
    update_still();
    plot_.redraw_when_idle();
}

bool LaneCurves::is_magnified() const {
    return !plot_.shows_all_frequencies();
}

Trace LaneCurves::detail_of_chain(const Filter& chain) const {
    constexpr std::size_t points = 600;
    return detail_of(chain, plot_.low_hz(), plot_.high_hz(), points, plot_.view().linear_frequency,
                     plot_.axis());
}

LevelTrace LaneCurves::prediction_from(const Trace& total) const {
    return prediction_of(total, shown_.measured != nullptr ? &shown_.measured->reader : nullptr);
}

void LaneCurves::draw_level(LaneCurve graph, const LevelTrace& trace) {
    const std::size_t count = drawn_as_line(trace.frequency_hz, trace.band_hz);
    plot_.set_data(graph, Lane::magnitude, std::span(trace.frequency_hz).first(count),
                   drawable(plot_, std::span(trace.level_db).first(count)));
}

void LaneCurves::draw_phase_and_delay(LaneCurve phase, LaneCurve delay, const Trace& trace) {
    const LaneView& view = plot_.view();
    const std::size_t count = drawn_as_line(trace.frequency_hz, trace.band.frequency_hz);
    const auto hz = std::span(trace.frequency_hz).first(count);
    plot_.set_data(phase, Lane::phase, hz,
                   phase_deg(std::span(trace.response.phase_rad).first(count), view.unwrapped),
                   Symmetry::odd);
    QVector<double> delays = delay_ms(trace, view.delay, session_.study().sample_rate_hz);
    delays.resize(static_cast<qsizetype>(count));
    plot_.set_data(delay, Lane::delay, hz, delays);
}

void LaneCurves::draw_predicted_timing(const Trace& chain) {
    draw_phase_and_delay(predicted_phase_, predicted_delay_,
                         predicted_timing(chain, *timing_, session_.study().sample_rate_hz));
}

void LaneCurves::draw_band(const BandGraph& graph, Lane lane, std::span<const double> hz,
                           const QVector<double>& least, const QVector<double>& most) {
    const Symmetry symmetry = lane == Lane::phase ? Symmetry::odd : Symmetry::even;
    plot_.set_data(graph.least, lane, hz, least, symmetry);
    plot_.set_data(graph.most, lane, hz, most, symmetry);
}

void LaneCurves::draw_edges(const BandGraph& graph, const LevelTrace& level) {
    draw_band(graph, Lane::magnitude, level.band_hz, drawable(plot_, level.band_db.least),
              drawable(plot_, level.band_db.most));
}

void LaneCurves::draw_bands(const Trace& total, const LevelTrace& level) {
    if (total.band.empty()) {
        return;
    }
    draw_edges(bands_[0], level);
    const auto scaled = [](const std::vector<double>& values, double factor) {
        QVector<double> out(values.begin(), values.end());
        std::ranges::for_each(out, [factor](double& v) { v *= factor; });
        return out;
    };
    const RippleBand& band = total.band;
    const double degrees = deg_from_rad(1.0), ms = 1e3 / session_.study().sample_rate_hz;
    draw_band(bands_[1], Lane::phase, band.frequency_hz, scaled(band.phase_rad.least, degrees),
              scaled(band.phase_rad.most, degrees));
    if (plot_.view().delay == DelayKind::group) {
        draw_band(bands_[2], Lane::delay, band.frequency_hz,
                  scaled(band.group_delay_samples.least, ms),
                  scaled(band.group_delay_samples.most, ms));
    }
}

void LaneCurves::update_live() {
    for (LaneCurve graph : {predicted_, stage_, stage_phase_, phase_, delay_, difference_,
                            reachable_, predicted_phase_, predicted_delay_, words_, words_phase_,
                            words_delay_, stage_band_.least, stage_band_.most, weight_}) {
        graph.clear();
    }
    for (BandGraph& band : bands_) {
        band.least.clear();
        band.most.clear();
    }
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        return;
    }
    dim_what_waits();
    if (is_shown("prediction")) {
        const bool closer = is_magnified();
        const Trace detail = closer ? detail_of_chain(analysis->chain) : Trace{};
        const LevelTrace level = closer ? prediction_from(detail) : analysis->predicted;
        draw_level(predicted_, level);
        draw_phase_and_delay(phase_, delay_, closer ? detail : analysis->total);
        draw_bands(closer ? detail : analysis->total, level);
    }
    if (timing_ != nullptr && is_shown("predicted_timing")) {
        draw_predicted_timing(is_magnified() ? detail_of_chain(analysis->chain) : analysis->total);
    }
    draw_words();
    draw_parts();
    draw_stage();
    draw_difference();
    draw_reachable();
    draw_error();
    draw_weight();
}

// Dashed, so that both can be told where they lie on one another.
void LaneCurves::draw_words() {
    const auto& words = session_.analysis()->words;
    if (words == nullptr || words->problem || !is_shown("words")) {
        return;
    }
    const Trace detail = is_magnified() ? detail_of_chain(words->chain) : Trace{};
    const Trace& trace = is_magnified() ? detail : words->total;
    const LevelTrace level = is_magnified() ? prediction_from(detail) : words->predicted;
    plot_.set_data(
        words_, Lane::magnitude, level.frequency_hz,
        dashed(plot_, Lane::magnitude, level.frequency_hz, drawable(plot_, level.level_db)));
    draw_phase_and_delay(words_phase_, words_delay_, trace);
}

// A last good curve that stands for one that is still being designed.
void LaneCurves::dim_what_waits() {
    const auto pen = [](QColor colour, bool waits) {
        colour.setAlphaF(waits ? 0.4F : 1.0F);
        return QPen(colour, 1);
    };
    const StageAnalysis* selected = session_.stage_analysis();
    for (LaneCurve of_chain : {predicted_, phase_, delay_}) {
        of_chain.set_pen(pen(theme().ink, !session_.analysis()->waits_for.empty()));
    }
    for (LaneCurve of_stage : {stage_, stage_phase_}) {
        of_stage.set_pen(pen(theme().copper, selected != nullptr && selected->is_waiting));
    }
}

void LaneCurves::draw_stage() {
    const auto analysis = session_.analysis();
    const StageAnalysis* selected = session_.stage_analysis();
    const bool drawn = selected != nullptr && selected->filter && is_shown("stage");
    if (!drawn) {
        return;
    }
    constexpr double many_ripples = 1024; // of which some may fall between the grid's points
    const bool closer = is_magnified() || selected->filter->rippling_samples() > many_ripples;
    // Alone in its chain it has been traced already.
    const bool is_chain = !is_magnified() && selected->filter->is_same_as(analysis->chain);
    const Trace detail = !closer    ? Trace{}
                         : is_chain ? analysis->total
                                    : detail_of_chain(*selected->filter);
    const Response& response = closer ? detail.response : selected->response;
    std::span<const double> hz =
        closer ? std::span(detail.frequency_hz) : analysis->grid->frequency_hz();
    hz = hz.first(drawn_as_line(hz, detail.band.frequency_hz));
    const auto level = std::span(response.magnitude_db).first(hz.size());
    plot_.set_data(stage_, Lane::magnitude, hz,
                   dashed(plot_, Lane::magnitude, hz, drawable(plot_, level)));
    const auto phase = std::span(response.phase_rad).first(hz.size());
    plot_.set_data(stage_phase_, Lane::phase, hz,
                   dashed(plot_, Lane::phase, hz, phase_deg(phase, plot_.view().unwrapped)),
                   Symmetry::odd);
    const RippleBand& band = detail.band;
    if (!band.empty()) {
        const auto edge = [&](const std::vector<double>& db) {
            return dashed(plot_, Lane::magnitude, band.frequency_hz, drawable(plot_, db));
        };
        draw_band(stage_band_, Lane::magnitude, band.frequency_hz, edge(band.magnitude_db.least),
                  edge(band.magnitude_db.most));
    }
}

void LaneCurves::draw_parts() {
    parts_.update([this](const QString& key) { return is_shown(key); },
                  [this](const Filter& filter) { return detail_of_chain(filter); },
                  [this](const PartGraphs::Part& part) {
                      draw_level(part.graph, part.level);
                      draw_edges({part.least, part.most}, part.level);
                      if (!part.trace.frequency_hz.empty()) {
                          draw_phase_and_delay(part.phase, part.delay, part.trace);
                      }
                  });
}

// How far the measured set can be corrected, where the selected stage does so.
void LaneCurves::draw_reachable() {
    const auto state = fit_state();
    const bool is_known = state != nullptr && state->figures;
    if (is_known && !state->figures->reachable_db.empty() && is_shown("reachable")) {
        plot_.set_data(reachable_, Lane::magnitude, state->figures->hz,
                       drawable(plot_, state->figures->reachable_db));
    }
}

std::shared_ptr<const FitState> LaneCurves::fit_state() const {
    const Stage* stage = session_.stage();
    return stage != nullptr ? session_.fitter().state_of(stage->id) : nullptr;
}

void LaneCurves::draw_difference() {
    const Channel* channel = session_.channel();
    if (channel == nullptr || !channel->difference || !is_shown("difference")) {
        return;
    }
    const auto trace = difference_of(*channel->difference, *channel, *session_.analysis());
    if (trace) {
        draw_level(difference_, *trace);
    }
}

std::optional<double> LaneCurves::error_axis_top_db() const {
    return error_rms_db_ ? std::optional(error_top_db) : std::nullopt;
}

// On the weight lane, from its lower edge up.
void LaneCurves::draw_error() {
    error_.clear();
    error_floor_.clear();
    error_rms_db_.reset();
    if (!plot_.view().shows(Lane::weight)) {
        return;
    }
    const auto found = weighted_error(*session_.analysis());
    if (!found) {
        return;
    }
    const LaneRange& range = plot_.range(Lane::weight);
    QVector<double> heights;
    for (const double db : found->error.level_db) {
        heights.append(range.low
                       + std::min(std::abs(db) / error_top_db, 1.0) * (range.high - range.low));
    }
    plot_.set_data(error_floor_, Lane::weight, found->error.frequency_hz,
                   QVector<double>(heights.size(), range.low));
    plot_.set_data(error_, Lane::weight, found->error.frequency_hz, heights);
    error_rms_db_ = found->rms_db;
}

void LaneCurves::update_still() {
    draw_corridor();
    draw_target();
    draw_measured();
    draw_takes();
    const auto& goal = shown_.goal;
    draw_other_target(phase_target_, Lane::phase, goal ? goal->phase_deg : std::nullopt);
    draw_other_target(delay_target_, Lane::delay, goal ? goal->group_delay_ms : std::nullopt);
}

void LaneCurves::draw_other_target(LaneCurve graph, Lane lane,
                                   const std::optional<TargetCurve>& target) {
    graph.clear();
    if (target && is_shown("target")) {
        const LaneLine line = line_of(plot_, *target);
        plot_.set_data(graph, lane, line.hz, line.values,
                       lane == Lane::phase ? Symmetry::odd : Symmetry::even);
    }
}

void LaneCurves::draw_measured() {
    measured_.clear();
    if (!shown_.measured || !is_shown("measured")) {
        return;
    }
    const Curve& curve = *shown_.measured->curve;
    const bool many = curve.frequency_hz.size() > 240;
    if (!many) {
        plot_.set_data(measured_, Lane::magnitude, curve.frequency_hz,
                       drawable(plot_, curve.magnitude_db));
        return;
    }
    // Dots every few pixels say "measured" better than a smear of thousands.
    LaneLine line;
    for (const double f : frequencies_across(plot_, curve.low_hz(), curve.high_hz())) {
        line.add(f, shown_.measured->reader.magnitude_db_at(f));
    }
    plot_.set_data(measured_, Lane::magnitude, line.hz, drawable(plot_, line.values));
}

void LaneCurves::clear_takes() {
    for (const TakeGraphs& take : takes_) {
        for (LaneCurve graph :
             {take.level, take.phase, take.delay, take.edges.least, take.edges.most}) {
            plot_.remove_curve(graph);
        }
    }
    takes_.clear();
}

void LaneCurves::draw_takes() {
    clear_takes();
    const auto analysis = session_.analysis();
    for (std::size_t i = 0; i < shown_.takes.size() && analysis; ++i) {
        const auto& take = analysis->takes[i];
        if (!shown_.takes[i]->shown || take->problem || !is_shown(take_key(*shown_.takes[i]))) {
            continue;
        }
        const QPen pen(take_colour(i), 1);
        TakeGraphs graphs{plot_.add_curve(Lane::magnitude, "still", pen),
                          plot_.add_curve(Lane::phase, "still", pen),
                          plot_.add_curve(Lane::delay, "still", pen),
                          {plot_.add_curve(Lane::magnitude, "still", pen),
                           plot_.add_curve(Lane::magnitude, "still", pen)},
                          take};
        for (LaneCurve graph :
             {graphs.level, graphs.phase, graphs.delay, graphs.edges.least, graphs.edges.most}) {
            graph.set_smooth(true);
            graph.set_name(take_key(*shown_.takes[i]));
        }
        const bool closer = is_magnified();
        const Trace detail = closer ? detail_of_chain(take->chain) : Trace{};
        const LevelTrace level = closer ? prediction_from(detail) : take->predicted;
        draw_level(graphs.level, level);
        draw_edges(graphs.edges, level);
        // A take without stages is what was measured: its flat lines would say nothing.
        if (std::ranges::any_of(shown_.takes[i]->stages, &Stage::enabled)) {
            draw_phase_and_delay(graphs.phase, graphs.delay, closer ? detail : take->total);
        }
        takes_.push_back(graphs);
    }
}

} // namespace syntonon
