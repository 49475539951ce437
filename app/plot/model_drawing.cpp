// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/model_drawing.h"

#include "app/plot/painted_axes.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

class ModelPainter : public PaintedAxes {
public:
    using PaintedAxes::PaintedAxes;

    void paint(const LevelsPicture& picture) {
        double high = -1e9;
        for (const auto& one : picture.curves) {
            for (const double db : one.level_db) {
                high = std::isfinite(db) ? std::max(high, db) : high;
            }
        }
        constexpr double shown_db = 48;
        step_ = 12;
        high_ = std::ceil((std::max(high, -60.0) + 2) / 6) * 6;
        low_ = high_ - shown_db;
        ground();
        frequency_axis();
        value_axis(tr(" dB"));
        painter_.setClipRect(area_);
        const Values parts = parts_of_hz(picture.hz);
        std::vector<Entry> entries;
        for (std::size_t i = 0; i < picture.curves.size(); ++i) {
            const auto& one = picture.curves[i];
            const double share =
                picture.curves.size() > 1 ? double(i) / double(picture.curves.size() - 1) : 0;
            const QColor colour = between(theme_.ink, theme_.copper, share);
            const Qt::PenStyle line = i == 0 ? Qt::DashLine : Qt::SolidLine;
            curve(parts, one.level_db, QPen(colour, 1.2, line));
            entries.push_back({colour, QString::fromStdString(signed_text(one.peak_db, 0)), line});
        }
        painter_.setClipping(false);
        frame();
        legend(tr("By dBFS"), std::move(entries));
    }

    void paint(const HarmonicsPicture& picture) {
        constexpr double shown_db = 120;
        step_ = 20;
        high_ = 0;
        for (const double db : picture.found.level_db) {
            high_ = std::max(high_, std::ceil(db / 20) * 20);
        }
        low_ = high_ - shown_db;
        ground();
        value_axis(tr(" dB"));
        painter_.setClipRect(area_.adjusted(-1, -1, 1, 1));
        const auto& levels = picture.found.level_db;
        const double wide = area_.width() / std::max<double>(double(levels.size()), 1);
        std::vector<double> middles;
        for (std::size_t i = 0; i < levels.size(); ++i) {
            const double x = area_.left() + (double(i) + 0.5) * wide;
            middles.push_back(x);
            if (levels[i] > low_) {
                painter_.setPen(Qt::NoPen);
                painter_.setBrush(i == 0 ? theme_.ink : theme_.copper);
                painter_.drawRect(QRectF(x - std::min(6.0, wide / 3), y_of(levels[i]),
                                         2 * std::min(6.0, wide / 3),
                                         area_.bottom() - y_of(levels[i])));
            }
        }
        if (picture.found.rest_db > low_) {
            painter_.setPen(QPen(theme_.measured, 1, Qt::DashLine));
            const double y = y_of(picture.found.rest_db);
            painter_.drawLine(QPointF(area_.left(), y), QPointF(area_.right(), y));
        }
        painter_.setClipping(false);
        const double least = painter_.fontMetrics().horizontalAdvance(QStringLiteral("00 "));
        const auto every = std::max<std::size_t>(1, std::size_t(std::ceil(least / wide)));
        for (std::size_t i = 0; i < middles.size(); i += every) {
            number({middles[i] - 20, area_.bottom() + 3, 40, 14}, Qt::AlignCenter,
                   QString::number(i + 1));
        }
        frame();
        legend(tr("Harmonics of %1").arg(shown_words(frequency_text(picture.found.tone_hz, 4))),
               {{theme_.measured, tr("all beside them"), Qt::DashLine}});
    }

