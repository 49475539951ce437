// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/sample_tool.h"

#include "app/model/selected_fir.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <QMenu>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double above_silence = 10, in_sight = 4, slow_part = 0.1;

} // namespace

const SamplesInHand& SampleTool::in_hand() const {
    static const SamplesInHand none;
    const FirSpec* spec = selected_fir(session_);
    if (spec == nullptr || !std::holds_alternative<SampledFir>(spec->method)
        || !plot_.view().shows(Lane::magnitude)) {
        known_.reset();
        return none;
    }
    const StageAnalysis* stage = session_.stage_analysis();
    const void* brief = stage != nullptr ? stage->brief.get() : nullptr;
    const double rate = session_.study().sample_rate_hz;
    if (!known_ || !(known_->spec == *spec) || known_->brief != brief || known_->rate != rate) {
        known_ = Known{*spec, brief, rate, samples_in_hand(session_).value_or(none)};
    }
    return known_->samples;
}

double SampleTool::floor() const {
    return plot_.rect_of(Lane::magnitude).bottom() - above_silence;
}

QPointF SampleTool::point_of(const FirSample& sample) const {
    const QRect lane = plot_.rect_of(Lane::magnitude);
    const double gain = std::abs(gain_found(session_, sample));
    const double x = sample.frequency_hz > 0 ? plot_.x_of(sample.frequency_hz) : lane.left();
    const double y = gain > 0 ? plot_.y_of(Lane::magnitude, db_from_ratio(gain)) : floor();
    return {std::clamp(x, lane.left() + in_sight, lane.right() - in_sight),
            std::clamp(y, lane.top() + in_sight, floor())};
}

std::vector<QPointF> SampleTool::handle_points() const {
    std::vector<QPointF> points;
    for (const FirSample& sample : in_hand().samples) {
        points.push_back(point_of(sample));
    }
    return points;
}

std::optional<std::size_t> SampleTool::sample_at(const QPointF& point) const {
    const auto points = handle_points();
    const auto away = [&](const QPointF& at) {
        const QPointF by = at - point;
        return QPointF::dotProduct(by, by);
    };
    const auto nearest = std::ranges::min_element(points, {}, away);
    return nearest != points.end() && near(*nearest, point)
               ? std::optional(static_cast<std::size_t>(nearest - points.begin()))
               : std::nullopt;
}

std::optional<std::size_t> SampleTool::last() const {
    return last_ && *last_ < in_hand().samples.size() ? last_ : std::nullopt;
}

std::optional<QCursor> SampleTool::cursor_at(const QPointF& point) const {
    return sample_at(point) ? std::optional(QCursor(Qt::SizeAllCursor)) : std::nullopt;
}

void SampleTool::paint(QPainter& painter) {
    const SamplesInHand& all = in_hand();
    if (all.samples.empty()) {
        return;
    }
    const Theme& t = theme();
    painter.save();
    painter.setClipRect(plot_.rect_of(Lane::magnitude));
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setBrush(t.raised);
    double before = -1e9;
    for (std::size_t i = 0; i < all.samples.size(); ++i) {
        const QPointF at = point_of(all.samples[i]);
        constexpr double crowded = 9;
        const bool is_small = !all.are_own || at.x() - before < crowded;
        const double half = is_small ? 2.6 : 4;
        before = at.x();
        painter.setPen(QPen(t.copper, i == last_ ? 2.4 : is_small ? 1 : 1.4));
        if (all.samples[i].gain) {
            painter.drawEllipse(at, half, half);
        } else {
            const double wide = half + 1.4;
            painter.drawPolygon(QPolygonF{at + QPointF(0, -wide), at + QPointF(wide, 0),
                                          at + QPointF(0, wide), at + QPointF(-wide, 0)});
        }
    }
    painter.restore();
}

bool SampleTool::press(const QMouseEvent& event) {
    const auto index = sample_at(event.position());
    if (event.button() != Qt::LeftButton || !index) {
        return false;
    }
    held_ =
        Held{*index, point_of(in_hand().samples[*index]), event.position(), session_.new_gesture()};
    last_ = index;
    return true;
}

