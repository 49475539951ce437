// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/sample_plot.h"

#include <QImage>
#include <QPainter>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::vector<double> wave(std::size_t count) {
    std::vector<double> values(count);
    for (std::size_t i = 0; i < count; ++i) {
        values[i] = std::sin(0.7 * double(i)) * std::exp(-double(i) / double(count));
    }
    return values;
}

TEST(SampleExtremes, AreThoseOfEveryStretch) {
    const auto values = wave(3000);
    const SampleExtremes extremes(values);
    for (const auto& [from, to] : {std::pair<std::size_t, std::size_t>{0, 3000},
                                   {5, 6},
                                   {255, 257},
                                   {256, 512},
                                   {300, 2999},
                                   {17, 1300}}) {
        const auto found = extremes.of(from, to);
        const auto [low, high] = std::minmax_element(values.begin() + std::ptrdiff_t(from),
                                                     values.begin() + std::ptrdiff_t(to));
        EXPECT_EQ(found.low, *low);
        EXPECT_EQ(found.high, *high);
        double quiet = 1e9, loud = 0;
        for (std::size_t i = from; i < to; ++i) {
            quiet = std::min(quiet, std::abs(values[i]));
            loud = std::max(loud, std::abs(values[i]));
        }
        EXPECT_EQ(found.quiet, quiet);
        EXPECT_EQ(found.loud, loud);
    }
}

TEST(SampleExtremes, TellTheLoudestAndTheNext) {
    EXPECT_EQ(SampleExtremes(std::vector{0.1, -3.0, 2.0}).loudest(), 1u);
    EXPECT_EQ(SampleExtremes(std::vector{0.1, -3.0, 2.0}).loudest_of_the_rest(), 2.0);
    EXPECT_EQ(SampleExtremes(std::vector{3.0, -3.0}).loudest(), 0u);
    EXPECT_EQ(SampleExtremes(std::vector{3.0, -3.0}).loudest_of_the_rest(), 3.0);
    EXPECT_TRUE(SampleExtremes(std::vector{3.0}).are_bounded());
    EXPECT_FALSE(SampleExtremes(std::vector{3.0, std::nan("")}).are_bounded());
    EXPECT_FALSE(SampleExtremes(std::vector<double>{3.0, INFINITY}).are_bounded());
}

// Where ink stands in a column of the picture.
bool has_ink(const QImage& image, int x, double y_from, double y_to) {
    for (int y = int(y_from); y <= int(y_to); ++y) {
        if (image.pixelColor(x, y).lightness() < 200) {
            return true;
        }
    }
    return false;
}

TEST(SamplePlot, ASinglePeakAmongAMillionIsNeverMissed) {
    std::vector<double> values(1 << 20, 0.0);
    values[700001] = -1;
    QImage image(640, 200, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    const QRectF area(60, 10, 560, 180);
    const SamplePlot plot(values, SampleStyle());
    plot.paint(painter, area, Qt::black);
    painter.end();
    const int x = int(std::lround(65 + 550 * 700001.0 / double((1 << 20) - 1)));
    bool found = false;
    for (int near = x - 2; near <= x + 2; ++near) {
        found = found || has_ink(image, near, plot.y_of(-0.8, area), plot.y_of(-0.9, area));
    }
    EXPECT_TRUE(found);
    EXPECT_FALSE(has_ink(image, x + 40, plot.y_of(-0.8, area), plot.y_of(-0.9, area)));
    EXPECT_NEAR(plot.sample_at(double(x), area), 700001, 2000);
}

TEST(SamplePlot, APartIsDrawnFromEdgeToEdge) {
    const auto values = wave(1000);
    SampleStyle style;
    style.part = std::pair(100.0, 120.0);
    const QRectF area(0, 0, 410, 100);
    const SamplePlot plot(values, style);
    EXPECT_NEAR(plot.sample_at(5, area), 100, 1e-9);
    EXPECT_NEAR(plot.sample_at(405, area), 120, 1e-9);
}

// Pixels that the mark of the tallest sample adds, its dot left out.
int ink_of_mark(const std::vector<double>& values, double main) {
    const QRectF area(60, 10, 560, 180);
    QImage drawn[2];
    for (const bool marks : {false, true}) {
        QImage& image = drawn[marks ? 1 : 0];
        image = QImage(640, 200, QImage::Format_RGB32);
        image.fill(Qt::white);
        SampleStyle style;
        style.marks_main = marks;
        QPainter painter(&image);
        SamplePlot(values, style).paint(painter, area, Qt::black);
    }
    const double at = 65 + 550 * main / double(values.size() - 1);
    int added = 0;
    for (int x = int(area.left()); x < int(area.right()); ++x) {
        for (int y = int(area.top()); y < int(area.bottom()) && std::abs(x - at) > 4; ++y) {
            added += drawn[0].pixel(x, y) != drawn[1].pixel(x, y) ? 1 : 0;
        }
    }
    return added;
}

TEST(SamplePlot, TheTallestSamplesValueStandsWhereNoOtherReaches) {
    std::vector<double> values(64, 0.1);
    values[20] = 1;
    EXPECT_GT(ink_of_mark(values, 20), 5);
    for (std::size_t i = 0; i < values.size(); ++i) {
        values[i] = i == 20 ? 1 : 0.98; // as high, on both sides
    }
    EXPECT_EQ(ink_of_mark(values, 20), 0);
    for (std::size_t i = 0; i < 20; ++i) {
        values[i] = 0.1; // left of it there is room
    }
    EXPECT_GT(ink_of_mark(values, 20), 5);
}

} // namespace
} // namespace syntonon