    void paint(const PolesPicture& picture) {
        double left = -1.5, top = 1.4;
        for (const PolesAtResonance& at : picture.path) {
            for (const auto& pole : at.poles) {
                left = std::min(left, std::max(pole.real() - 0.2, -4.0));
                top = std::max(top, std::min(pole.imag() + 0.2, 4.0));
            }
        }
        // The upper half, as wide as high is said by the numbers.
        const double right = 0.6;
        low_ = 0;
        high_ = top;
        step_ = 0.5;
        ground();
        value_axis({});
        const auto x_of = [&](double re) {
            return area_.left() + (re - left) / (right - left) * area_.width();
        };
        for (double re = std::ceil(left); re <= right; re += left < -2 ? 1 : 0.5) {
            line_at(x_of(re));
            under_axis(x_of(re), shown_number(re, 2));
        }
        painter_.setClipRect(area_);
        painter_.setPen(QPen(theme_.text, 1));
        painter_.drawLine(QPointF(x_of(0), area_.top()), QPointF(x_of(0), area_.bottom()));
        paint_set_circle(x_of);
        const auto mark = [&](const PolesAtResonance& at, double size) {
            for (const auto& pole : at.poles) {
                if (pole.imag() >= -1e-9) {
                    const QPointF c(x_of(pole.real()), y_of(std::max(pole.imag(), 0.0)));
                    painter_.drawLine(c + QPointF(-size, -size), c + QPointF(size, size));
                    painter_.drawLine(c + QPointF(-size, size), c + QPointF(size, -size));
                }
            }
        };
        for (const PolesAtResonance& at : picture.path) {
            painter_.setPen(QPen(at.resonance > 1 ? theme_.not_met : theme_.ink, 1));
            mark(at, 1.5);
        }
        painter_.setPen(QPen(theme_.copper, 1.6));
        mark(picture.now, 5);
        painter_.setClipping(false);
        frame();
        legend(tr("Poles, set frequency = 1"),
               {{theme_.ink, tr("by resonance")},
                {theme_.copper, tr("at %1").arg(shown_number(picture.now.resonance, 3))}});
    }

    void paint(const MovedPicture& picture) {
        const MovedRuns& runs = picture.runs;
        const double most = std::max(runs.modelled.peak, 1.0);
        const double shown = std::min(std::max(runs.direct.peak, most), 3 * most);
        step_ = shown > 8 ? 5 : shown > 3 ? 2 : 1;
        high_ = std::ceil(shown / step_) * step_;
        low_ = -high_;
        ground();
        value_axis({});
        const double ms = double(runs.input.size()) / picture.sample_rate_hz * 1e3;
        for (int i = 0; i <= 4; ++i) {
            line_at(area_.left() + i / 4.0 * area_.width());
            under_axis(area_.left() + i / 4.0 * area_.width(),
                       tr("%1 ms").arg(shown_number(i / 4.0 * ms, 3)));
        }
        painter_.setClipRect(area_);
        painter_.setRenderHint(QPainter::Antialiasing, false);
        trace(runs.direct.samples, theme_.not_met);
        trace(runs.modelled.samples, theme_.ink);
        painter_.setRenderHint(QPainter::Antialiasing);
        painter_.setClipping(false);
        frame();
        legend(tr("Moved with every sample"),
               {{theme_.ink, tr("as modelled")}, {theme_.not_met, tr("direct form II")}});
    }

private:
    static QColor between(const QColor& from, const QColor& to, double share) {
        const auto mix = [&](int a, int b) { return int(std::lround(a + share * (b - a))); };
        return {mix(from.red(), to.red()), mix(from.green(), to.green()),
                mix(from.blue(), to.blue())};
    }
    template <class XOf>
    void paint_set_circle(XOf x_of) {
        painter_.setPen(QPen(theme_.hairline, 1, Qt::DotLine));
        QPolygonF circle;
        for (int i = 0; i <= 90; ++i) {
            const double angle = M_PI / 2 + M_PI / 2 * i / 90;
            circle << QPointF(x_of(std::cos(angle)), y_of(std::sin(angle)));
        }
        painter_.drawPolyline(circle);
    }
    // Least and greatest of each pixel's samples.
    void trace(const std::vector<double>& samples, const QColor& colour) {
        const int wide = std::max(1, int(area_.width()));
        painter_.setPen(QPen(colour, 1));
        QList<QLineF> lines;
        for (int x = 0; x < wide; ++x) {
            const std::size_t from = samples.size() * std::size_t(x) / std::size_t(wide);
            const std::size_t to = std::max(
                from + 1, std::min(samples.size(),
                                   samples.size() * std::size_t(x + 1) / std::size_t(wide) + 1));
            if (to > samples.size()) {
                break;
            }
            const auto [least, most] = std::minmax_element(samples.begin() + std::ptrdiff_t(from),
                                                           samples.begin() + std::ptrdiff_t(to));
            lines.append(QLineF(area_.left() + x, y_of(std::clamp(*least, 2 * low_, 2 * high_)),
                                area_.left() + x, y_of(std::clamp(*most, 2 * low_, 2 * high_))));
        }
        painter_.drawLines(lines);
    }
};

} // namespace

void paint_model(QPainter& painter, const QRectF& room, const ModelPicture& picture,
                 const Theme& theme) {
    double low_hz = 20, high_hz = 20'000;
    if (const auto* levels = std::get_if<LevelsPicture>(&picture); levels && !levels->hz.empty()) {
        low_hz = levels->hz.front();
        high_hz = levels->hz.back();
    }
    ModelPainter model(painter, room, theme, low_hz, high_hz);
    std::visit([&](const auto& one) { model.paint(one); }, picture);
}

} // namespace syntonon
