// Coefficients of others into a channel, as a user does it.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/dialogs/coefficients_in_dialog.h"
#include "app/dialogs/stage_in.h"
#include "app/plot/level_plot.h"
#include "core/study/kinds.h"

#include <QClipboard>
#include <QLabel>
#include <QTimer>

namespace syntonon {
namespace {

constexpr const char* added_text = "1.0128 -1.9683 0.9720 1.9683 -0.9848\n"
                                   "1.0 -1.9 0.95 1.9 -0.93\n";

class CoefficientsIn : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
    }
    // Does what a user does once the dialog is there.
    void when_asked(std::function<void(CoefficientsInDialog&)> act) {
        QTimer::singleShot(50, [act = std::move(act)] {
            auto* dialog = qobject_cast<CoefficientsInDialog*>(QApplication::activeModalWidget());
            ASSERT_NE(dialog, nullptr);
            act(*dialog);
        });
    }
};

TEST_F(CoefficientsIn, AFileIsLookedAtBeforeItBecomesAStage) {
    const auto path = scratch.write("two.txt", added_text);
    const auto before = session().study();
    when_asked([&](CoefficientsInDialog& dialog) {
        EXPECT_TRUE(dialog.facts().startsWith("2 sections.")) << dialog.facts().toStdString();
        EXPECT_TRUE(dialog.facts().contains("taken as added"));
        EXPECT_EQ(dialog.plot()->levels().size(), 1u) << "the other sign is unstable";
        EXPECT_EQ(session().channel()->stages.size(), 0u) << "nothing is taken yet";
        QTest::mouseClick(dialog.take_button(), Qt::LeftButton);
    });
    const auto words =
        add_stage_from_file(session(), QString::fromStdString(path.string()), window.get());
    ASSERT_TRUE(words && *words) << (words ? "" : to_text(words.error()));
    ASSERT_EQ(session().channel()->stages.size(), 1u);
    EXPECT_EQ(session().channel()->stages[0]->name, "two");
    EXPECT_TRUE(std::holds_alternative<RepeatSpec>(*session().channel()->stages[0]->spec));
    session().history().undo();
    EXPECT_EQ(session().study(), before);
}

TEST_F(CoefficientsIn, AWrongSignIsSaidAndTurned) {
    CoefficientsInDialog dialog(session(), added_text, "two.txt", "two");
    dialog.show();
    choose_item(dialog.sign(), 1); // subtracted
    EXPECT_TRUE(dialog.doubt().contains("stable with the other sign"));
    EXPECT_EQ(dialog.plot()->levels().size(), 2u) << "both are drawn";
    ASSERT_TRUE(dialog.turn_button()->isVisible());
    EXPECT_EQ(dialog.turn_button()->text(), "Add the a’s");
    QTest::mouseClick(dialog.turn_button(), Qt::LeftButton);
    EXPECT_EQ(dialog.sign()->currentIndex(), 2);
    EXPECT_TRUE(dialog.doubt().isEmpty());
    EXPECT_FALSE(dialog.turn_button()->isVisible());
    EXPECT_EQ(dialog.found()->convention.feedback, FeedbackSign::added);
}

TEST_F(CoefficientsIn, WordsNeedAProcessorOrAWord) {
    CoefficientsInDialog dialog(session(), "0x0a4cf85 0xf7683c0 0x03067a3 0x05372a2 0xfe0d276\n",
                                "own.hex", "own");
    dialog.show();
    EXPECT_FALSE(dialog.take_button()->isEnabled());
    EXPECT_TRUE(dialog.facts().contains("format is not said")) << dialog.facts().toStdString();
    const int reed = dialog.words()->findText("Reed 28");
    ASSERT_GT(reed, 0);
    dialog.words()->setCurrentIndex(reed);
    EXPECT_TRUE(dialog.take_button()->isEnabled()) << dialog.facts().toStdString();
    EXPECT_EQ(dialog.found()->convention.feedback, FeedbackSign::added)
        << "as the processor has it";
    dialog.words()->setEditText("Q5.2");
    EXPECT_FALSE(dialog.take_button()->isEnabled()) << "more digits than the word";
    dialog.words()->setEditText("Q5.23");
    EXPECT_TRUE(dialog.take_button()->isEnabled());
}