void SampleTool::change(std::vector<FirSample>& samples, std::size_t index,
                        const QPointF& to) const {
    constexpr double moved = 0.01;
    FirSample& sample = samples[index];
    const QPointF from = point_of(sample);
    const QRect lane = plot_.rect_of(Lane::magnitude);
    if (std::abs(to.x() - from.x()) > moved) {
        const double apart = 1e-6 * session_.axis().end_hz();
        const double low = index > 0 ? samples[index - 1].frequency_hz + apart : 0;
        const double high = index + 1 < samples.size() ? samples[index + 1].frequency_hz - apart
                                                       : session_.axis().end_hz();
        const double hz = to.x() <= lane.left() + in_sight ? 0 : plot_.hz_at(to.x());
        sample.frequency_hz = std::clamp(hz, low, std::max(low, high));
    }
    if (std::abs(to.y() - from.y()) > moved) {
        const double sign = sample.gain.value_or(1) < 0 ? -1 : 1;
        sample.gain =
            to.y() >= floor() ? 0 : sign * ratio_from_db(plot_.value_at(Lane::magnitude, to.y()));
    }
}

bool SampleTool::move(const QMouseEvent& event) {
    if (!held_ || held_->index >= in_hand().samples.size()) {
        return false;
    }
    const bool slow = event.modifiers().testFlag(Qt::ShiftModifier);
    const QPointF by = (event.position() - held_->last) * (slow ? slow_part : 1);
    held_->last = event.position();
    held_->at += by;
    QPointF to = held_->at;
    if (event.modifiers().testFlag(Qt::ControlModifier)) {
        const QPointF now = point_of(in_hand().samples[held_->index]);
        const bool along = std::abs(by.x()) > std::abs(by.y());
        (along ? to.ry() : to.rx()) = along ? now.y() : now.x();
    }
    edit_samples(
        session_, QObject::tr("Move a sample"),
        [&](std::vector<FirSample>& samples) { change(samples, held_->index, to); },
        held_->gesture);
    return true;
}

bool SampleTool::wants_key(const QKeyEvent& event) const {
    return event.key() == Qt::Key_Delete && last();
}

bool SampleTool::nudge(double steps, double db) {
    const auto index = last();
    const FirSpec* spec = selected_fir(session_);
    if (!index || spec == nullptr) {
        return false;
    }
    const double step = steps * session_.study().sample_rate_hz / std::max(spec->length, 1);
    edit_samples(
        session_, QObject::tr("Move a sample"),
        [&](std::vector<FirSample>& samples) {
            FirSample& sample = samples[*index];
            if (db != 0) {
                sample.gain = gain_found(session_, sample) * ratio_from_db(db);
            }
            const double low = *index > 0 ? samples[*index - 1].frequency_hz : 0;
            const double high = *index + 1 < samples.size() ? samples[*index + 1].frequency_hz
                                                            : session_.axis().end_hz();
            const double hz = sample.frequency_hz + step;
            sample.frequency_hz = step != 0 && hz >= low && hz <= high ? hz : sample.frequency_hz;
        },
        session_.continuing_gesture(QStringLiteral("sample %1").arg(*index)));
    return true;
}

bool SampleTool::key(const QKeyEvent& event) {
    if (held_ && escapes(event, session_, held_->gesture)) {
        return true;
    }
    if (wants_key(event)) {
        remove_sample(session_, *last());
        last_.reset();
        return true;
    }
    constexpr double part_of_step = 0.1, level_db = 0.5;
    const double amount = event.modifiers().testFlag(Qt::ShiftModifier) ? slow_part : 1;
    switch (event.key()) {
    case Qt::Key_Left:
        return nudge(-amount * part_of_step, 0);
    case Qt::Key_Right:
        return nudge(amount * part_of_step, 0);
    case Qt::Key_Up:
        return nudge(0, amount * level_db);
    case Qt::Key_Down:
        return nudge(0, -amount * level_db);
    default:
        return false;
    }
}

bool SampleTool::double_click(const QPointF& at) {
    const auto index = sample_at(at);
    if (index) {
        last_ = index;
        toggle_best(session_, *index);
    }
    return index.has_value();
}

void SampleTool::fill_menu(QMenu& menu, const QPointF& at) {
    const auto index = sample_at(at);
    if (!index) {
        return;
    }
    last_ = index;
    const auto add = [&](const QString& text, const std::function<void()>& then) {
        menu.addAction(text, &plot_, then);
    };
    add(in_hand().samples[*index].gain ? QObject::tr("Leave this sample to the program")
                                       : QObject::tr("Keep this sample as it is"),
        [this, i = *index] { toggle_best(session_, i); });
    add(QObject::tr("Put this sample on the grid"),
        [this, i = *index] { put_on_grid(session_, i); });
    add(QObject::tr("Put all samples on the grid"), [this] { put_on_grid(session_); });
    add(QObject::tr("Remove this sample"), [this, i = *index] { remove_sample(session_, i); });
    menu.addSeparator();
}

} // namespace syntonon
