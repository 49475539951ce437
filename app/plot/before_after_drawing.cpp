// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/before_after_drawing.h"

#include "app/plot/lane_view.h"
#include "app/plot/painted_axes.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>

namespace syntonon {
namespace {

using Values = std::vector<double>;

class BeforeAfterDrawing : PaintedAxes {
public:
    BeforeAfterDrawing(QPainter& painter, const QRectF& room, const BeforeAfter& result,
                       BeforeAfterForm form, const BeforeAfterStyle& style)
        : PaintedAxes(painter, room, style.theme, style.low_hz, style.high_hz), style_(style),
          result_(result), form_(form), is_level_(form == BeforeAfterForm::level),
          parts_(is_level_ ? parts_of_hz(result.hz) : parts_of_time()) {}

    void paint() {
        find_range();
        painter_.save();
        ground();
        if (is_level_) {
            frequency_axis();
        } else {
            time_axis();
        }
        value_axis(is_level_ ? tr(" dB") : QString());
        painter_.setClipRect(area_);
        curves();
        painter_.setClipping(false);
        frame();
        std::vector<Entry> entries{{colour_of(false), tr("before")},
                                   {colour_of(true), tr("after")}};
        if (is_level_ && !result_.target_db.empty()) {
            entries.push_back({style_.theme.corridor_edge, tr("target"), Qt::DashLine});
        }
        constexpr std::array titles = {"Level", "Impulse · the sound before: 1", "Step"};
        legend(text_of(titles[static_cast<std::size_t>(form_)]), entries);
        painter_.restore();
    }

private:
    // The sound itself towers over all that a room does: it may leave the drawing of an impulse.
    bool is_main(std::size_t i) const {
        constexpr double main_s = 0.7e-3;
        return form_ == BeforeAfterForm::impulse && std::abs(result_.seconds[i]) < main_s;
    }
    double part_of_s(double s) const {
        const double from = result_.seconds.front();
        return (s - from) / (result_.seconds.back() - from);
    }
    Values parts_of_time() const {
        Values parts;
        std::ranges::transform(result_.seconds, std::back_inserter(parts),
                               [this](double s) { return part_of_s(s); });
        return parts;
    }

    Values values(const BeforeAfter::Place& place, bool after) const {
        if (is_level_) {
            return after ? place.after_db : place.before_db;
        }
        const Values& impulse = after ? place.impulse_after : place.impulse_before;
        return form_ == BeforeAfterForm::step ? running_sum(impulse) : impulse;
    }

    void find_range() {
        double low = 1e300, high = -1e300;
        for (const bool after : {false, true}) {
            const Values all = values(result_.together, after);
            for (std::size_t i = 0; i < all.size(); ++i) {
                if (std::isfinite(all[i]) && parts_[i] >= 0 && parts_[i] <= 1 && !is_main(i)) {
                    low = std::min(low, all[i]);
                    high = std::max(high, all[i]);
                }
            }
        }
        if (low > high) {
            low = -1;
            high = 1;
        }
        if (is_level_) {
            constexpr double many_db = 24, deepest_db = 60;
            low = std::max(low, high - deepest_db);
            step_ = high - low > many_db ? 10 : 5;
            low_ = std::floor((low - 1) / step_) * step_;
            high_ = std::ceil((high + 1) / step_) * step_;
        } else {
            const double room = 0.06 * (high - low);
            low_ = low - room;
            high_ = high + room;
            step_ = round_step((high_ - low_) / 5);
        }
    }

    void time_axis() {
        const double from_ms = 1e3 * result_.seconds.front(), to_ms = 1e3 * result_.seconds.back();
        const double step = round_step((to_ms - from_ms) / std::max(2.0, area_.width() / 60));
        for (double ms = std::ceil(from_ms / step) * step; ms <= to_ms + 1e-9; ms += step) {
            const double x = area_.left() + part_of_s(ms / 1e3) * area_.width();
            line_at(x);
            const QString text = shown_number(std::abs(ms) < step / 1e3 ? 0 : ms, 4);
            under_axis(x, ms + step > to_ms ? text + tr(" ms") : text);
        }
    }

    QColor colour_of(bool after) const { return after ? style_.after : style_.theme.measured; }

    void curves() {
        if (is_level_ && !result_.target_db.empty()) {
            curve(parts_, result_.target_db, QPen(style_.theme.corridor_edge, 1.6, Qt::DashLine));
        }
        for (const bool after : {false, true}) {
            QColor thin = colour_of(after);
            thin.setAlphaF(0.35F);
            for (const BeforeAfter::Place& place : result_.positions) {
                curve(parts_, values(place, after), QPen(thin, 0.8));
            }
        }
        for (const bool after : {false, true}) {
            curve(parts_, values(result_.together, after), QPen(colour_of(after), after ? 2 : 1.6));
        }
    }

    const BeforeAfterStyle& style_;
    const BeforeAfter& result_;
    BeforeAfterForm form_;
    bool is_level_;
    Values parts_;
};

class LeftOverDrawing : PaintedAxes {
public:
    LeftOverDrawing(QPainter& painter, const QRectF& room, const LeftOver& left,
                    const BeforeAfterStyle& style)
        : PaintedAxes(painter, room, style.theme, style.low_hz, style.high_hz), style_(style),
          left_(left) {}

    void paint() {
        double greatest = 1e-3;
        for (const double db : left_.db) {
            greatest = std::max(greatest, std::abs(db));
        }
        step_ = round_step(greatest / 2);
        high_ = step_ * std::ceil(1.1 * greatest / step_);
        low_ = -high_;
        painter_.save();
        ground();
        frequency_axis();
        value_axis(tr(" dB"));
        painter_.setClipRect(area_);
        curve(parts_of_hz(left_.hz), left_.db, QPen(style_.after, 1.6));
        painter_.setClipping(false);
        frame();
        legend(tr("Found, less what was aimed for"), {});
        painter_.restore();
    }

private:
    const BeforeAfterStyle& style_;
    const LeftOver& left_;
};

} // namespace

void paint_before_after(QPainter& painter, const QRectF& room, const BeforeAfter& result,
                        BeforeAfterForm form, const BeforeAfterStyle& style) {
    BeforeAfterDrawing(painter, room, result, form, style).paint();
}

void paint_left_over(QPainter& painter, const QRectF& room, const LeftOver& left,
                     const BeforeAfterStyle& style) {
    LeftOverDrawing(painter, room, left, style).paint();
}

} // namespace syntonon