TEST_F(CoefficientsIn, WhatItIsCanBeSaid) {
    CoefficientsInDialog dialog(session(), "1\n0.5\n0.25\n-0.5\n0.1\n", "five.txt", "five");
    EXPECT_TRUE(dialog.facts().startsWith("5 taps")) << dialog.facts().toStdString();
    choose_item(dialog.as(), 1);
    EXPECT_TRUE(dialog.facts().startsWith("1 section.")) << dialog.facts().toStdString();
    dialog.order()->setEditText("b2 b1 b0 a2 a1");
    EXPECT_EQ(dialog.found()->fractions[0].numerator[0], 0.25);
    dialog.order()->setEditText("b0 b9");
    EXPECT_FALSE(dialog.take_button()->isEnabled());
    EXPECT_TRUE(dialog.facts().contains("b9")) << dialog.facts().toStdString();
}

// The window stays alive meanwhile, and of several changes the last one counts.
TEST_F(CoefficientsIn, LongFilesAreReadBesideTheWindow) {
    std::string text;
    for (int i = 0; i < 20'000; ++i) {
        text += "0.001 0.002 0.003\n";
    }
    CoefficientsInDialog dialog(session(), text, "long.txt", "long");
    dialog.show();
    EXPECT_TRUE(dialog.is_busy());
    EXPECT_FALSE(dialog.take_button()->isEnabled());
    EXPECT_EQ(dialog.facts(), "Being read …");
    dialog.words()->setEditText("no word");
    EXPECT_FALSE(dialog.is_busy()) << "there is nothing to read by";
    EXPECT_FALSE(dialog.take_button()->isEnabled());
    choose_item(dialog.as(), 3);
    dialog.words()->setEditText("");
    ASSERT_TRUE(QTest::qWaitFor([&] { return !dialog.is_busy(); }, 60'000));
    EXPECT_TRUE(dialog.facts().startsWith("60,000 taps") || dialog.facts().startsWith("60000 taps"))
        << dialog.facts().toStdString();
    EXPECT_EQ(dialog.plot()->levels().size(), 1u);
    EXPECT_TRUE(dialog.take_button()->isEnabled());
}

TEST_F(CoefficientsIn, ThoseOnTheClipboardArePasted) {
    QApplication::clipboard()->setText("y[n] = 0.1 x[n] + 0.9 y[n-1]");
    when_asked([](CoefficientsInDialog& dialog) {
        EXPECT_TRUE(dialog.facts().startsWith("1 fraction of order 1"))
            << dialog.facts().toStdString();
        QTest::mouseClick(dialog.take_button(), Qt::LeftButton);
    });
    window->paste_stage();
    ASSERT_EQ(session().channel()->stages.size(), 1u);
    const auto& recursion = std::get<RecursionSpec>(*session().channel()->stages[0]->spec);
    EXPECT_EQ(recursion.a, (std::vector<double>{1, -0.9}));
    QApplication::clipboard()->setText("");
    window->paste_stage();
    EXPECT_TRUE(window->message()->text().contains("no text on the clipboard"));
}

TEST_F(CoefficientsIn, AFileForAnotherRateIsTakenAndSaid) {
    const auto path = scratch.write("for44.txt", "# sample rate 44100 Hz\n0.5\n0.5\n");
    when_asked([](CoefficientsInDialog& dialog) {
        EXPECT_TRUE(dialog.facts().contains("Made for 44.1 kHz")) << dialog.facts().toStdString();
        QTest::keyClick(&dialog, Qt::Key_Return);
    });
    const auto words =
        add_stage_from_file(session(), QString::fromStdString(path.string()), window.get());
    ASSERT_TRUE(words && *words);
    EXPECT_TRUE((*words)->contains("frequencies have moved"));
    when_asked([](CoefficientsInDialog& dialog) { QTest::keyClick(&dialog, Qt::Key_Escape); });
    EXPECT_EQ(*add_stage_from_file(session(), QString::fromStdString(path.string()), window.get()),
              std::nullopt);
    EXPECT_EQ(session().channel()->stages.size(), 1u);
}

} // namespace
} // namespace syntonon
