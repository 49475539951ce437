// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/delay_tool.h"

#include "app/model/selected_fir.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"
#include "core/design/fir/asked_bands.h"
#include "core/filter/form.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double half_square = 4.5, slow_drag = 0.1;
constexpr double near_middle_px = 2, near_middle_samples = 0.05;
constexpr double least_travel_px = 80; // from linear phase to no delay

// The middle of the widest stretch that is to pass, by ratio from `low_hz` on.
double middle_of_passband(const Amplitude& wanted, double low_hz, double rate) {
    double widest = 0, found = std::sqrt(low_hz * rate / 2), greatest = 0;
    for (const AmplitudePiece& piece : wanted) {
        greatest = std::max(greatest, std::abs(piece.gain.at_from));
    }
    for (const AmplitudePiece& piece : wanted) {
        const double from = std::max(hz_from_rad_per_sample(piece.gain.from, rate), low_hz);
        const double to = hz_from_rad_per_sample(piece.gain.to, rate);
        if (std::abs(piece.gain.at_from) > greatest / 2 && to / from > widest) {
            widest = to / from;
            found = std::sqrt(from * to);
        }
    }
    return found;
}

} // namespace

const FirSpec* DelayTool::fir() const {
    const FirSpec* spec = selected_fir(session_);
    const StageAnalysis* stage = session_.stage_analysis();
    return spec != nullptr && delay_of_its_own(*spec) != nullptr && stage != nullptr
                   && stage->filter && plot_.view().shows(Lane::delay)
               ? spec
               : nullptr;
}

double DelayTool::ms_of(double samples) const {
    return 1e3 * samples / session_.study().sample_rate_hz;
}

double DelayTool::passband_hz() const {
    const StageAnalysis& stage = *session_.stage_analysis();
    if (known_ && known_->of.is_same_as(*stage.filter)) {
        return known_->hz;
    }
    const double rate = session_.study().sample_rate_hz;
    const auto* taps = std::get_if<Taps>(&stage.filter->form());
    const Brief brief = stage.brief != nullptr ? *stage.brief : brief_at(session_.axis());
    const auto wanted = taps != nullptr ? bands_asked_for(*fir(), brief, taps->values())
                                        : Expected<Amplitude>(Amplitude());
    constexpr double low_hz = 50;
    known_ = Known{*stage.filter, middle_of_passband(wanted.value_or(Amplitude()), low_hz, rate)};
    return known_->hz;
}

std::optional<QPointF> DelayTool::grip() const {
    const FirSpec* spec = fir();
    if (spec == nullptr) {
        return std::nullopt;
    }
    const QRect lane = plot_.rect_of(Lane::delay);
    const double delay =
        delay_of_its_own(*spec)->value_or(middle_of(static_cast<std::size_t>(spec->length)));
    return QPointF(std::clamp(plot_.x_of(passband_hz()), lane.left() + half_square,
                              lane.right() - half_square),
                   std::clamp(plot_.y_of(Lane::delay, ms_of(delay)), lane.top() + half_square,
                              lane.bottom() - half_square));
}

std::vector<QPointF> DelayTool::handle_points() const {
    const auto at = grip();
    return at ? std::vector{*at} : std::vector<QPointF>();
}

std::optional<QCursor> DelayTool::cursor_at(const QPointF& point) const {
    const auto at = grip();
    return at && near(*at, point) ? std::optional(QCursor(Qt::SizeVerCursor)) : std::nullopt;
}

void DelayTool::paint(QPainter& painter) {
    const auto at = grip();
    if (!at) {
        return;
    }
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(t.copper, 1.4));
    painter.setBrush(t.raised);
    painter.drawRect(
        QRectF(at->x() - half_square, at->y() - half_square, 2 * half_square, 2 * half_square));
    painter.setRenderHint(QPainter::Antialiasing, false);
    const FirSpec& spec = *fir();
    const auto& own = *delay_of_its_own(spec);
    const QString words =
        own ? QObject::tr("%1 samples").arg(shown_number(*own, 5))
            : QObject::tr("%1 samples, linear phase")
                  .arg(shown_number(middle_of(static_cast<std::size_t>(spec.length)), 5));
    painter.setFont(text_font(11));
    painter.setPen(t.copper);
    const QRect lane = plot_.rect_of(Lane::delay);
    constexpr double height = 14, beside = 9;
    const bool above = at->y() - height > lane.top();
    painter.drawText(
        QRectF(at->x() + beside, above ? at->y() - height - 1 : at->y() + 2, 220, height),
        Qt::AlignLeft | Qt::AlignVCenter, words);
}

bool DelayTool::press(const QMouseEvent& event) {
    const auto at = grip();
    if (event.button() != Qt::LeftButton || !at || !near(*at, event.position())) {
        return false;
    }
    held_ = Held{at->y(), event.position().y(), session_.new_gesture()};
    return true;
}

bool DelayTool::move(const QMouseEvent& event) {
    const FirSpec* spec = fir();
    if (!held_ || spec == nullptr) {
        return false;
    }
    const bool slow = event.modifiers().testFlag(Qt::ShiftModifier);
    const double middle = middle_of(static_cast<std::size_t>(spec->length));
    // On a coarse lane the grip goes slower than the pointer, or a pixel would be many samples.
    const double all_px =
        std::abs(plot_.y_of(Lane::delay, 0) - plot_.y_of(Lane::delay, ms_of(middle)));
    const double ease = std::min(1.0, all_px / least_travel_px);
    held_->y += (event.position().y() - held_->last) * ease * (slow ? slow_drag : 1);
    held_->last = event.position().y();
    const double per_ms = session_.study().sample_rate_hz / 1e3;
    const double to = std::clamp(plot_.value_at(Lane::delay, held_->y) * per_ms, 0.0, 2 * middle);
    const double away_px = std::abs(held_->y - plot_.y_of(Lane::delay, ms_of(middle)));
    const bool is_linear =
        std::abs(to - middle) < near_middle_samples || (!slow && away_px < near_middle_px * ease);
    constexpr double grain = 1e3; // of a sample
    session_.edit_stage(
        QObject::tr("Move the delay of the FIR"),
        [&](Stage& stage) {
            auto& changed = std::get<FirSpec>(stage.spec.edit());
            *delay_of_its_own(changed) =
                is_linear ? std::nullopt : std::optional(std::round(to * grain) / grain);
        },
        held_->gesture);
    return true;
}

bool DelayTool::key(const QKeyEvent& event) {
    return held_ && escapes(event, session_, held_->gesture);
}

} // namespace syntonon
