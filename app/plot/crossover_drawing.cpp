// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/crossover_drawing.h"

#include "app/plot/lane_view.h"
#include "app/plot/painted_axes.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/base/units.h"

#include <QImage>
#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr double farthest_deg = 60;
constexpr double darkest_db = 18; // below the loudest angle

class CrossoverDrawing : PaintedAxes {
public:
    CrossoverDrawing(QPainter& painter, const QRectF& room, const CrossoverPicture& picture,
                     const Theme& theme)
        : PaintedAxes(painter, room, theme, picture.hz.front(), picture.hz.back()),
          picture_(picture), parts_(parts_of_hz(picture.hz)) {}

    void paint(CrossoverForm form) {
        painter_.save();
        ground();
        switch (form) {
        case CrossoverForm::level:
            paint_levels();
            break;
        case CrossoverForm::phase:
            paint_pair(phase_of(picture_.on_axis), phase_of(picture_.off_axis), tr("°"),
                       phase_title());
            break;
        case CrossoverForm::delay:
            paint_pair(in_ms(picture_.on_axis.delay_s), in_ms(picture_.off_axis.delay_s), tr(" ms"),
                       tr("Group delay of the sum"));
            break;
        case CrossoverForm::lobes:
            paint_lobes();
            break;
        }
        painter_.restore();
    }

private:
    bool is_off_axis() const { return picture_.angle_deg != 0; }
    QPen on_axis_pen() const { return {theme_.ink, 1.8}; }
    QPen off_axis_pen() const { return {theme_.ink, 1.2, Qt::DashLine}; }

    std::vector<Entry> sums() const {
        std::vector<Entry> entries{{theme_.ink, tr("sum")}};
        if (is_off_axis()) {
            entries.push_back(
                {theme_.ink, tr("at %1°").arg(shown_number(picture_.angle_deg, 3)), Qt::DashLine});
        }
        return entries;
    }

    void axes(const QString& unit) {
        frequency_axis();
        value_axis(unit);
        painter_.setClipRect(area_);
    }
    void finish(const QString& title, std::vector<Entry> entries) {
        painter_.setClipping(false);
        frame();
        legend(title, std::move(entries));
    }

    void paint_levels() {
        double high = -infinity;
        for (const double db : picture_.on_axis.level_db) {
            high = std::max(high, db);
        }
        constexpr double shown_db = 48, above_db = 3;
        step_ = 12;
        high_ = std::isfinite(high) ? std::ceil((high + above_db) / 6) * 6 : 6;
        low_ = high_ - shown_db;
        axes(tr(" dB"));
        for (const CrossoverPicture::Way& way : picture_.ways) {
            curve(parts_, way.level_db, QPen(way.colour, 1.4));
        }
        if (is_off_axis()) {
            curve(parts_, picture_.off_axis.level_db, off_axis_pen());
        }
        curve(parts_, picture_.on_axis.level_db, on_axis_pen());
        std::vector<Entry> entries;
        for (const CrossoverPicture::Way& way : picture_.ways) {
            entries.push_back({way.colour, way.name});
        }
        std::ranges::move(sums(), std::back_inserter(entries));
        finish({}, std::move(entries));
    }

    Values phase_of(const WaySum& sum) const {
        Values deg;
        for (std::size_t i = 0; i < sum.phase_rad.size(); ++i) {
            deg.push_back(
                deg_from_rad(sum.phase_rad[i] + 2 * pi * picture_.hz[i] * picture_.delay_s));
        }
        // About 0 at the high end, where the delay that is taken out was read.
        const double turns = deg.empty() ? 0 : std::round(deg.back() / 360) * 360;
        std::ranges::for_each(deg, [turns](double& value) { value -= turns; });
        return deg;
    }
    QString phase_title() const {
        constexpr double worth_saying_s = 1e-6;
        return std::abs(picture_.delay_s) < worth_saying_s
                   ? tr("Phase of the sum")
                   : tr("Phase of the sum, %1 ms taken out")
                         .arg(fixed_number(1e3 * picture_.delay_s, 2));
    }
    static Values in_ms(Values seconds) {
        std::ranges::for_each(seconds, [](double& value) { value *= 1e3; });
        return seconds;
    }

