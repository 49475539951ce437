// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/band_tool.h"

#include "app/model/selected_fir.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double half_grip = 3.5, above_floor = 10, slowly = 0.1;
constexpr int pieces_of_a_slope = 32;

double gain_at(const FirBand& band, double part) {
    return std::lerp(band.gain, band.gain_to.value_or(band.gain), part);
}

// Between the bands below and above.
double kept_apart(const std::vector<FirBand>& bands, std::size_t index, bool upper, double hz,
                  double end_hz) {
    constexpr double least_width = 1e-6; // of the axis
    const FirBand& band = bands[index];
    double low = upper ? band.from_hz + least_width * end_hz : 0;
    double high = upper ? end_hz : band.to_hz - least_width * end_hz;
    for (std::size_t i = 0; i < bands.size(); ++i) {
        if (i == index) {
            continue;
        }
        if (bands[i].to_hz <= band.from_hz) {
            low = std::max(low, bands[i].to_hz);
        } else if (bands[i].from_hz >= band.to_hz) {
            high = std::min(high, bands[i].from_hz);
        }
    }
    return std::clamp(hz, low, std::max(low, high));
}

} // namespace

const FirSpec* BandTool::fir() const {
    const FirSpec* spec = selected_fir(session_);
    return spec != nullptr && takes_bands(*spec) && !spec->wish.use_goal
                   && plot_.view().shows(Lane::magnitude)
               ? spec
               : nullptr;
}

double BandTool::y_of(double gain) const {
    const QRect lane = plot_.rect_of(Lane::magnitude);
    const double floor = lane.bottom() - above_floor;
    if (gain == 0) {
        return floor;
    }
    return std::clamp(plot_.y_of(Lane::magnitude, db_from_ratio(std::abs(gain))),
                      lane.top() + half_grip, floor);
}

QPointF BandTool::point_of(const FirBand& band, bool upper) const {
    const QRect lane = plot_.rect_of(Lane::magnitude);
    const double hz = upper ? band.to_hz : band.from_hz;
    const double x = hz > 0 ? plot_.x_of(hz) : lane.left();
    return {std::clamp(x, lane.left() + half_grip, lane.right() - half_grip),
            y_of(gain_at(band, upper ? 1 : 0))};
}

std::vector<QPointF> BandTool::handle_points() const {
    std::vector<QPointF> points;
    if (const FirSpec* spec = fir()) {
        for (const FirBand& band : spec->wish.bands) {
            points.push_back(point_of(band, false));
            points.push_back(point_of(band, true));
        }
    }
    return points;
}

std::optional<BandTool::End> BandTool::end_at(const QPointF& point) const {
    const auto points = handle_points();
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (near(points[i], point)) {
            return End{i / 2, i % 2 == 1};
        }
    }
    return std::nullopt;
}

std::optional<QCursor> BandTool::cursor_at(const QPointF& point) const {
    return end_at(point) ? std::optional(QCursor(Qt::SizeHorCursor)) : std::nullopt;
}

void BandTool::paint(QPainter& painter) {
    if (!plot_.view().shows(Lane::magnitude)) {
        return;
    }
    painter.save();
    painter.setClipRect(plot_.rect_of(Lane::magnitude));
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (const FirSpec* spec = fir()) {
        paint_bands(painter, *spec);
    }
    paint_ticks(painter);
    painter.restore();
}

const BandTool::Ticks& BandTool::ticks() {
    const StageAnalysis* stage = session_.stage_analysis();
    if (stage == nullptr || !stage->filter || !stage->working
        || !std::holds_alternative<FirSpec>(*session_.stage()->spec)) {
        ticks_ = {};
    } else if (!ticks_.of || !ticks_.of->is_same_as(*stage->filter)) {
        ticks_ = {*stage->filter, {}, {}};
        const auto grid =
            FrequencyGrid::from_frequencies(stage->working().marked_hz, session_.axis());
        if (grid) {
            ticks_.hz.assign(grid->frequency_hz().begin(), grid->frequency_hz().end());
            ticks_.level_db = stage->filter->magnitude_db(*grid);
        }
    }
    return ticks_;
}

