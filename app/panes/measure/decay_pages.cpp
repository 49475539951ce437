// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/decay_pages.h"

#include "app/plot/lane_ticks.h"
#include "app/plot/lane_view.h"
#include "app/plot/picture_scale.h"
#include "app/plot/series_colour.h"
#include "app/plot/spectrogram_picture.h"
#include "app/widgets/line_text.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/curve/gate.h"

#include <QPainter>
#include <QPolygonF>
#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

// Times from `from` to `to` under the room, with lines across it.
void paint_time_lines(QPainter& painter, const QRectF& room, double from, double to,
                      const QString& unit) {
    const double step = round_step((to - from) / std::max(2, static_cast<int>(room.width() / 56)));
    for (double at = std::ceil(from / step) * step; at <= to + step * 1e-9; at += step) {
        const double x = room.left() + (at - from) / (to - from) * room.width();
        painter.setPen(theme().grid);
        painter.drawLine(QPointF(x, room.top()), QPointF(x, room.bottom()));
        painter.setPen(theme().soft);
        const bool last = at + step > to;
        const QString text = shown_number(std::abs(at) < step / 1e3 ? 0 : at, 3);
        draw_line(painter, QRectF(x - 34, room.bottom() + 3, 68, 16), Qt::AlignCenter,
                  last ? text + " " + unit : text);
    }
}

void paint_level_lines(QPainter& painter, const QRectF& room, double low_db, double step_db) {
    std::vector<ScaleMark> marks;
    for (double db = 0; db >= low_db; db -= step_db) {
        marks.push_back({room.top() + db / low_db * room.height(),
                         db == 0 ? QObject::tr("0 dB") : fixed_number(db, 0)});
    }
    paint_scale(painter, room, marks);
}

QString seconds_text(const std::optional<double>& s) {
    return s ? fixed_number(*s, *s < 1 ? 3 : 2) : QStringLiteral("–");
}

} // namespace

// --- decay ---

DecayPage::DecayPage(Session& session, QWidget* parent)
    : ImpulsePicture(session, tr("Decay by octaves"), parent) {
    setToolTip(tr("Energy that is still to come after each time (Schroeder), without the noise; "
                  "T20, T30 and early decay as ISO 3382-1 has them, in s"));
}

DecayPage::Made DecayPage::made_of(const ImpulseResponse& impulse) {
    Made made;
    made.times = decay_times(impulse);
    for (const DecayTimes& band : made.times) {
        made.curves.push_back(
            decay_of(band.centre_hz > 0 ? band_of(impulse, band.centre_hz, 1) : impulse));
    }
    return made;
}

void DecayPage::work_out(const SharedValue<Measurement>& measured) {
    work_.begin([measured](const Watch&) { return made_of(measured->impulse); },
                [this](Made made) {
                    made_ = std::move(made);
                    update();
                });
}

void DecayPage::paint_curves(QPainter& painter, const QRectF& room) const {
    constexpr double low_db = -60;
    double longest_s = 0.05;
    for (const DecayCurve& curve : made_.curves) {
        const auto below =
            std::ranges::find_if(curve.level_db, [](double db) { return db < low_db; });
        longest_s = std::max(longest_s, static_cast<double>(below - curve.level_db.begin())
                                            / curve.sample_rate_hz);
    }
    paint_level_lines(painter, room, low_db, 15);
    paint_time_lines(painter, room, 0, longest_s, tr("s"));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(room);
    for (std::size_t i = made_.curves.size(); i-- > 0;) {
        const DecayCurve& curve = made_.curves[i];
        QPolygonF line;
        for (double x = 0; x <= room.width(); ++x) {
            const auto n =
                static_cast<std::size_t>(x / room.width() * longest_s * curve.sample_rate_hz);
            if (n < curve.level_db.size()) {
                line << QPointF(room.left() + x,
                                room.top() + curve.level_db[n] / low_db * room.height());
            }
        }
        painter.setPen(QPen(i == 0 ? theme().text : series_colour(i - 1, made_.curves.size() - 1),
                            i == 0 ? 1.5 : 1));
        painter.drawPolyline(line);
    }
    painter.setClipping(false);
    painter.setRenderHint(QPainter::Antialiasing, false);
}

