// Coefficients typed and pasted.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/model/stage_commands.h"
#include "app/panes/trim/new_stages.h"
#include "app/panes/trim/recursion_trim.h"

namespace syntonon {
namespace {

using Row = std::vector<double>;

class RecursionInStrip : public test::Window {
protected:
    void put(const RecursionSpec& recursion) {
        add_stage(session(), recursion);
        QApplication::processEvents();
    }
    RecursionTrim& trim() { return dynamic_cast<RecursionTrim&>(*window->trim()->panel()); }
    const RecursionSpec& recursion() { return std::get<RecursionSpec>(*session().stage()->spec); }
    void type(QLineEdit* edit, const QString& text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
    }
};

TEST_F(RecursionInStrip, FollowsWhileOneTypes) {
    put({});
    const int before = session().history().index();
    type(trim().b(), "0.5, 0.25");
    EXPECT_EQ(recursion().b, (Row{0.5, 0.25}));
    type(trim().a(), "1 -0.9");
    EXPECT_EQ(recursion().a, (Row{1, -0.9}));
    EXPECT_EQ(session().history().index(), before + 1) << "typing is one step";
}

TEST_F(RecursionInStrip, RubbishIsMarkedAndChangesNothing) {
    put({{0.5}, {1, -0.9}, {}});
    type(trim().a(), "1, x");
    EXPECT_TRUE(trim().problem().contains("is not")) << trim().problem().toStdString();
    EXPECT_EQ(recursion().a, (Row{1}));
    type(trim().a(), "0, 1");
    EXPECT_TRUE(trim().problem().contains("leading zeros")) << trim().problem().toStdString();
    EXPECT_NE(recursion().a[0], 0);
}

TEST_F(RecursionInStrip, TheSignOfWhatIsFedBackIsAChoiceOfWriting) {
    put({{1}, {1, -0.9}, {}});
    QTest::keyClick(trim().sign(), Qt::Key_Down);
    emit trim().sign()->activated(trim().sign()->currentIndex());
    EXPECT_EQ(trim().a()->text(), "1, 0.9");
    EXPECT_EQ(recursion().a, (Row{1, -0.9}));
    type(trim().a(), "1, 0.5");
    EXPECT_EQ(recursion().a, (Row{1, -0.5}));
    trim().sign()->setCurrentIndex(0);
    emit trim().sign()->activated(0);
}

TEST_F(RecursionInStrip, NumbersOfTheOtherSignAreReadAgain) {
    put({{1}, {1, 1.5, -0.9}, {}}); // as they came, and unstable
    QComboBox& sign = *trim().sign();
    ASSERT_EQ(sign.currentIndex(), 0);
    emit sign.activated(sign.count() - 1);
    EXPECT_EQ(recursion().a, (Row{1, -1.5, 0.9}));
    EXPECT_EQ(trim().a()->text(), "1, 1.5, -0.9") << "the numbers stay as they came";
    EXPECT_EQ(sign.currentIndex(), 1);
    emit sign.activated(0);
    EXPECT_EQ(trim().a()->text(), "1, -1.5, 0.9");
    EXPECT_EQ(recursion().a, (Row{1, -1.5, 0.9}));
}

TEST_F(RecursionInStrip, TakesAWholeEquation) {
    put({});
    trim().b()->setFocus();
    trim().b()->selectAll();
    trim().b()->insert("y[n] = 0.1 x[n] + 0.9 y[n-1]");
    emit trim().b()->textEdited(trim().b()->text());
    EXPECT_EQ(recursion().b, Row{0.1});
    EXPECT_EQ(recursion().a, (Row{1, -0.9}));
    EXPECT_EQ(trim().b()->text(), "0.1") << "shown as rows";
}

TEST_F(RecursionInStrip, AStartIsTurnedUntilItsCoefficientsAreEdited) {
    RecursionSpec spec;
    spec.start = RecursionStart{.form = RecursionForm::moving_average, .length = 4};
    put(spec);
    EXPECT_EQ(trim().b()->text(), "0.25, 0.25, 0.25, 0.25");
    Field* length = trim().field("start.length");
    ASSERT_TRUE(length->isVisible());
    EXPECT_FALSE(trim().field("start.leak")->isVisible());
    type(length->editor(), "2");
    QTest::keyClick(length->editor(), Qt::Key_Return);
    EXPECT_EQ(trim().b()->text(), "0.5, 0.5");
    EXPECT_EQ(recursion().start->length, 2);
    type(trim().b(), "0.5, 0.4");
    EXPECT_FALSE(recursion().start);
    EXPECT_EQ(recursion().b, (Row{0.5, 0.4}));
    EXPECT_FALSE(trim().field("start.length")->isVisible());
}

TEST_F(RecursionInStrip, EveryStartIsOfferedAndDesigned) {
    int starts = 0;
    for (const NewStage& offer : new_stages()) {
        if (offer.group == "Recursion" || offer.group == "Roots") {
            EXPECT_TRUE(design(offer.spec, brief_at(48000), Watch())) << offer.title.toStdString();
            ++starts;
        }
    }
    EXPECT_EQ(starts, 1 + 9 + 5);
}

} // namespace
} // namespace syntonon
