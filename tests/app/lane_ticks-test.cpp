// Which numbers stand beside the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_ticks.h"

#include "app/plot/lane_plot.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// As tall as in the window.
class SizedPlot : public LanePlot {
public:
    SizedPlot() {
        resize(700, 700);
        show();
    }
};

// The numbers that the real axes show.
QStringList frequency_numbers(LanePlot& plot) {
    plot.redraw_now();
    return plot.frequency_numbers();
}

QStringList numbers(LanePlot& plot, Lane lane) {
    plot.redraw_now();
    return plot.value_numbers(lane);
}

TEST(LaneTicks, FrequenciesInEveryUnit) {
    SizedPlot plot;
    EXPECT_TRUE(frequency_numbers(plot).contains("1k"));
    EXPECT_TRUE(frequency_numbers(plot).contains("20"));
    LaneView view;
    view.frequency_unit = AxisUnit::of_nyquist;
    plot.set_view(view);
    EXPECT_TRUE(frequency_numbers(plot).contains("0.5"))
        << frequency_numbers(plot).join(' ').toStdString();
    view.frequency_unit = AxisUnit::rad_per_sample;
    view.linear_frequency = true;
    plot.set_view(view);
    EXPECT_EQ(frequency_numbers(plot), (QStringList{"0", "0.5", "1", "1.5", "2", "2.5", "3"}));
    view.frequency_unit = AxisUnit::hz;
    view.span = FrequencySpan::two_sided;
    plot.set_view(view);
    EXPECT_TRUE(frequency_numbers(plot).contains(QStringLiteral("−20k")));
}

TEST(LaneTicks, AMagnifiedLogarithmicAxisHasEnoughNumbers) {
    SizedPlot plot;
    LaneZoom zoom;
    zoom.low_hz = 950;
    zoom.high_hz = 1100;
    plot.set_zoom(zoom);
    EXPECT_GE(frequency_numbers(plot).size(), 5);
}

TEST(LaneTicks, LevelsAsDecibelsAndRatios) {
    SizedPlot plot;
    EXPECT_EQ(numbers(plot, Lane::magnitude).first(), QStringLiteral("−18"));
    EXPECT_EQ(numbers(plot, Lane::magnitude).last(), "+18");
    LaneView view;
    view.level = LevelScale::ratio;
    plot.set_view(view);
    EXPECT_TRUE(numbers(plot, Lane::magnitude).contains("1"));
    EXPECT_TRUE(numbers(plot, Lane::magnitude).contains("0.5"));
    view.level = LevelScale::linear_ratio;
    plot.set_view(view);
    EXPECT_TRUE(numbers(plot, Lane::magnitude).contains("2"))
        << numbers(plot, Lane::magnitude).join(' ').toStdString();
    LaneZoom zoom;
    zoom.of(Lane::magnitude) = {-0.4, 0.4, 0};
    plot.set_view({});
    plot.set_zoom(zoom);
    EXPECT_TRUE(numbers(plot, Lane::magnitude).contains("+0.2"));
}

TEST(LaneTicks, PhaseAndDelayInTheirUnits) {
    SizedPlot plot;
    LaneView view;
    view.radians = true;
    view.delay_unit = TimeUnit::samples;
    plot.set_view(view);
    EXPECT_TRUE(numbers(plot, Lane::phase).contains("+2"));
    const QStringList delays = numbers(plot, Lane::delay);
    EXPECT_TRUE(delays.contains("500")) << delays.join(' ').toStdString();
    EXPECT_EQ(round_step(0.3), 0.5);
    EXPECT_EQ(round_step(2), 2);
    EXPECT_EQ(round_step(51), 100);
}

TEST(LaneTicks, RootsByDecayOrBandwidthNotTooClose) {
    LaneView view;
    const LaneRange range{-3.5, 3, 1};
    const auto texts = [&](double pixels) {
        QStringList all;
        auto ticks = value_ticks(Lane::roots, view, range, 48000, pixels, range.low, range.high);
        std::ranges::sort(ticks, {}, &AxisTick::place);
        for (const AxisTick& tick : ticks) {
            all << tick.text;
        }
        return all;
    };
    EXPECT_EQ(texts(600),
              (QStringList{"1 ms", "10 ms", "100 ms", "1 s", "10 s", "∞", "10 s", "1 s"}));
    EXPECT_EQ(texts(70), (QStringList{"1 ms", "100 ms", "∞"}));
    view.root_width = RootWidth::bandwidth;
    EXPECT_EQ(texts(120), (QStringList{"1 kHz", "100 Hz", "10 Hz", "0"}));
}

} // namespace
} // namespace syntonon
