// Lines and tables that take numbers with units.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/quantity_edit.h"

#include "app/panes/goal/number_table.h"

#include <QSignalSpy>
#include <QTest>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

void type(QuantityEdit& edit, const QString& text) {
    edit.setFocus();
    edit.selectAll();
    QTest::keyClick(&edit, Qt::Key_Delete);
    QTest::keyClicks(&edit, text);
    QTest::keyClick(&edit, Qt::Key_Return);
}

TEST(QuantityEditTest, TakesUnitsAndShowsItsOwn) {
    QuantityEdit edit(Dimension::frequency, "Hz");
    edit.set_sample_rate(48000);
    edit.show_value(200);
    EXPECT_EQ(edit.text(), "200 Hz");
    for (const auto& [typed, hz] : {std::pair{"1.2 kHz", 1200.0},
                                    {"0.25 fs", 12000.0},
                                    {"0.5 nyquist", 12000.0},
                                    {"2*pi*750 rad/s", 750.0},
                                    {"pi/2 rad/sample", 12000.0},
                                    {"x0.5", 6000.0}}) {
        type(edit, typed);
        ASSERT_TRUE(edit.value());
        EXPECT_NEAR(*edit.value(), hz, 1e-9) << typed;
    }
    EXPECT_EQ(edit.text(), "6000 Hz");
}

TEST(QuantityEditTest, SaysWhatItCannotReadAndComesBack) {
    QuantityEdit edit(Dimension::level, "dB");
    edit.show_value(-3);
    QSignalSpy entered(&edit, &QuantityEdit::value_entered);
    QSignalSpy problems(&edit, &QuantityEdit::problem_found);
    type(edit, "loud");
    EXPECT_EQ(entered.count(), 0);
    ASSERT_EQ(problems.count(), 1);
    EXPECT_TRUE(problems[0][0].toString().contains("loud"));
    EXPECT_EQ(edit.text(), "loud") << "what was typed is not thrown away";
    QTest::keyClicks(&edit, "er");
    QTest::keyClick(&edit, Qt::Key_Escape);
    EXPECT_EQ(edit.text(), "−3 dB");
    type(edit, "0.5 ratio");
    EXPECT_NEAR(*edit.value(), -6.0206, 1e-4);
}

TEST(QuantityEditTest, EmptyStandsForNoneWhereThatIsAllowed) {
    QuantityEdit edit(Dimension::level, "dB", "open");
    edit.show_value(1);
    type(edit, "");
    EXPECT_FALSE(edit.value());
    EXPECT_EQ(edit.text(), "open");
    QuantityEdit always(Dimension::plain, "%");
    always.show_value(5);
    type(always, "12 %");
    EXPECT_EQ(always.value(), 12) << "its own unit may be typed";
}

TEST(LevelText, RatiosCarryTheirDecibels) {
    EXPECT_EQ(level_text(std::nullopt, LevelText::ratio), "open");
    EXPECT_EQ(level_text(-2.5, LevelText::db), "−2.5");
    EXPECT_EQ(level_text(20.0, LevelText::ratio), "10 (+20.000 dB)");
    const QuantityContext context;
    for (const LevelText form : {LevelText::db, LevelText::ratio}) {
        for (const double db : {-12.0, -0.1755, 0.0, 6.0}) {
            const auto read = level_from_text(level_text(db, form), form, context);
            ASSERT_TRUE(read && *read);
            EXPECT_NEAR(**read, db, 1e-3);
        }
    }
    EXPECT_NEAR(**level_from_text("-6 dB", LevelText::ratio, context), -6, 1e-12)
        << "a typed unit wins";
    EXPECT_FALSE(*level_from_text("open", LevelText::db, context));
    EXPECT_FALSE(level_from_text("0 ratio", LevelText::db, context)) << "endlessly far down";
}

TEST(NumberTableTest, TellsWhatWasTypedAndChosen) {
    NumberTable table({"a", "b"}, "numbers");
    table.fix_column(1);
    table.show_rows({{"1", "x"}, {"2", "y"}, {"3", "z"}});
    QSignalSpy entered(&table, &NumberTable::entered);
    QSignalSpy chosen(&table, &NumberTable::rows_chosen);
    EXPECT_EQ(entered.count(), 0) << "showing is not typing";
    table.item(1, 0)->setText("5");
    ASSERT_EQ(entered.count(), 1);
    EXPECT_EQ(entered[0][2].toString(), "5");
    EXPECT_FALSE(table.item(0, 1)->flags().testFlag(Qt::ItemIsEditable));
    table.choose_rows({0, 2});
    EXPECT_EQ(chosen.count(), 0);
    EXPECT_EQ(table.chosen_rows(), (std::set<int>{0, 2}));
    table.show_rows({{"1", "x"}});
    EXPECT_EQ(table.rowCount(), 1);
}

} // namespace
} // namespace syntonon
