// The top of the window with more channels than fit.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/menus/menus.h"
#include "app/panes/channel_list.h"
#include "app/top_bar.h"

#include <QListWidget>
#include <QMenu>
#include <QPointer>
#include <QToolButton>
#include <QWheelEvent>

namespace syntonon {
namespace {

class TopBarTest : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().edit("many", [](Study& s) {
            const Channel pattern = *s.channels[0];
            s.channels.clear();
            for (int i = 1; i <= 24; ++i) {
                Channel channel = pattern;
                channel.id = "c" + std::to_string(i);
                channel.name = "Dome ring output " + std::to_string(i) + " towards the sunrise";
                s.channels.emplace_back(channel);
            }
            s.channels[16].edit().stages.clear(); // misses its goal
        });
        QTest::qWait(20);
    }
    TopBar& bar() { return *window->top_bar(); }
    TabStrip& tabs() { return *window->channel_tabs(); }
    bool is_in_view(int channel) { return tabs().rect().contains(tabs().tab_rect(channel)); }
    ChannelList* open_list() {
        QTest::mouseClick(bar().list_button(), Qt::LeftButton);
        return bar().findChild<ChannelList*>();
    }
};

TEST_F(TopBarTest, LongNamesAreShortenedAndToldInFull) {
    EXPECT_TRUE(tabs().shown_name(0).endsWith("…")) << tabs().shown_name(0).toStdString();
    EXPECT_LT(tabs().tab_rect(0).width(), 180);
    EXPECT_EQ(tabs().names()[0], "Dome ring output 1 towards the sunrise");
}

TEST_F(TopBarTest, ANameIsNotCutInALetterWhereTheRowEnds) {
    int partly = 0;
    for (int i = 0; i < 24; ++i) {
        const QRect tab = tabs().tab_rect(i);
        if (is_in_view(i)) {
            EXPECT_EQ(tabs().name_in_view(i), tabs().shown_name(i));
        } else if (tab.intersects(tabs().rect())) {
            ++partly;
            EXPECT_LE(QFontMetrics(text_font(12)).horizontalAdvance(tabs().name_in_view(i)),
                      std::max(0, tabs().width() - tab.left()));
        }
    }
    EXPECT_EQ(partly, 1);
}

TEST_F(TopBarTest, TheWheelScrollsAndTheChosenOneComesIntoView) {
    ASSERT_FALSE(tabs().all_fit());
    EXPECT_FALSE(is_in_view(23));
    for (int i = 0; i < 60 && !is_in_view(23); ++i) {
        QWheelEvent wheel({30, 10}, tabs().mapToGlobal(QPointF(30, 10)), {}, {0, -120},
                          Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(&tabs(), &wheel);
    }
    EXPECT_TRUE(is_in_view(23)) << "the last one can be reached";
    EXPECT_EQ(session().selection().channel, 0) << "looking is not choosing";
    QTest::mouseClick(&tabs(), Qt::LeftButton, {}, tabs().tab_rect(23).center());
    EXPECT_EQ(session().selection().channel, 23);
    session().select_channel(5);
    EXPECT_TRUE(is_in_view(5));
}

TEST_F(TopBarTest, TheListIsTypedToFilterAndShowsVerdicts) {
    ASSERT_TRUE(bar().list_button()->isVisible());
    const QPointer<ChannelList> list = open_list();
    ASSERT_NE(list, nullptr);
    EXPECT_EQ(list->list()->count(), 24);
    EXPECT_TRUE(list->list()->item(0)->text().startsWith("●"));
    EXPECT_TRUE(list->list()->item(16)->text().startsWith("◇")) << "a lozenge for what is missed";
    EXPECT_TRUE(list->list()->item(16)->toolTip().contains("not met"));
    QTest::keyClicks(list->filter(), "put 17");
    int visible = 0;
    for (int i = 0; i < 24; ++i) {
        visible += list->list()->item(i)->isHidden() ? 0 : 1;
    }
    EXPECT_EQ(visible, 1);
    QTest::keyClick(list->filter(), Qt::Key_Return);
    EXPECT_EQ(session().selection().channel, 16);
    QTest::qWait(10);
    EXPECT_TRUE(list.isNull()) << "it has closed";
}

TEST_F(TopBarTest, TheListNeedsNoMouse) {
    shortcut(Qt::Key_L, Qt::ControlModifier);
    auto* list = bar().findChild<ChannelList*>();
    ASSERT_NE(list, nullptr);
    QTest::keyClick(list->filter(), Qt::Key_Down);
    QTest::keyClick(list->filter(), Qt::Key_Down);
    QTest::keyClick(list->filter(), Qt::Key_Return);
    EXPECT_EQ(session().selection().channel, 2);
}

TEST_F(TopBarTest, TheButtonIsGoneWhileAllFit) {
    Study few = brightwater_study();
    few.channels.resize(4);
    session().replace_study(few);
    QTest::qWait(10);
    EXPECT_TRUE(tabs().all_fit());
    EXPECT_FALSE(bar().list_button()->isVisible());
}

TEST_F(TopBarTest, AChannelsColourIsChosenInTheWindow) {
    QMenu menu;
    fill_channel_actions(menu, *window);
    QMenu* colours = nullptr;
    for (QAction* action : menu.actions()) {
        colours = action->menu() != nullptr ? action->menu() : colours;
    }
    ASSERT_NE(colours, nullptr);
    colours->actions().at(3)->trigger();
    EXPECT_EQ(session().channel()->colour, channel_colour({}, 3).name().toStdString());
    EXPECT_TRUE(undo_name().startsWith("Colour channel"));
    session().history().undo();
    EXPECT_TRUE(session().channel()->colour.empty());
}

TEST_F(TopBarTest, LongNamesOfStagesAreShortenedInTheTrimStrip) {
    session().select_stage(id(4));
    session().edit_stage(
        "name", [](Stage& stage) { stage.name = "A peak against the dome's own ring at 870 Hz"; });
    const auto labels = window->trim()->findChildren<QLabel*>();
    const auto title = std::ranges::find_if(
        labels, [](const QLabel* label) { return label->text().startsWith("A peak"); });
    ASSERT_NE(title, labels.end());
    EXPECT_TRUE((*title)->text().endsWith("…"));
    EXPECT_LE(QFontMetrics((*title)->font()).horizontalAdvance((*title)->text()),
              (*title)->width());
    EXPECT_EQ((*title)->toolTip(), "A peak against the dome's own ring at 870 Hz");
}

} // namespace
} // namespace syntonon
