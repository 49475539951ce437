// What is heard, on a sound server of the test's own.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/desks/listen_fixture.h"

#include <QMenu>

namespace syntonon {
namespace {

using test::Listen;

// --- listening ---

TEST_F(Listen, WithoutADeviceItSaysSoAndEverythingElseWorks) {
    ::setenv("PULSE_SERVER", "unix:/nowhere/at/all", 1);
    if (!sound_outputs().empty()) {
        GTEST_SKIP() << "this machine has one";
    }
    show_docent();
    Transport& transport = *desk().view()->transport();
    QTest::mouseClick(transport.play_button(), Qt::LeftButton);
    EXPECT_FALSE(desk().listening().is_playing());
    EXPECT_TRUE(transport.state().contains("there is no device to play on"))
        << transport.state().toStdString();
    EXPECT_FALSE(out().empty());
    ::unsetenv("PULSE_SERVER");
}

class ListenAloud : public Listen {
protected:
    void SetUp() override {
        if (!server.is_there()) {
            GTEST_SKIP() << "pulseaudio does not start here";
        }
        Listen::SetUp();
        show_docent();
    }
    Listening& listening() { return desk().listening(); }
    Transport& transport() { return *desk().view()->transport(); }
    QToolButton& choice(const char* name) {
        for (QToolButton* button : transport().choice_buttons()) {
            if (button->text() == name) {
                return *button;
            }
        }
        ADD_FAILURE() << name;
        return *transport().choice_buttons().front();
    }
    testing::AssertionResult plays_on() {
        const std::size_t before = listening().position();
        return QTest::qWaitFor([&] { return listening().position() != before; }, 20'000)
                   ? testing::AssertionSuccess()
                   : testing::AssertionFailure() << "it stands at " << before << ": "
                                                 << listening().problem().toStdString();
    }
    test::PulseServer server;
};

TEST_F(ListenAloud, PlaysAndStops) {
    EXPECT_EQ(listening().volume_db(), -20) << "quiet at first";
    QTest::mouseClick(transport().play_button(), Qt::LeftButton);
    ASSERT_TRUE(listening().is_playing()) << listening().problem().toStdString();
    ASSERT_TRUE(plays_on());
    EXPECT_TRUE(QTest::qWaitFor([&] { return listening().meters().peak > 0; }, 20'000));
    EXPECT_TRUE(transport().device_button()->toolTip().contains("256 frames"));
    EXPECT_TRUE(choice("out").isChecked());
    QTest::mouseClick(&choice("FIR"), Qt::LeftButton);
    EXPECT_TRUE(choice("FIR").isChecked());
    EXPECT_TRUE(plays_on());
    QTest::keyClick(desk().view(), Qt::Key_Space);
    EXPECT_FALSE(listening().is_playing());
}

TEST_F(ListenAloud, AllAreTurnedDownToTheQuietest) {
    ASSERT_TRUE(QTest::qWaitFor([&] { return listening().gain_db(0) != 0; }, 10'000));
    double greatest = -100;
    for (std::size_t i = 0; i < listening().choices().size(); ++i) {
        greatest = std::max(greatest, listening().gain_db(i));
        EXPECT_LE(listening().gain_db(i), 1e-9);
    }
    EXPECT_NEAR(greatest, 0, 1e-9);
    show_upper(1);
    const BenchFigures& figures = desk().levels()->figures();
    EXPECT_NEAR(listening().gain_db(0) - listening().gain_db(1),
                *figures.levels[1].loudness_lufs - *figures.levels[0].loudness_lufs, 0.01);
    QTest::mouseClick(transport().match_box(), Qt::LeftButton);
    EXPECT_EQ(listening().gain_db(0), 0);
}

TEST_F(ListenAloud, GoesOnBesideTheLanesWithItsLiveSpectrum) {
    listening().play(true);
    ASSERT_TRUE(plays_on());
    window->show_desk(Desk::shape);
    QTest::qWait(50);
    EXPECT_TRUE(plays_on());
    session().live().wish(true);
    ASSERT_TRUE(QTest::qWaitFor([&] { return session().live().levels().size() > 200; }, 20'000));
    session().select_stage(id(1));
    session().edit_stage("move the notch", [](Stage& stage) {
        std::get<ParametricSpec>(stage.spec.edit()).frequency_hz = 250;
    });
    QTest::qWait(100);
    EXPECT_TRUE(listening().problem().isEmpty()) << listening().problem().toStdString();
    shortcut(Qt::Key_Space, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_FALSE(listening().is_playing());
    session().live().wish(false);
}

TEST_F(ListenAloud, TheDevicesRateIsChosenInItsMenu) {
    const auto choose = [&](const char* text) {
        QMenu& menu = *transport().device_button()->menu();
        emit menu.aboutToShow();
        for (QAction* action : menu.actions()) {
            if (action->text() == text) {
                action->trigger();
                return;
            }
        }
        ADD_FAILURE() << text;
    };
    listening().play(true);
    ASSERT_TRUE(plays_on());
    EXPECT_FALSE(listening().state_text().contains("played at"));
    choose("Converted to 44.1 kHz");
    ASSERT_TRUE(listening().is_playing()) << listening().problem().toStdString();
    EXPECT_TRUE(listening().state_text().contains("48 kHz played at 44.1 kHz"));
    EXPECT_TRUE(plays_on());
    choose("At the study's rate, or what is nearest");
    EXPECT_FALSE(listening().state_text().contains("played at"));
    EXPECT_EQ(listening().rate_hz(), 0);
}

TEST_F(ListenAloud, AStretchIsLooped) {
    bench().set_span(BenchWork::Span(96'000, 110'000));
    listening().play(true);
    ASSERT_TRUE(plays_on());
    for (int i = 0; i < 20; ++i) {
        QTest::qWait(50);
        EXPECT_GE(listening().position(), 96'000u);
        EXPECT_LE(listening().position(), 110'000u);
    }
}

TEST_F(ListenAloud, AnUnstableChainIsMutedWithTheReason) {
    listening().play(true);
    ASSERT_TRUE(plays_on());
    session().edit("unstable", [](Study& s) {
        Chain& stages = s.channels[3].edit().stages;
        stages[0].edit().spec = RecursionSpec{{1}, {1, -2}, {}};
    });
    EXPECT_TRUE(QTest::qWaitFor([&] { return transport().state().contains("muted"); }, 20'000));
    EXPECT_TRUE(transport().state().contains("unstable"));
    session().history().undo();
    EXPECT_TRUE(QTest::qWaitFor([&] { return transport().state().isEmpty(); }, 20'000));
}

TEST_F(ListenAloud, ADeviceThatVanishesIsSaid) {
    listening().play(true);
    ASSERT_TRUE(plays_on());
    server.stop();
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return transport().state().contains("device has gone"); }, 20'000));
    EXPECT_FALSE(listening().is_playing());
}

TEST_F(ListenAloud, ABlindComparisonCountsAndHidesWhatXIs) {
    BlindPage& page = *desk().blind();
    show_upper(2);
    page.first()->setCurrentIndex(0);
    page.second()->setCurrentIndex(1);
    QTest::mouseClick(page.hear_button(2), Qt::LeftButton);
    EXPECT_TRUE(listening().is_playing());
    for (QToolButton* button : transport().choice_buttons()) {
        EXPECT_FALSE(button->isChecked()) << "X would be known";
    }
    int right = 0;
    for (int i = 0; i < 8; ++i) {
        const bool say_second = i % 3 == 0;
        right += page.x_is_second() == say_second ? 1 : 0;
        QTest::mouseClick(page.answer_button(say_second ? 1 : 0), Qt::LeftButton);
    }
    EXPECT_EQ(page.score(), "8 answers");
    page.score_box()->click();
    EXPECT_EQ(page.right(), right);
    EXPECT_TRUE(page.score().startsWith(QStringLiteral("%1 of 8 right").arg(right)))
        << page.score().toStdString();
}

// Changes while nothing plays are many: the last of them is heard.
TEST_F(ListenAloud, WhatIsChangedWhileItIsSilentIsHeardAfterwards) {
    session().select_stage(id(1));
    for (int i = 0; i < 300; ++i) {
        session().edit_stage("move the notch", [i](Stage& stage) {
            std::get<ParametricSpec>(stage.spec.edit()).frequency_hz = 200 + i;
        });
        listening().set_volume_db(-20 - i % 2);
    }
    EXPECT_TRUE(listening().problem().isEmpty());
    listening().play(true);
    ASSERT_TRUE(listening().is_playing()) << listening().problem().toStdString();
    ASSERT_TRUE(plays_on());
    EXPECT_TRUE(QTest::qWaitFor([&] { return listening().meters().peak > 0; }, 20'000));
}

} // namespace
} // namespace syntonon
