// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_labels.h"

#include <QTest>
#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

class LaneLabels : public testing::Test {
protected:
    void SetUp() override {
        plot.resize(600, 480);
        plot.show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(&plot));
        QTest::qWait(20); // the lanes are laid out
    }
    std::vector<PlacedLabel> placed(const std::vector<double>& levels_db) {
        std::vector<CurveLabel> labels;
        for (const double level_db : levels_db) {
            const QString name = QString("row %1").arg(labels.size());
            labels.push_back({name, name, Qt::black, 20'000, level_db, true, false});
        }
        return place_labels(labels, plot, {});
    }
    double y(double level_db) { return plot.y_of(Lane::magnitude, level_db); }
    LanePlot plot;
};

TEST_F(LaneLabels, ManyThatEndTogetherStandBelowAllOfThem) {
    const auto labels = placed({1, 2, 1.5, 0.5, 1});
    ASSERT_EQ(labels.size(), 5u);
    for (std::size_t i = 0; i < labels.size(); ++i) {
        EXPECT_GT(labels[i].box.top(), y(0.5));
        for (std::size_t k = 0; k < i; ++k) {
            EXPECT_FALSE(labels[i].box.intersects(labels[k].box));
        }
    }
}

TEST_F(LaneLabels, FewStandAtTheirCurves) {
    const auto labels = placed({6, 1, 1});
    ASSERT_EQ(labels.size(), 3u);
    EXPECT_NEAR(labels[0].box.top(), y(6), 20);
    EXPECT_NEAR(labels[1].box.top(), y(1), 20);
    EXPECT_NEAR(labels[2].box.top(), y(1), 30);
    EXPECT_LT(labels[0].box.top(), y(1));
}

TEST_F(LaneLabels, WithoutRoomBelowTheyStandWhereTheyCan) {
    const double lowest_db =
        plot.value_at(Lane::magnitude, plot.rect_of(Lane::magnitude).bottom() - 2);
    const auto labels = placed(std::vector<double>(5, lowest_db));
    ASSERT_EQ(labels.size(), 5u);
    EXPECT_TRUE(std::ranges::all_of(labels, [&](const PlacedLabel& label) {
        return plot.rect_of(Lane::magnitude).contains(label.box.toRect());
    }));
}

} // namespace
} // namespace syntonon