    void paint_pair(const Values& on_axis, const Values& off_axis, const QString& unit,
                    const QString& title) {
        double low = infinity, high = -infinity;
        for (const double value : on_axis) {
            if (std::isfinite(value)) {
                low = std::min(low, value);
                high = std::max(high, value);
            }
        }
        if (low > high) {
            low = high = 0;
        }
        const double least_span = unit == tr("°") ? 10 : 0.1;
        const double span = std::max(high - low, least_span);
        step_ = round_step(span / 3);
        low_ = std::floor((low - span / 10) / step_) * step_;
        high_ = std::ceil((high + span / 10) / step_) * step_;
        axes(unit);
        if (is_off_axis()) {
            curve(parts_, off_axis, off_axis_pen());
        }
        curve(parts_, on_axis, on_axis_pen());
        finish(title, is_off_axis() ? sums() : std::vector<Entry>());
    }

    // Each frequency against its own loudest angle.
    QImage image() const {
        const LobeMap& map = picture_.lobes;
        QImage image(static_cast<int>(map.hz.size()), static_cast<int>(map.angles_deg.size()),
                     QImage::Format_RGB32);
        const QColor low = theme_.panel, high = theme_.corridor_edge;
        for (std::size_t i = 0; i < map.hz.size(); ++i) {
            double loudest = -infinity;
            for (const auto& level : map.level_db) {
                loudest = std::max(loudest, level[i]);
            }
            for (std::size_t a = 0; a < map.angles_deg.size(); ++a) {
                const double share =
                    std::clamp(1 - (loudest - map.level_db[a][i]) / darkest_db, 0.0, 1.0);
                const auto mix = [share](int from, int to) {
                    return static_cast<int>(from + share * (to - from));
                };
                image.setPixel(static_cast<int>(i), static_cast<int>(map.angles_deg.size() - 1 - a),
                               qRgb(mix(low.red(), high.red()), mix(low.green(), high.green()),
                                    mix(low.blue(), high.blue())));
            }
        }
        return image;
    }

    void paint_lobes() {
        low_ = -farthest_deg;
        high_ = farthest_deg;
        step_ = 30;
        frequency_axis();
        value_axis(tr("°"));
        painter_.setRenderHint(QPainter::SmoothPixmapTransform);
        painter_.drawImage(area_, image());
        painter_.setClipRect(area_);
        curve(parts_, Values(parts_.size(), 0.0), QPen(theme_.panel, 1, Qt::DotLine));
        if (is_off_axis()) {
            curve(parts_, Values(parts_.size(), picture_.angle_deg), off_axis_pen());
        }
        curve(parts_, picture_.lobes.loudest_deg, QPen(theme_.ink, 2));
        finish(tr("Against the loudest angle: pale is %1 dB down").arg(darkest_db),
               {{theme_.ink, tr("loudest")}});
    }

    const CrossoverPicture& picture_;
    Values parts_;
};

} // namespace

CrossoverPicture picture_of(const SummedWays& summed, double angle_deg) {
    CrossoverPicture picture;
    picture.hz = summed.hz();
    picture.on_axis = summed.sum(0);
    picture.off_axis = summed.sum(angle_deg);
    picture.angle_deg = angle_deg;
    for (std::size_t way = 0; way < summed.count(); ++way) {
        picture.ways.push_back({{}, {}, summed.level_db(way)});
    }
    std::vector<double> angles;
    constexpr int most = static_cast<int>(farthest_deg);
    for (int angle = -most; angle <= most; angle += 2) {
        angles.push_back(angle);
    }
    picture.lobes = lobes_of(summed, std::move(angles));
    const auto& delays = picture.on_axis.delay_s;
    for (const double delay : delays) { // the last one that is told
        picture.delay_s = std::isfinite(delay) ? delay : picture.delay_s;
    }
    return picture;
}

void paint_crossover(QPainter& painter, const QRectF& room, const CrossoverPicture& picture,
                     CrossoverForm form, const Theme& theme) {
    CrossoverDrawing(painter, room, picture, theme).paint(form);
}

} // namespace syntonon
