// Roots, time, numbers, tabs, messages, fields by themselves.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/panes/numbers_pane.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/time_pane.h"
#include "app/widgets/page_stack.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QClipboard>
#include <QLabel>
#include <QPushButton>
#include <QSignalSpy>
#include <QVBoxLayout>
#include <QWheelEvent>
#include <cmath>
#include <numeric>

namespace syntonon {
namespace {

class Panes : public test::Window {
protected:
    template <class T>
    T& pane() {
        return *window->findChild<T*>();
    }
};

TEST_F(Panes, RootSharesAddUpToTheLevel) {
    // All roots' shares and the gains of the sections make the chain's level: nothing is left out.
    const double hz = 700;
    double sum = 0;
    for (const RootShare& share : root_shares(session(), hz)) {
        sum += share.db;
    }
    sum += db_from_ratio(std::abs(session().analysis()->chain.roots()->gain));
    EXPECT_NEAR(sum, session().point_at(hz)->chain.magnitude_db, 1e-9);
}

TEST_F(Panes, RootSharesAreLargestFirstAndLeaveOutWhatIsOff) {
    const auto all = root_shares(session(), 500);
    EXPECT_TRUE(std::ranges::is_sorted(all, std::greater<>(),
                                       [](const RootShare& s) { return std::abs(s.db); }));
    session().edit_channel("off", [](Channel& c) { c.stages[1].edit().enabled = false; });
    for (const RootShare& share : root_shares(session(), 500)) {
        EXPECT_NE(share.stage, id(1));
    }
}

// Words on a page that is not seen; counts how often their lines are broken.
class CountedWords : public QLabel {
public:
    explicit CountedWords(int* count)
        : QLabel("Words that need more than one line"), count_(count) {
        setWordWrap(true);
    }
    int heightForWidth(int width) const override {
        ++*count_;
        return QLabel::heightForWidth(width);
    }

private:
    int* count_;
};

TEST(PageStack, LinesOfAPageThatIsNotSeenAreNotBroken) {
    QWidget host;
    auto* column = new QVBoxLayout(&host);
    auto* elsewhere = new QLabel("Elsewhere");
    elsewhere->setWordWrap(true);
    auto* pages = new PageStack;
    column->addWidget(elsewhere);
    column->addWidget(pages, 1);
    int seen = 0, unseen = 0;
    for (int* count : {&seen, &unseen}) {
        auto* page = new QWidget;
        (new QVBoxLayout(page))->addWidget(new CountedWords(count));
        pages->addWidget(page);
    }
    host.resize(300, 400);
    host.show();
    QTest::qWait(20);
    seen = unseen = 0;
    elsewhere->setText(QString("Elsewhere, longer and longer ").repeated(5));
    host.resize(250, 380);
    QTest::qWait(20);
    EXPECT_GT(seen, 0);
    EXPECT_EQ(unseen, 0);
    EXPECT_EQ(pages->geometry().bottom(), column->contentsRect().bottom()) << "all room is theirs";
    pages->setCurrentIndex(1);
    QTest::qWait(20);
    EXPECT_GT(unseen, 0);
}

TEST_F(Panes, AClickOnARootSelectsItsStage) {
    auto& roots = pane<RootsPane>();
    roots.grab(); // laid out and painted once
    // The high shelf's poles stand apart from the crowd near 1.
    const auto pole = session().analysis()->stage(id(5))->filter->roots()->poles.front();
    QTest::mouseClick(&roots, Qt::LeftButton, {}, roots.point_of(pole).toPoint());
    EXPECT_EQ(session().selection().stage, id(5));
    EXPECT_NEAR(std::hypot(roots.point_of(1).x() - roots.point_of(0).x(), 0.0),
                std::hypot(roots.point_of({0, 1}).y() - roots.point_of(0).y(), 0.0), 1e-9)
        << "the circle is round";
}

TEST_F(Panes, TheWheelMagnifiesTheRootsAboutThePointer) {
    auto& roots = pane<RootsPane>();
    roots.grab();
    const QPointF at = roots.point_of(1);
    const double radius = at.x() - roots.point_of(0).x();
    QWheelEvent wheel(at, roots.mapToGlobal(at), {}, {0, 720}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&roots, &wheel);
    roots.grab();
    EXPECT_NEAR(roots.point_of(1).x(), at.x(), 1) << "what is under the pointer stays there";
    EXPECT_NEAR(roots.point_of(1).x() - roots.point_of(0).x(), 8 * radius, 1);
    QTest::mouseDClick(&roots, Qt::LeftButton, {}, {5, 5});
    roots.grab();
    EXPECT_NEAR(roots.point_of(1).x() - roots.point_of(0).x(), radius, 1e-9);
}

TEST_F(Panes, StepIsTheSumOfTheImpulseAndDecayFalls) {
    auto& time = pane<TimePane>();
    window->lower()->show_page(0);
    time.grab();
    const auto impulse = time.values();
    window->lower()->show_page(1);
    time.grab();
    const auto step = time.values();
    ASSERT_EQ(step.size(), impulse.size());
    double sum = 0;
    for (std::size_t i = 0; i < impulse.size(); ++i) {
        sum += impulse[i];
        EXPECT_NEAR(step[i], sum, 1e-12);
    }
    window->lower()->show_page(2);
    time.grab();
    const auto decay = time.values();
    EXPECT_NEAR(decay[0], 0, 1e-12) << "all the energy is still to come";
    EXPECT_TRUE(std::ranges::is_sorted(decay, std::greater<>()));
}

TEST_F(Panes, TheWheelShowsMoreOrLessTime) {
    auto& time = pane<TimePane>();
    time.grab();
    const auto before = time.values().size();
    const QPointF at(50, 50);
    QWheelEvent wheel(at, time.mapToGlobal(at), {}, {0, -120}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&time, &wheel);
    time.grab();
    EXPECT_GT(time.values().size(), before);
}

TEST_F(Panes, NumbersListEverySectionAndCopyAllDigits) {
    window->upper()->show_page(1);
    auto& numbers = pane<NumbersPane>();
    ASSERT_EQ(numbers.rowCount(), 6);
    const Biquad first = session().analysis()->chain.sections()->sections[0];
    EXPECT_EQ(numbers.item(0, 4)->text().replace("−", "-"),
              QString::fromStdString(text_with_digits(first.a1, 7)));
    numbers.selectRow(0);
    QTest::keyClick(&numbers, Qt::Key_C, Qt::ControlModifier);
    const QStringList cells = QApplication::clipboard()->text().split('\t');
    ASSERT_EQ(cells.size(), 6);
    EXPECT_EQ(number_from_text(cells[4].toStdString()), first.a1);
    session().edit_channel("off", [](Channel& c) { c.stages[0].edit().enabled = false; });
    EXPECT_EQ(numbers.rowCount(), 5) << "what is off is not in the chain";
}

TEST_F(Panes, ClickingAFindingDropsThePlumbLineThere) {
    QTest::mouseClick(window->verdict()->findings()[0], Qt::LeftButton);
    EXPECT_EQ(session().plumb().hz(), session().analysis()->verdict[0].worst_hz);
    EXPECT_TRUE(session().plumb().is_pinned());
    EXPECT_TRUE(window->verdict()->findings()[0]->line().contains("to spare"));
    session().select_channel(1);
    EXPECT_TRUE(window->verdict()->findings()[0]->line().contains("over at"));
}

TEST_F(Panes, OfManyFindingsTheUnmetComeFirstAndNoneIsLost) {
    session().edit("requirements", [](Study& s) {
        Goal& goal = s.goals[0].edit();
        for (int i = 0; i < 20; ++i) {
            goal.requirements.push_back({LevelRequirement{100.0 + 10 * i, -30, 30}, {}});
        }
        goal.requirements.push_back({PeakGainRequirement{-5}, {}});
        goal.requirements.push_back({UnknownRequirement{"loveliness"}, {}});
    });
    const auto& findings = window->verdict()->findings();
    QTRY_COMPARE_WITH_TIMEOUT(findings.size(), 25u, 20000);
    // What works takes room from the findings while it is shown.
    QTRY_VERIFY_WITH_TIMEOUT(window->verdict()->jobs_box()->isHidden(), 20000);
    const auto shown = [&](const std::string& requirement) {
        return std::ranges::any_of(findings, [&](const FindingButton* b) {
            return b->isVisible() && b->finding().requirement == requirement;
        });
    };
    EXPECT_TRUE(shown("peak gain")) << "not met";
    EXPECT_TRUE(shown("loveliness")) << "undecided";
    const auto visible =
        std::ranges::count_if(findings, [](const FindingButton* b) { return b->isVisible(); });
    EXPECT_GT(visible, 2);
    EXPECT_LT(visible, 25);
    EXPECT_TRUE(window->verdict()->more_button()->isVisible());
    EXPECT_EQ(window->verdict()->more_button()->text(),
              QStringLiteral("● %1 more, all met").arg(25 - visible));
    for (const FindingButton* b : findings) {
        if (b->isVisible()) {
            EXPECT_GE(b->width(), b->sizeHint().width() - 1) << "what is shown is shown in full";
        }
    }
    session().history().undo();
    session().edit("count", [](Study& s) {
        s.goals[0].edit().requirements = {{SectionsRequirement{5}, {}}};
    });
    EXPECT_EQ(findings[2]->line(), "6 of 5");
    session().history().undo();
    EXPECT_FALSE(window->verdict()->more_button()->isVisible());
    EXPECT_TRUE(findings[0]->isVisible());
}

TEST_F(Panes, TheMessageBarOffersChoicesAndGoesAway) {
    bool taken = false;
    window->message()->show_message(MessageKind::note, "Shall we?",
                                    {{"Yes", [&] { taken = true; }}, {"No", {}}});
    EXPECT_EQ(window->message()->text(), "Shall we?");
    const auto buttons = window->message()->findChildren<QPushButton*>();
    ASSERT_EQ(buttons.size(), 2);
    QTest::mouseClick(buttons[0], Qt::LeftButton);
    EXPECT_TRUE(taken);
    EXPECT_TRUE(window->message()->text().isEmpty());
}

TEST_F(Panes, ChannelTabsFollowTheStudy) {
    EXPECT_EQ(window->channel_tabs()->names(), (QStringList{"Zenith", "Sunrise", "Sunset", "Docent",
                                                            "Aurora", "Plenum", "Plenum z"}));
    window->channel_tabs()->setFocus();
    QTest::keyClick(window->channel_tabs(), Qt::Key_Right);
    EXPECT_EQ(session().selection().channel, 1);
    session().edit_channel("name", [](Channel& c) { c.name = "Dawn"; });
    EXPECT_EQ(window->channel_tabs()->names()[1], "Dawn");
}

TEST_F(Panes, WithoutChannelsNothingBreaks) {
    session().edit("none", [](Study& s) { s.channels.clear(); });
    for (const int page : {0, 1, 2, 3, 4, 5}) {
        window->upper()->show_page(page);
        window->lower()->show_page(page % 3);
        EXPECT_FALSE(window->grab().isNull());
    }
    hover(lanes(), lanes().rect().center());
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, lanes().rect_of(Lane::magnitude).center());
    EXPECT_TRUE(window->rail()->cards().empty());
}

TEST(TabStripTest, KeepsTheChosenTabInView) {
    TabStrip strip(TabStrip::Look::channels);
    QStringList names;
    for (int i = 0; i < 64; ++i) {
        names << QStringLiteral("Channel %1").arg(i);
    }
    strip.set_tabs(names);
    strip.resize(400, 32);
    strip.choose(63);
    EXPECT_TRUE(strip.rect().contains(strip.tab_rect(63).center()));
    QSignalSpy chosen(&strip, &TabStrip::chosen_by_user);
    QTest::mouseClick(&strip, Qt::LeftButton, {}, strip.tab_rect(61).center());
    ASSERT_EQ(chosen.count(), 1);
    EXPECT_EQ(chosen[0][0].toInt(), 61);
}

TEST(FieldTest, NeverTakesWhatItCannotReadAndTellsWhy) {
    Field field({"Delay", "s", Dimension::time, 6, false, step_by_ratio});
    field.set_sample_rate(48000);
    field.show_value(0.001);
    QSignalSpy entered(&field, &Field::value_entered);
    const auto type = [&](const char* text) {
        field.editor()->selectAll();
        QTest::keyClicks(field.editor(), text);
        QTest::keyClick(field.editor(), Qt::Key_Return);
    };
    type("12 samples");
    ASSERT_EQ(entered.count(), 1);
    EXPECT_DOUBLE_EQ(entered[0][0].toDouble(), 12.0 / 48000);
    type("soon");
    EXPECT_EQ(entered.count(), 1);
    EXPECT_TRUE(field.problem().contains("soon"));
    EXPECT_EQ(field.editor()->accessibleDescription(), field.problem()) << "said aloud as well";
    QTest::keyClick(field.editor(), Qt::Key_Escape);
    EXPECT_TRUE(field.problem().isEmpty());
    EXPECT_EQ(field.value(), 0.001);
}

TEST(FieldTest, ShowsTrueMinusAndChosenPlaces) {
    Field field({"Gain", "dB", Dimension::level, 2, true, step_by_tenth});
    field.show_value(-4.6);
    EXPECT_EQ(field.editor()->text(), "−4.60");
    field.show_value(3);
    EXPECT_EQ(field.editor()->text(), "+3.00");
    EXPECT_DOUBLE_EQ(step_by_tenth(-4.63, 1), -4.5);
    EXPECT_DOUBLE_EQ(step_by_ratio(1000, 24), 2000);
}

} // namespace
} // namespace syntonon