void DecayPage::paint_table(QPainter& painter, const QRectF& room) const {
    const QString names[] = {tr("T20"), tr("T30"), tr("early")};
    constexpr double head = 44, row_height = 17;
    const double each = (room.width() - head) / static_cast<double>(made_.times.size());
    for (std::size_t i = 0; i < made_.times.size(); ++i) {
        const DecayTimes& band = made_.times[i];
        const double x = room.left() + head + each * static_cast<double>(i);
        painter.setPen(i == 0 ? theme().text : series_colour(i - 1, made_.times.size() - 1));
        const QString title =
            i == 0
                ? tr("all")
                : shown_words(frequency_text(band.centre_hz, 2)).remove(" Hz").replace(" kHz", "k");
        draw_line(painter, QRectF(x, room.top(), each - 4, row_height),
                  Qt::AlignRight | Qt::AlignVCenter, title);
        painter.setPen(theme().text);
        const std::optional<double> values[] = {band.t20_s, band.t30_s, band.early_s};
        for (int row = 0; row < 3; ++row) {
            draw_line(painter, QRectF(x, room.top() + row_height * (row + 1), each - 4, row_height),
                      Qt::AlignRight | Qt::AlignVCenter, seconds_text(values[row]));
        }
    }
    painter.setPen(theme().soft);
    for (int row = 0; row < 3; ++row) {
        draw_line(painter,
                  QRectF(room.left(), room.top() + row_height * (row + 1), head, row_height),
                  Qt::AlignLeft | Qt::AlignVCenter, names[row]);
    }
}

void DecayPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!begin_painting(painter, !made_.curves.empty())) {
        return;
    }
    constexpr double table = 72;
    paint_curves(painter, area().adjusted(0, 0, 0, -table));
    paint_table(painter, QRectF(16, height() - table, width() - 32, table));
}

// --- energy ---

EnergyPage::EnergyPage(Session& session, QWidget* parent)
    : ImpulsePicture(session, tr("Energy over time"), parent) {
    setToolTip(tr("Mean power over 2 ms. Clarity and definition as ISO 3382-1 has them"));
}

void EnergyPage::work_out(const SharedValue<Measurement>& measured) {
    work_.begin(
        [measured](const Watch&) {
            constexpr double window_s = 0.002;
            constexpr std::size_t places = 900;
            const ImpulseResponse& impulse = measured->impulse;
            return Made{energy_over_time(impulse, window_s, places),
                        syntonon::early_and_late(impulse), arrival_s(impulse)};
        },
        [this](Made made) {
            made_ = std::move(made);
            update();
        });
}

void EnergyPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const EnergyOverTime& energy = made_.over_time;
    if (!begin_painting(painter, !energy.level_db.empty())) {
        return;
    }
    constexpr double low_db = -80, said = 20;
    const QRectF room = area().adjusted(0, said, 0, 0);
    const double from_ms = 1e3 * (energy.from_s - made_.arrival_s);
    const double to_ms =
        from_ms + 1e3 * energy.step_s * static_cast<double>(energy.level_db.size() - 1);
    paint_level_lines(painter, room, low_db, 20);
    paint_time_lines(painter, room, from_ms, to_ms, tr("ms"));
    QPolygonF line;
    for (std::size_t i = 0; i < energy.level_db.size(); ++i) {
        const double share =
            static_cast<double>(i) / static_cast<double>(energy.level_db.size() - 1);
        line << QPointF(room.left() + share * room.width(),
                        room.top()
                            + std::clamp(energy.level_db[i] / low_db, 0.0, 1.0) * room.height());
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().ink, 1));
    painter.drawPolyline(line);
    const EarlyAndLate& early = made_.early_and_late;
    painter.setPen(theme().text);
    draw_line(painter, QRectF(room.left(), 2, room.width(), said), Qt::AlignLeft | Qt::AlignVCenter,
              tr("clarity %1 dB (50 ms), %2 dB (80 ms) · definition %3 % · middle %4 ms")
                  .arg(fixed_number(early.clarity_50_db, 1), fixed_number(early.clarity_80_db, 1),
                       fixed_number(100 * early.definition, 0),
                       fixed_number(1e3 * early.centre_s, 1)));
}

// --- waterfall ---

WaterfallPage::WaterfallPage(Session& session, QWidget* parent)
    : ImpulsePicture(session, tr("Waterfall"), parent) {
    setToolTip(
        tr("The spectrum of what is left from each time on (cumulative spectral decay), later "
           "times in front"));
}

void WaterfallPage::work_out(const SharedValue<Measurement>& measured) {
    work_.begin(
        [measured](const Watch& watch) {
            const ImpulseResponse& impulse = measured->impulse;
            WaterfallPlan plan;
            plan.slices = 24;
            plan.points_an_octave = 16;
            const double length_s =
                static_cast<double>(impulse.samples.size()) / impulse.sample_rate_hz;
            constexpr double longest_s = 0.4;
            plan.to_s = std::min(longest_s, 0.75 * length_s);
            return waterfall_of(impulse, plan, watch);
        },
        [this](Waterfall made) {
            made_ = std::move(made);
            update();
        });
}

void WaterfallPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!begin_painting(painter, !made_.level_db.empty())) {
        return;
    }
    // Later slices lie lower and further to the right.
    constexpr double low_db = -50, deep = 0.42, slant = 0.14;
    const QRectF all = area().adjusted(-20, 0, -40, 0);
    const double wide = all.width() * (1 - slant), tall = all.height() * (1 - deep);
    const std::size_t slices = made_.level_db.size();
    const auto place = [&](std::size_t slice, std::size_t point, double db) {
        const double back = 1 - static_cast<double>(slice) / static_cast<double>(slices - 1);
        const double share = std::log(made_.frequency_hz[point] / made_.frequency_hz.front())
                             / std::log(made_.frequency_hz.back() / made_.frequency_hz.front());
        return QPointF(all.left() + (1 - back) * slant * all.width() + share * wide,
                       all.bottom() - back * deep * all.height()
                           - std::max(0.0, 1 - db / low_db) * tall);
    };
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t slice = 0; slice < slices; ++slice) {
        QPolygonF line;
        for (std::size_t point = 0; point < made_.frequency_hz.size(); ++point) {
            line << place(slice, point, made_.level_db[slice][point]);
        }
        QPolygonF body = line;
        body << place(slice, made_.frequency_hz.size() - 1, low_db) << place(slice, 0, low_db);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().panel);
        painter.drawPolygon(body);
        painter.setPen(QPen(slice == 0 ? theme().copper : theme().ink, 1));
        painter.drawPolyline(line);
    }
    painter.setPen(theme().soft);
    for (const std::size_t slice : {std::size_t(0), slices / 2, slices - 1}) {
        const QPointF end = place(slice, made_.frequency_hz.size() - 1, low_db);
        draw_line(painter, QRectF(end.x() + 4, end.y() - 8, 60, 16),
                  Qt::AlignLeft | Qt::AlignVCenter,
                  tr("%1 ms").arg(fixed_number(1e3 * made_.time_s[slice], 0)));
    }
    painter.setPen(theme().soft);
    for (const double hz :
         {20.0, 50.0, 100.0, 200.0, 500.0, 1000.0, 2000.0, 5000.0, 10'000.0, 20'000.0}) {
        const auto near = std::ranges::lower_bound(made_.frequency_hz, hz);
        if (near != made_.frequency_hz.end()) {
            const QPointF at = place(
                slices - 1, static_cast<std::size_t>(near - made_.frequency_hz.begin()), low_db);
            draw_line(painter, QRectF(at.x() - 20, at.y() + 3, 40, 16), Qt::AlignCenter,
                      shown_words(frequency_text(hz)).remove(" Hz").replace(" kHz", "k"));
        }
    }
    draw_line(painter, QRectF(8, page_top, 90, 16), Qt::AlignLeft | Qt::AlignVCenter,
              tr("%1 dB shown").arg(fixed_number(-low_db, 0)));
}

// --- spectrogram ---

ImpulseSpectrogramPage::ImpulseSpectrogramPage(Session& session, QWidget* parent)
    : ImpulsePicture(session, tr("Spectrogram of the impulse response"), parent) {}

void ImpulseSpectrogramPage::work_out(const SharedValue<Measurement>& measured) {
    work_.begin(
        [measured](const Watch& watch) {
            const ImpulseResponse& impulse = measured->impulse;
            const double middle_s = arrival_s(impulse);
            SpectrogramShape shape;
            shape.length = 1024;
            shape.from_hz = 60;
            shape.to_hz = std::min(20'000.0, impulse.sample_rate_hz / 2);
            Made made;
            made.picture = spectrogram_of(impulse.samples, impulse.sample_rate_hz, shape, watch);
            made.from_ms = 1e3 * (impulse.seconds_of(0) - middle_s);
            made.to_ms = 1e3 * (impulse.seconds_of(impulse.samples.size()) - middle_s);
            made.rate_hz = impulse.sample_rate_hz;
            return made;
        },
        [this](Made made) {
            made_ = std::move(made);
            update();
        });
}

void ImpulseSpectrogramPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!begin_painting(painter, !made_.picture.db.empty())) {
        return;
    }
    const QRectF room = area();
    paint_time_lines(painter, room, made_.from_ms, made_.to_ms, tr("ms"));
    paint_spectrogram(painter, room, page_left, made_.picture, std::ranges::max(made_.picture.db));
}

} // namespace syntonon