void BandTool::paint_ticks(QPainter& painter) {
    constexpr double half_tick = 4;
    const Ticks& all = ticks();
    painter.setPen(QPen(theme().copper, 1));
    for (std::size_t i = 0; i < all.hz.size(); ++i) {
        if (all.hz[i] > 0 && std::isfinite(all.level_db[i])) {
            const QPointF at(plot_.x_of(all.hz[i]), plot_.y_of(Lane::magnitude, all.level_db[i]));
            painter.drawLine(at - QPointF(0, half_tick), at + QPointF(0, half_tick));
        }
    }
}

void BandTool::paint_bands(QPainter& painter, const FirSpec& spec) const {
    const Theme& t = theme();
    QColor line = t.copper;
    line.setAlphaF(0.45F);
    for (const FirBand& band : spec.wish.bands) {
        const QPointF from = point_of(band, false), to = point_of(band, true);
        QPolygonF shape;
        for (int k = 0; k <= pieces_of_a_slope; ++k) {
            const double part = double(k) / pieces_of_a_slope;
            const double hz = std::lerp(band.from_hz, band.to_hz, part);
            const double x = hz > 0 ? plot_.x_of(hz) : from.x();
            shape << QPointF(std::clamp(x, from.x(), to.x()), y_of(gain_at(band, part)));
        }
        painter.setPen(QPen(line, 3));
        painter.drawPolyline(shape);
        painter.setPen(QPen(t.copper, 1.2));
        painter.setBrush(t.panel);
        for (const QPointF& end : {from, to}) {
            painter.drawRect(
                QRectF(end.x() - half_grip, end.y() - half_grip, 2 * half_grip, 2 * half_grip));
        }
        painter.setBrush(Qt::NoBrush);
    }
}

bool BandTool::press(const QMouseEvent& event) {
    const auto end = end_at(event.position());
    if (event.button() != Qt::LeftButton || !end) {
        return false;
    }
    held_ = Held{*end, point_of(fir()->wish.bands[end->band], end->upper), event.position(),
                 session_.new_gesture()};
    return true;
}

void BandTool::change(FirSpec& spec, const QPointF& to) const {
    FirBand& band = spec.wish.bands[held_->end.band];
    const bool upper = held_->end.upper;
    const QPointF from = point_of(band, upper);
    if (std::abs(to.x() - from.x()) > 0.01) {
        const QRect lane = plot_.rect_of(Lane::magnitude);
        const double hz = to.x() <= lane.left() + half_grip ? 0 : plot_.hz_at(to.x());
        (upper ? band.to_hz : band.from_hz) =
            kept_apart(spec.wish.bands, held_->end.band, upper, hz, session_.axis().end_hz());
    }
    double& gain = upper && band.gain_to ? *band.gain_to : band.gain;
    if (gain != 0 && std::abs(to.y() - from.y()) > 0.01) {
        gain = std::copysign(ratio_from_db(plot_.value_at(Lane::magnitude, to.y())), gain);
    }
}

bool BandTool::move(const QMouseEvent& event) {
    const FirSpec* spec = fir();
    if (!held_ || spec == nullptr || held_->end.band >= spec->wish.bands.size()) {
        return false;
    }
    const bool slow = event.modifiers().testFlag(Qt::ShiftModifier);
    const QPointF by = (event.position() - held_->last) * (slow ? slowly : 1);
    held_->last = event.position();
    held_->at += by;
    QPointF to = held_->at;
    if (event.modifiers().testFlag(Qt::ControlModifier)) {
        const QPointF now = point_of(spec->wish.bands[held_->end.band], held_->end.upper);
        (std::abs(by.x()) > std::abs(by.y()) ? to.ry() : to.rx()) =
            std::abs(by.x()) > std::abs(by.y()) ? now.y() : now.x();
    }
    session_.edit_stage(
        QObject::tr("Move a band of the FIR"),
        [&](Stage& stage) { change(std::get<FirSpec>(stage.spec.edit()), to); }, held_->gesture);
    return true;
}

bool BandTool::key(const QKeyEvent& event) {
    return held_ && escapes(event, session_, held_->gesture);
}

} // namespace syntonon
