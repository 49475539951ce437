// The frame of the desks: keys, sizes, and what is remembered of them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/desk_frame.h"
#include "app/desks/measure_desk.h"
#include "app/desks/shape_desk.h"
#include "app/model/study_settings.h"
#include "app/panes/start_page.h"
#include "app/panes/trim_strip.h"
#include "app/top_bar.h"
#include "core/study/study_json.h"

#include <QJsonArray>
#include <QPushButton>

namespace syntonon {
namespace {

class Desks : public test::Window {
protected:
    void TearDown() override {
        use_theme(*qApp, ThemeName::paper);
        Window::TearDown();
    }
    QList<int> columns() { return window->frame()->columns(); }
    QString saved_study() {
        EXPECT_TRUE(save_study(brightwater_study(), scratch.file("dome.syntonon")));
        return QString::fromStdString(scratch.file("dome.syntonon").string());
    }
};

TEST_F(Desks, EachHasAWordAndAKey) {
    const TabStrip& words = *window->top_bar()->desks();
    EXPECT_EQ(words.names(), (QStringList{"Measure", "Shape", "Listen", "Deliver"}));
    EXPECT_EQ(words.chosen(), 1) << "one begins where one shapes";
    for (int i = 0; i < 4; ++i) {
        QTest::mouseClick(window->top_bar()->desks(), Qt::LeftButton, {},
                          words.tab_rect(i).center() - QPoint(8, 0));
        EXPECT_EQ(window->frame()->desk(), all_desks.at(static_cast<std::size_t>(i)));
    }
    for (const int i : {2, 0, 3, 1}) {
        shortcut(static_cast<Qt::Key>(Qt::Key_1 + i), Qt::ControlModifier);
        EXPECT_EQ(words.chosen(), i);
    }
    EXPECT_FALSE(session().is_modified());
}

TEST_F(Desks, KeepWhatIsCommonToAll) {
    session().select_stage(id(4));
    session().plumb().set(412.0);
    session().plumb().pin(true);
    for (const Desk desk : all_desks) {
        window->show_desk(desk);
        EXPECT_TRUE(window->verdict()->isVisible());
        EXPECT_TRUE(window->channel_tabs()->isVisible());
        EXPECT_EQ(session().selection().stage, id(4));
        EXPECT_EQ(session().plumb().hz(), 412.0);
        const bool shapes = desk == Desk::shape || desk == Desk::listen;
        EXPECT_EQ(window->trim()->isVisible(), shapes) << title_of(desk).toStdString();
        EXPECT_EQ(window->rail()->isVisible(), shapes) << title_of(desk).toStdString();
    }
}

TEST_F(Desks, HaveAtMostSevenWordsInARow) {
    for (const Desk desk : all_desks) {
        window->show_desk(desk);
        EXPECT_LE(window->frame()->parts().upper->tabs()->names().size(), 7);
        EXPECT_LE(window->frame()->parts().lower->tabs()->names().size(), 7);
    }
}

TEST_F(Desks, KeepSizesOfTheirOwnAndGrowInProportion) {
    const QList<int> before = columns();
    EXPECT_EQ(before[0], 176);
    window->frame()->set_columns({176, 560, 542});
    const QList<int> mine = columns();
    window->show_desk(Desk::measure);
    EXPECT_NE(columns(), mine);
    window->show_desk(Desk::shape);
    EXPECT_EQ(columns(), mine);
    window->resize(1920, 1080);
    QTest::qWait(10);
    const QList<int> wide = columns();
    EXPECT_EQ(wide[0], 176) << "the rail needs no more";
    EXPECT_NEAR(wide[1] / double(wide[2]), mine[1] / double(mine[2]), 0.02);
    window->resize(1280, 800);
    QTest::qWait(10);
    EXPECT_NEAR(columns()[1], mine[1], 3);
}

TEST_F(Desks, WorkDownToASmallWindow) {
    for (const Desk desk : all_desks) {
        window->show_desk(desk);
        QTest::qWait(10);
        EXPECT_LE(window->minimumSizeHint().width(), 1100) << title_of(desk).toStdString();
        EXPECT_LE(window->minimumSizeHint().height(), 680) << title_of(desk).toStdString();
        window->resize(1100, 680);
        QTest::qWait(10);
        EXPECT_EQ(window->size(), QSize(1100, 680)) << title_of(desk).toStdString();
        const QRect bar(window->verdict()->mapTo(window.get(), QPoint(0, 0)),
                        window->verdict()->size());
        EXPECT_TRUE(window->rect().contains(bar)) << "the verdict bar is whole";
    }
}

TEST_F(Desks, AreRememberedForEachStudyWithoutChangingIt) {
    const QString path = saved_study();
    ASSERT_TRUE(window->open_study(path));
    const std::string bytes = test::bytes_of(path.toStdString());
    window->show_desk(Desk::measure);
    window->measure().lanes()->show_curve("curve:zenith-b", true);
    window->show_desk(Desk::listen);
    window->show_desk(Desk::shape);
    window->upper()->show_page(2);
    window->lower()->show_page(1);
    LaneView view = lanes().view();
    view.delay_unit = TimeUnit::samples;
    lanes().change_view(view);
    lanes().change_range(Lane::magnitude, {-30, 30, 10});
    LaneZoom zoomed = lanes().zoom();
    zoomed.low_hz = 100;
    zoomed.high_hz = 1000;
    lanes().magnify(zoomed);
    lanes().show_curve("measured", false);
    lanes().set_readout_column(true);
    window->frame()->set_columns({176, 560, 542});
    const QList<int> sizes = columns();
    use_theme(*qApp, ThemeName::night);
    window->show_desk(Desk::deliver);
    EXPECT_FALSE(session().is_modified());
    EXPECT_TRUE(window->close());

    use_theme(*qApp, ThemeName::paper);
    window = std::make_unique<MainWindow>();
    window->resize(1280, 800);
    window->show();
    ASSERT_TRUE(window->open_study(path));
    EXPECT_EQ(window->frame()->desk(), Desk::deliver);
    EXPECT_EQ(theme().name, ThemeName::night);
    window->show_desk(Desk::shape);
    EXPECT_EQ(window->upper()->shown_page(), 2);
    EXPECT_EQ(window->lower()->shown_page(), 1);
    EXPECT_EQ(lanes().view().delay_unit, TimeUnit::samples);
    EXPECT_EQ(lanes().zoom().low_hz, 100);
    EXPECT_EQ(lanes().range(Lane::magnitude), (LaneRange{-30, 30, 10}));
    EXPECT_FALSE(lanes().curves().is_shown("measured"));
    EXPECT_TRUE(lanes().readout().is_column());
    EXPECT_NEAR(columns()[1], sizes[1], 3);
    EXPECT_TRUE(window->measure().lanes()->curves().is_shown("curve:zenith-b"));
    EXPECT_FALSE(session().is_modified());
    EXPECT_EQ(test::bytes_of(path.toStdString()), bytes);

    // Another study knows nothing of it.
    ASSERT_TRUE(save_study(empty_study(), scratch.file("other.syntonon")));
    ASSERT_TRUE(
        window->open_study(QString::fromStdString(scratch.file("other.syntonon").string())));
    EXPECT_TRUE(study_settings(window->files().path(), "window").isEmpty());
}

TEST_F(Desks, SurviveSettingsThatMakeNoSense) {
    const QString path = saved_study();
    keep_study_settings(
        path, "window",
        QJsonObject{{"desks", QJsonObject{{"shown", "nowhere"},
                                          {"shape", QJsonObject{{"columns", QJsonArray{1, 2}},
                                                                {"upper_page", 99}}}}},
                    {"lanes", QJsonObject{{"ranges", QJsonArray{QJsonArray{5, -5, 0}}},
                                          {"frequencies", QJsonArray{-3, 1e12}},
                                          {"view", QJsonObject{{"span", 77}}}}},
                    {"place", "x"}});
    ASSERT_TRUE(window->open_study(path));
    EXPECT_EQ(window->frame()->desk(), Desk::shape);
    EXPECT_EQ(lanes().zoom(), LaneZoom());
    EXPECT_GT(columns()[1], 300);
}

class EmptyWindow : public Desks {
protected:
    void SetUp() override {
        Desks::SetUp();
        window->files().start_new();
    }
    StartPage& page() { return *window->shape().start_page(); }
};

TEST_F(EmptyWindow, OffersWaysToBegin) {
    EXPECT_TRUE(page().isVisible());
    EXPECT_FALSE(lanes().isVisible());
    for (const QPushButton* button : {page().demo_button(), page().import_button(),
                                      page().target_button(), page().stage_button()}) {
        EXPECT_TRUE(button->isVisible());
        EXPECT_FALSE(button->text().isEmpty());
    }
    page().demo_button()->click();
    EXPECT_EQ(session().study(), brightwater_study());
    EXPECT_TRUE(lanes().isVisible());
    EXPECT_TRUE(window->files().path().isEmpty()) << "saving asks where";
}

TEST_F(EmptyWindow, AStageOrATargetBeginsTheWork) {
    page().stage_button()->click();
    EXPECT_EQ(stages(), 1u);
    EXPECT_TRUE(lanes().isVisible());
    session().history().undo();
    EXPECT_TRUE(page().isVisible());
    page().target_button()->click();
    EXPECT_EQ(session().study().goals.size(), 1u);
    EXPECT_TRUE(window->goal_pane()->isVisible());
}

TEST_F(EmptyWindow, RecentStudiesAreOneClickAway) {
    const QString path = saved_study();
    ASSERT_TRUE(window->open_study(path));
    window->files().start_new();
    ASSERT_FALSE(page().recent_buttons().empty());
    EXPECT_EQ(page().recent_buttons().front()->toolTip(), path);
    page().recent_buttons().front()->click();
    EXPECT_EQ(window->files().path(), path);
    EXPECT_TRUE(lanes().isVisible());
}

} // namespace
} // namespace syntonon
