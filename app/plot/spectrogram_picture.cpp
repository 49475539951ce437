// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/spectrogram_picture.h"

#include "app/widgets/line_text.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {

QImage picture_of(const Spectrogram& made, float top_db) {
    constexpr float range_db = 80;
    const SpectrogramShape& shape = made.shape;
    QImage image(static_cast<int>(shape.columns), static_cast<int>(shape.rows),
                 QImage::Format_RGB32);
    const QColor low = theme().panel, high = theme().ink;
    std::array<QRgb, 256> colours;
    for (std::size_t i = 0; i < colours.size(); ++i) {
        const double share = static_cast<double>(i) / 255;
        const auto mix = [&](int a, int b) { return static_cast<int>(a + share * (b - a)); };
        colours[i] = qRgb(mix(low.red(), high.red()), mix(low.green(), high.green()),
                          mix(low.blue(), high.blue()));
    }
    for (std::size_t column = 0; column < shape.columns; ++column) {
        for (std::size_t row = 0; row < shape.rows; ++row) {
            const float share =
                std::clamp(1 - (top_db - made.at(column, row)) / range_db, 0.0F, 1.0F);
            image.setPixel(static_cast<int>(column), static_cast<int>(shape.rows - 1 - row),
                           colours[static_cast<std::size_t>(share * 255)]);
        }
    }
    return image;
}

void paint_spectrogram(QPainter& painter, const QRectF& area, double left, const Spectrogram& made,
                       float top_db) {
    const Theme& t = theme();
    if (!made.db.empty()) {
        painter.drawImage(area, picture_of(made, top_db));
    }
    painter.setPen(t.hairline);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(area);
    const SpectrogramShape& shape = made.shape;
    const double ratio = std::log(shape.to_hz / shape.from_hz);
    for (const double hz : {100.0, 1000.0, 10000.0}) {
        const double y = area.bottom() - std::log(hz / shape.from_hz) / ratio * area.height();
        if (y > area.top() + 4 && y < area.bottom()) {
            painter.setPen(t.soft);
            draw_line(painter, QRectF(area.left() - left, y - 8, left - 6, 16),
                      Qt::AlignRight | Qt::AlignVCenter, shown_words(frequency_text(hz)));
            painter.drawLine(QPointF(area.left() - 3, y), QPointF(area.left(), y));
        }
    }
}

} // namespace syntonon
