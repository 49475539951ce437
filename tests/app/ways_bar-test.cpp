// All methods for the goal: found beside the window, pointed at, sorted, taken, kept.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/analog_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/sweep_bar.h"
#include "app/panes/ways_bar.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QSpinBox>
#include <QTableWidget>
#include <QToolButton>

namespace syntonon {
namespace {

class WaysOnTheDesk : public test::Window {
protected:
    // A low-pass that few taps meet, so that all rows are soon there.
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
        set_goal({{0, 4000, 0.5, 0.5, true, {}}, {10000, 24000, -40.0, {}, true, {}}});
    }
    void set_goal(const Corridor& corridor) {
        session().edit("goal", [&](Study& study) {
            Goal goal;
            goal.id = "low";
            goal.name = "Low";
            goal.corridor = corridor;
            std::erase_if(study.goals, [](const auto& g) { return g->id == "low"; });
            study.goals.emplace_back(goal);
            study.channels[0].edit().goal = "low";
        });
    }
    void open() { shortcut(Qt::Key_M, Qt::ControlModifier); }
    void find_all() {
        open();
        ASSERT_TRUE(QTest::qWaitFor([this] { return !bar().finder().is_busy(); }, 60'000));
    }
    WaysBar& bar() { return *window->shape().ways_bar(); }
    QTableWidget& table() { return *bar().table(); }
    QString text(int row, int column) { return table().item(row, column)->text(); }
    int row_of(const QString& name) {
        for (int row = 0; row < table().rowCount(); ++row) {
            if (text(row, 0) == name) {
                return row;
            }
        }
        ADD_FAILURE() << name.toStdString();
        return 0;
    }
    QPoint middle_of(int row) { return table().visualItemRect(table().item(row, 0)).center(); }
    void click(int row) {
        table().scrollToItem(table().item(row, 0));
        QTest::mouseClick(table().viewport(), Qt::LeftButton, {}, middle_of(row));
        QApplication::processEvents();
    }
    void click_header(int column) {
        QHeaderView* header = table().horizontalHeader();
        const int x = header->sectionViewportPosition(column) + header->sectionSize(column) / 2;
        QTest::mouseClick(header->viewport(), Qt::LeftButton, {}, {x, header->height() / 2});
    }
};

TEST_F(WaysOnTheDesk, AreFoundAndTheOneClickedIsTaken) {
    find_all();
    EXPECT_TRUE(bar().isVisible());
    EXPECT_GE(table().rowCount(), 25);
    const int elliptic = row_of("Elliptic");
    EXPECT_EQ(text(elliptic, 1), "order 3");
    click(elliptic);
    ASSERT_EQ(stages(), 1u);
    EXPECT_EQ(std::get<ClassicalSpec>(*session().stage()->spec).family, ClassicalFamily::elliptic);
    EXPECT_EQ(undo_name(), "Take “Elliptic”");
    click(row_of("Equiripple"));
    ASSERT_EQ(stages(), 1u) << "the second takes the place of the first";
    EXPECT_TRUE(std::holds_alternative<FirSpec>(*session().stage()->spec));
    EXPECT_TRUE(is_met(session().analysis()->verdict));
    session().history().undo();
    EXPECT_TRUE(std::holds_alternative<ClassicalSpec>(*session().stage()->spec));
}

TEST_F(WaysOnTheDesk, EnterTakesTheCurrentRow) {
    find_all();
    table().setFocus();
    table().setCurrentCell(row_of("Least squares"), 0);
    QTest::keyClick(&table(), Qt::Key_Return);
    ASSERT_EQ(stages(), 1u);
    EXPECT_EQ(undo_name(), "Take “Least squares”");
}

TEST_F(WaysOnTheDesk, ThePointerShowsOneOnTheLanesAndNothingElse) {
    find_all();
    const std::string channel = session().channel()->id;
    const int row = row_of("Equiripple");
    hover(*table().viewport(), middle_of(row));
    ASSERT_TRUE(session().glimpse().filter_of(channel));
    EXPECT_EQ(session().glimpse().name(), "Equiripple");
    const Probe seen(*session().glimpse().filter_of(channel), Axis(48000));
    const Probe meant(*bar().way_of(row)->filter, Axis(48000));
    EXPECT_EQ(seen.level_db(5000), meant.level_db(5000));
    QEvent leave(QEvent::Leave);
    QApplication::sendEvent(&bar(), &leave);
    EXPECT_FALSE(session().glimpse().filter_of(channel));
    EXPECT_EQ(stages(), 0u);
}

TEST_F(WaysOnTheDesk, AnyColumnSortsBothWays) {
    find_all();
    const auto multiplies = [this](int row) { return bar().way_of(row)->facts.cost.multiplies; };
    constexpr int column = 7;
    click_header(column);
    int met = 0;
    for (; bar().way_of(met + 1)->meets_level; ++met) {
        EXPECT_LE(multiplies(met), multiplies(met + 1));
    }
    EXPECT_GT(met, 15);
    click_header(column);
    for (int row = 0; row < met; ++row) {
        EXPECT_GE(multiplies(row), multiplies(row + 1));
    }
    click_header(0);
    EXPECT_LT(text(0, 0), text(1, 0));
}

TEST_F(WaysOnTheDesk, WhatCannotDoItSaysWhy) {
    find_all();
    const int row = row_of("Linkwitz-Riley");
    const Way* way = bar().way_of(row);
    ASSERT_NE(way, nullptr);
    if (!way->filter) {
        EXPECT_EQ(text(row, 1), QString::fromStdString(way->why));
    }
    set_goal({{1000, 2000, 1.0, 1.0, true, {}}, {1500, 3000, -30.0, {}, true, {}}});
    EXPECT_TRUE(bar().words().contains("has changed"));
    click(row_of("Equiripple"));
    EXPECT_EQ(stages(), 0u) << "it was found for another goal";
    EXPECT_TRUE(window->message()->text().contains("another goal"));
    QTest::mouseClick(bar().find_button(), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([this] { return !bar().finder().is_busy(); }, 60'000));
    EXPECT_TRUE(text(0, 1).contains("1.5 kHz")) << text(0, 1).toStdString();
    click(0);
    EXPECT_EQ(stages(), 0u);
}

TEST_F(WaysOnTheDesk, AllFirsOfOneLength) {
    open();
    bar().length()->setValue(33);
    bar().given_length()->click();
    ASSERT_TRUE(QTest::qWaitFor([this] { return !bar().finder().is_busy(); }, 60'000));
    EXPECT_EQ(text(row_of("Equiripple"), 1), "33 taps");
    EXPECT_EQ(text(row_of("Window: Hann"), 1), "33 taps");
}

TEST_F(WaysOnTheDesk, OneIsKeptAsATake) {
    find_all();
    const std::size_t before = session().channel()->takes.size();
    const auto box = [this](const QString& name) {
        return table().item(row_of(name), table().columnCount() - 1);
    };
    const auto tick = [&](const QString& name) {
        table().scrollToItem(table().item(row_of(name), 0));
        const QRect cell = table().visualItemRect(box(name));
        QStyleOptionViewItem option;
        option.rect = cell;
        option.features = QStyleOptionViewItem::HasCheckIndicator;
        const QRect mark = table().style()->subElementRect(QStyle::SE_ItemViewItemCheckIndicator,
                                                           &option, &table());
        QTest::mouseClick(table().viewport(), Qt::LeftButton, {}, mark.center());
        QApplication::processEvents();
    };
    tick("Window: Kaiser");
    ASSERT_EQ(session().channel()->takes.size(), before + 1);
    EXPECT_EQ(session().channel()->takes.back()->name, "Window: Kaiser");
    EXPECT_EQ(session().channel()->takes.back()->stages.size(), 1u);
    EXPECT_EQ(stages(), 0u) << "a tick keeps it and does not take it";
    EXPECT_EQ(box("Window: Kaiser")->checkState(), Qt::Checked);

    table().setFocus();
    table().setCurrentCell(row_of("Elliptic"), 0);
    QTest::keyClick(&table(), Qt::Key_Space);
    ASSERT_EQ(session().channel()->takes.size(), before + 2);
    session().history().undo();
    EXPECT_EQ(box("Elliptic")->checkState(), Qt::Unchecked) << "its take is gone";

    tick("Window: Kaiser");
    EXPECT_EQ(session().channel()->takes.size(), before);
    EXPECT_EQ(box("Window: Kaiser")->checkState(), Qt::Unchecked);
}

TEST_F(WaysOnTheDesk, AnotherChannelsAreLookedForWhenItIsChosen) {
    find_all();
    add_analog_channel(session());
    EXPECT_EQ(session().channel()->goal, "low") << "it is asked what the channel before it is";
    ASSERT_TRUE(QTest::qWaitFor([this] { return !bar().finder().is_busy(); }, 60'000));
    EXPECT_EQ(table().rowCount(), 9);
    EXPECT_FALSE(bar().words().contains("changed")) << bar().words().toStdString();
    EXPECT_TRUE(table().isColumnHidden(7)) << "nothing is multiplied in continuous time";
    session().select_channel(0);
    ASSERT_TRUE(QTest::qWaitFor([this] { return !bar().finder().is_busy(); }, 60'000));
    EXPECT_GE(table().rowCount(), 25);
    EXPECT_FALSE(table().isColumnHidden(7));
}

TEST_F(WaysOnTheDesk, TheShortestThatMeetsAllComesFirst) {
    find_all();
    EXPECT_EQ(text(0, 0), "Elliptic");
    EXPECT_TRUE(bar().way_of(0)->meets_goal);
}

TEST_F(WaysOnTheDesk, StopEndsTheSearchAndKeepsWhatWasFound) {
    set_goal({{0, 4000, 0.01, 0.01, true, {}}, {4100, 24000, -120.0, {}, true, {}}});
    open();
    EXPECT_TRUE(bar().finder().is_busy());
    QTest::mouseClick(bar().find_button(), Qt::LeftButton);
    EXPECT_FALSE(bar().finder().is_busy());
    EXPECT_TRUE(bar().words().startsWith("stopped after")) << bar().words().toStdString();
}

TEST_F(WaysOnTheDesk, WithoutAGoalTheWindowSaysSo) {
    use_empty_channel();
    open();
    EXPECT_TRUE(window->message()->text().contains("no goal"))
        << window->message()->text().toStdString();
    EXPECT_EQ(table().rowCount(), 0);
}

TEST_F(WaysOnTheDesk, ANewFirBringsItsPage) {
    window->lower()->show_page(ShapeDesk::step);
    add_stage(session(), FirSpec());
    EXPECT_EQ(window->lower()->shown_page(), ShapeDesk::fir);
    window->lower()->show_page(ShapeDesk::step);
    add_stage(session(), GainSpec());
    session().select_stage(session().channel()->stages[0]->id);
    EXPECT_EQ(window->lower()->shown_page(), ShapeDesk::step) << "to select one changes no page";
}

TEST_F(WaysOnTheDesk, SharesItsPlaceWithTheKnob) {
    open();
    window->shape().show_sweep_bar(true);
    EXPECT_FALSE(bar().isVisible());
    window->shape().show_ways_bar(true);
    EXPECT_FALSE(window->shape().sweep_bar()->isVisible());
}

// As a signal from the system does.
TEST_F(WaysOnTheDesk, AnEndInSightOfItStopsTheSearchWhileThereIsASession) {
    open();
    ASSERT_TRUE(bar().finder().is_busy());
    bool is_busy = true, is_visible = true;
    QObject::connect(&session(), &QObject::destroyed,
                     [&, was = window.get()] { is_visible = was->isVisible(); });
    const WayFinder& finder = bar().finder();
    QObject::connect(&finder, &WayFinder::changed, [&] { is_busy = finder.is_busy(); });
    window->files().close();
    window.reset();
    EXPECT_FALSE(is_visible);
    EXPECT_FALSE(is_busy);
}

} // namespace
} // namespace syntonon
