// Lines that are kept shaped stand where QPainter would put them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/line_text.h"

#include "app/widgets/theme.h"

#include <QFontMetricsF>
#include <QImage>
#include <cstdlib>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr int width = 260, height = 40;
const QRectF room(10, 6, width - 20, height - 12);

template <class Draw>
QImage painted(const Draw& draw) {
    QImage image(width, height, QImage::Format_Grayscale8);
    image.fill(Qt::white);
    QPainter painter(&image);
    painter.setFont(text_font(12, QFont::Medium));
    painter.setPen(Qt::black);
    draw(painter);
    return image;
}

// Of what is not white.
QRect inked(const QImage& image) {
    QRect all;
    for (int y = 0; y < image.height(); ++y) {
        for (int x = 0; x < image.width(); ++x) {
            if (qGray(image.pixel(x, y)) < 160) {
                all |= QRect(x, y, 1, 1);
            }
        }
    }
    return all;
}

const char* const lines[] = {"0.45 dB to spare at 2.96 kHz", "−18.59 dB", "pole pair 63 Hz",
                             "Magnitude dB ▾", "3"};

TEST(LineText, StandsWhereThePainterWouldDrawIt) {
    for (const char* line : lines) {
        for (const Qt::Alignment where :
             {Qt::AlignLeft | Qt::AlignTop, Qt::AlignRight | Qt::AlignVCenter,
              Qt::AlignHCenter | Qt::AlignBottom}) {
            const QRect expected = inked(painted([&](QPainter& painter) {
                painter.drawText(room, static_cast<int>(where.toInt()), QString(line));
            }));
            const QRect found =
                inked(painted([&](QPainter& painter) { draw_line(painter, room, where, line); }));
            ASSERT_FALSE(expected.isEmpty());
            EXPECT_LE(std::abs(found.left() - expected.left()), 1) << line;
            EXPECT_LE(std::abs(found.right() - expected.right()), 1) << line;
            EXPECT_LE(std::abs(found.top() - expected.top()), 1) << line;
            EXPECT_LE(std::abs(found.bottom() - expected.bottom()), 1) << line;
        }
    }
}

TEST(LineText, IsAsWideAsItsFontSays) {
    for (const int pixels : {10, 11, 12, 18}) {
        for (const char* line : lines) {
            EXPECT_NEAR(line_width(text_font(pixels), line),
                        QFontMetricsF(text_font(pixels)).horizontalAdvance(line), 1.5)
                << line;
        }
    }
}

TEST(LineText, IsCutShortWhereItIsTooWide) {
    const QFont font = text_font(11);
    const QString line = "corridor 0.25–16 kHz";
    EXPECT_EQ(elided_line(font, line, 400), line);
    const QString cut = elided_line(font, line, 60);
    EXPECT_TRUE(cut.endsWith("…")) << cut.toStdString();
    EXPECT_LE(line_width(font, cut), 62);
}

// More of them than are kept at a time.
TEST(LineText, ForgetsWithoutMixingUp) {
    const QFont font = text_font(11);
    const double first = line_width(font, "a word");
    QImage image(1, 1, QImage::Format_RGB32);
    QPainter painter(&image);
    for (int i = 0; i < 5000; ++i) {
        QString word;
        for (int rest = i; rest > 0; rest /= 26) {
            word += QChar('a' + rest % 26);
        }
        draw_line(painter, QRectF(0, 0, 1, 1), Qt::AlignLeft, word);
    }
    EXPECT_EQ(line_width(font, "a word"), first);
}

} // namespace
} // namespace syntonon
