// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/harmonics_page.h"

#include "app/plot/picture_scale.h"
#include "app/plot/series_colour.h"
#include "app/widgets/line_text.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPolygonF>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double lowest_hz = 20, highest_hz = 20'000, low_db = -100, step_db = 20;

QString ordinal(int order) {
    return order == 2   ? QObject::tr("2nd")
           : order == 3 ? QObject::tr("3rd")
                        : QObject::tr("%1th").arg(order);
}

std::size_t nearest(const std::vector<double>& frequency_hz, double hz) {
    const auto behind = std::ranges::lower_bound(frequency_hz, hz);
    const auto at = static_cast<std::size_t>(behind - frequency_hz.begin());
    const bool before =
        at > 0 && (behind == frequency_hz.end() || hz / frequency_hz[at - 1] < *behind / hz);
    return before ? at - 1 : at;
}

} // namespace

HarmonicsPage::HarmonicsPage(Session& session, QWidget* parent)
    : ImpulsePicture(session, tr("Harmonics"), parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Harmonics of the frequency that is played, in dB below the response there, at "
                  "the microphone; dotted where it is noise. They are told apart by the sweep "
                  "(Farina), and change with its level"));
}

void HarmonicsPage::work_out(const SharedValue<Measurement>& measured) {
    orders_ = measured->harmonics;
    all_db_ = all_harmonics_db(orders_);
}

QRectF HarmonicsPage::room() const {
    constexpr double said = 20;
    return area().adjusted(0, said, -16, 0);
}

double HarmonicsPage::x_of(double hz) const {
    return room().left()
           + octaves_between(lowest_hz, hz) / octaves_between(lowest_hz, highest_hz)
                 * room().width();
}

QString HarmonicsPage::reading() const {
    if (orders_.empty()) {
        return {};
    }
    const std::size_t all = nearest(orders_[0].frequency_hz, read_at_hz_);
    const double hz = orders_[0].frequency_hz[all];
    QStringList words, noisy;
    for (const HarmonicLevels& order : orders_) {
        const std::size_t at = nearest(order.frequency_hz, hz);
        if (std::abs(octaves_between(order.frequency_hz[at], hz)) > 0.1) {
            continue; // beyond the sweep
        }
        if (is_noise(order, at)) {
            noisy << ordinal(order.order);
        } else {
            words << tr("%1 %2 dB").arg(ordinal(order.order), fixed_number(order.level_db[at], 0));
        }
    }
    if (!noisy.isEmpty()) {
        words << tr("noise: %1").arg(noisy.join(QStringLiteral(", ")));
    }
    words.push_front(std::isinf(all_db_[all])
                         ? tr("at %1").arg(shown_words(frequency_text(hz, 3)))
                         : tr("at %1: %2 % in all")
                               .arg(shown_words(frequency_text(hz, 3)),
                                    shown_number(100 * ratio_from_db(all_db_[all]), 2)));
    return words.join(QStringLiteral(" · "));
}

// Dotted where there is nothing but noise.
void HarmonicsPage::paint_order(QPainter& painter, std::size_t index) const {
    const HarmonicLevels& order = orders_[index];
    const QColor colour = series_colour(index, orders_.size());
    const QRectF to = room();
    QPolygonF line;
    bool dotted = is_noise(order, 0);
    const auto draw = [&] {
        painter.setPen(QPen(colour, dotted ? 1 : 1.5, dotted ? Qt::DotLine : Qt::SolidLine));
        painter.drawPolyline(line);
        line = QPolygonF() << line.last();
    };
    for (std::size_t n = 0; n < order.frequency_hz.size(); ++n) {
        line << QPointF(x_of(order.frequency_hz[n]),
                        to.top() + std::clamp(order.level_db[n] / low_db, 0.0, 1.0) * to.height());
        if (is_noise(order, n) != dotted) {
            draw();
            dotted = !dotted;
        }
    }
    draw();
    if (dotted) {
        return; // its end says nothing
    }
    painter.setPen(colour);
    draw_line(painter, QRectF(line.last().x() + 3, line.last().y() - 8, 40, 16),
              Qt::AlignLeft | Qt::AlignVCenter, ordinal(order.order));
}

void HarmonicsPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!begin_painting(painter, true)) {
        return;
    }
    if (orders_.empty()) {
        painter.setPen(theme().soft);
        painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("Only a recorded sweep tells harmonics: this came as an impulse "
                            "response"));
        return;
    }
    const QRectF to = room();
    std::vector<ScaleMark> marks;
    for (double db = 0; db >= low_db; db -= step_db) {
        marks.push_back(
            {to.top() + db / low_db * to.height(), db == 0 ? tr("0 dB") : fixed_number(db, 0)});
    }
    paint_scale(painter, to, marks);
    paint_frequencies(
        painter, to, lowest_hz, 2 * highest_hz, [this](double hz) { return x_of(hz); },
        AcrossLines::at_each);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(to.adjusted(0, 0, 40, 0)); // with the names behind
    for (std::size_t i = orders_.size(); i-- > 0;) {
        paint_order(painter, i);
    }
    painter.setClipping(false);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(theme().soft, 1, Qt::DashLine));
    painter.drawLine(QPointF(x_of(read_at_hz_), to.top()), QPointF(x_of(read_at_hz_), to.bottom()));
    painter.setPen(theme().text);
    draw_line(painter, QRectF(to.left(), 2, width() - to.left(), 20),
              Qt::AlignLeft | Qt::AlignVCenter, reading());
}

void HarmonicsPage::mouseMoveEvent(QMouseEvent* event) {
    const QRectF to = room();
    const double share = std::clamp((event->position().x() - to.left()) / to.width(), 0.0, 1.0);
    read_at_hz_ = lowest_hz * std::exp2(share * octaves_between(lowest_hz, highest_hz));
    update();
}

// Left and Right read a sixth of an octave further.
void HarmonicsPage::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right) {
        QWidget::keyPressEvent(event);
        return;
    }
    constexpr double step_oct = 1.0 / 6;
    const double step = std::exp2(event->key() == Qt::Key_Right ? step_oct : -step_oct);
    read_at_hz_ = std::clamp(read_at_hz_ * step, lowest_hz, highest_hz);
    update();
}

} // namespace syntonon
