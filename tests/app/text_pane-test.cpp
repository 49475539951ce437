// The transfer function, edited as text.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/text_pane.h"

#include <QClipboard>
#include <QPlainTextEdit>
#include <cmath>

namespace syntonon {
namespace {

class TextInPane : public test::Window {
protected:
    TextPane& pane() {
        window->lower()->show_page(ShapeDesk::text);
        return *window->findChild<TextPane*>();
    }
    void put(StageSpec spec) {
        add_stage(session(), std::move(spec));
        QApplication::processEvents();
    }
    void choose(QComboBox* box, int index) {
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
    void type(const QString& text) {
        pane().text()->setFocus();
        pane().text()->selectAll();
        pane().text()->insertPlainText(text);
    }
    const RecursionSpec& recursion() { return std::get<RecursionSpec>(*session().stage()->spec); }
};

TEST_F(TextInPane, CurvesFollowWhileOneTypes) {
    put(RecursionSpec{{1}, {1, -0.5}, {}});
    EXPECT_EQ(pane().text()->toPlainText(), "H(z) = (1) / (1 − 0.5 z⁻¹)");
    const int before = session().history().index();
    type("H(z) = (1) / (1 - 0.75 z^-1)");
    EXPECT_EQ(recursion().a, (std::vector<double>{1, -0.75}));
    EXPECT_EQ(pane().text()->toPlainText(), "H(z) = (1) / (1 - 0.75 z^-1)") << "as it was typed";
    EXPECT_EQ(session().history().index(), before + 1);
    choose(pane().form(), static_cast<int>(TransferForm::equation));
    EXPECT_EQ(pane().text()->toPlainText(), "y[n] = x[n] + 0.75 y[n−1]");
    session().history().undo();
    EXPECT_EQ(recursion().a, (std::vector<double>{1, -0.5}));
}

TEST_F(TextInPane, WhatCannotBeReadIsMarkedAndChangesNothing) {
    put(RecursionSpec{{1}, {1, -0.5}, {}});
    pane();
    type("y[n] = x[n] + q y[n-1]");
    const auto marks = pane().text()->extraSelections();
    ASSERT_EQ(marks.size(), 1);
    EXPECT_EQ(marks[0].cursor.selectedText(), "y");
    EXPECT_FALSE(pane().problem().isEmpty());
    EXPECT_EQ(recursion().a, (std::vector<double>{1, -0.5}));
    type("y[n] = x[n]");
    EXPECT_TRUE(pane().text()->extraSelections().isEmpty());
    EXPECT_EQ(recursion().a, (std::vector<double>{1}));
}

TEST_F(TextInPane, RootsStayRoots) {
    put(RootsSpec{{}, {{0.5, 0}}, 2});
    choose(pane().form(), static_cast<int>(TransferForm::roots));
    type("3 (1 + z^-1) / ((1 - 0.5 z^-1)(1 - (0.3 + 0.4j) z^-1)(1 - (0.3 - 0.4j) z^-1))");
    const auto& roots = std::get<RootsSpec>(*session().stage()->spec);
    EXPECT_EQ(roots.gain, 3);
    EXPECT_EQ(roots.poles.size(), 3u);
    type("z^-1");
    EXPECT_TRUE(pane().problem().contains("delay")) << pane().problem().toStdString();
    type("1 / (s + 2)");
    EXPECT_TRUE(pane().problem().contains("s is of analog")) << pane().problem().toStdString();
}

TEST_F(TextInPane, OtherStagesAreToBeReadOnly) {
    session().select_stage(id(0));
    EXPECT_TRUE(pane().text()->isReadOnly());
    EXPECT_TRUE(pane().problem().contains("open the stage"));
    EXPECT_FALSE(pane().text()->toPlainText().isEmpty());
    choose(pane().of(), 1);
    choose(pane().form(), static_cast<int>(TransferForm::sections));
    EXPECT_GT(pane().text()->blockCount(), 3) << "the chain, a section a line";
}

TEST_F(TextInPane, WhatIsTypedWhereNoStageIsBecomesOne) {
    use_empty_channel();
    QPlainTextEdit& text = *pane().text();
    EXPECT_TRUE(text.toPlainText().isEmpty());
    EXPECT_FALSE(text.isReadOnly());
    text.setFocus();
    QTest::keyClicks(&text, "y[n] = x[n] + 0.8 x[n-3]");
    ASSERT_EQ(stages(), 1u);
    EXPECT_EQ(recursion().b, (std::vector<double>{1, 0, 0, 0.8}));
    EXPECT_FALSE(std::signbit(recursion().b[1])) << "no -0";
    EXPECT_EQ(text.toPlainText(), "y[n] = x[n] + 0.8 x[n-3]") << "as it was typed";
    choose(pane().of(), 2);
    EXPECT_TRUE(text.toPlainText().isEmpty()) << "a new one";
    type("2 (1 + z^-1)(1 - z^-1) / ((1 - 0.5 z^-1)(1 + 0.25 z^-1))");
    EXPECT_EQ(stages(), 2u);
    EXPECT_EQ(pane().of()->currentIndex(), 0) << "which is the selected one now";
}

TEST_F(TextInPane, IsCopiedInEveryDialect) {
    put(RecursionSpec{{1}, {1, -0.5}, {}});
    pane().copy_as(TransferDialect::tex);
    EXPECT_EQ(QGuiApplication::clipboard()->text(), "H(z) = \\frac{1}{1 - 0.5\\,z^{-1}}");
    pane().copy_as(TransferDialect::c);
    EXPECT_EQ(QGuiApplication::clipboard()->text(), "(1) / (1 - 0.5 * zi)");
    pane().copy_as(TransferDialect::c_lines);
    EXPECT_EQ(QGuiApplication::clipboard()->text(),
              "static double y1;\ny = x + 0.5 * y1;\ny1 = y;");
}

} // namespace
} // namespace syntonon
