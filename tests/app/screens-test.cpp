// The window on screens of other sizes and finenesses; run by CTest on each of them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/desk.h"
#include "app/top_bar.h"
#include "tests/app/window_fixture.h"

#include <QAbstractButton>
#include <QGuiApplication>
#include <QLabel>
#include <QScreen>

namespace syntonon {
namespace {

QRect on_screen(const QWidget& widget) {
    return {widget.mapToGlobal(QPoint(0, 0)), widget.size()};
}

// Opened as a user opens it: without a size being asked for.
class SmallScreen : public testing::Test {
protected:
    void SetUp() override {
        if (QGuiApplication::platformName() == "offscreen") {
            GTEST_SKIP() << "offscreen has no screen to fit";
        }
        window.session().replace_study(brightwater_study());
        window.show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(&window));
        QTest::qWait(50);
    }
    void TearDown() override { window.session().mark_saved(); }

    MainWindow window;
};

TEST_F(SmallScreen, HoldsTheWholeWindow) {
    const QRect room = window.screen()->availableGeometry();
    EXPECT_TRUE(room.contains(window.frameGeometry()));
    EXPECT_GE(window.frameGeometry().width(), std::min(1280, room.width()) - 1);
    for (const Desk desk : all_desks) {
        window.show_desk(desk);
        QTest::qWait(20);
        EXPECT_TRUE(room.contains(on_screen(*window.verdict()))) << static_cast<int>(desk);
        EXPECT_TRUE(room.contains(on_screen(*window.top_bar()))) << static_cast<int>(desk);
    }
}

TEST_F(SmallScreen, CutsNoWordInTheTopBar) {
    for (const auto* button : window.findChildren<QAbstractButton*>()) {
        if (button->isVisible() && !button->text().isEmpty()) {
            EXPECT_GE(button->width(), button->minimumSizeHint().width())
                << button->text().toStdString();
        }
    }
}

class FineScreen : public test::Window {
protected:
    void SetUp() override {
        if (qGuiApp->devicePixelRatio() < 1.4) {
            GTEST_SKIP() << "one pixel a point";
        }
        Window::SetUp();
    }
};

// How many pixels of the colour stand below one another, at most, in the columns of the picture.
int greatest_height(const QImage& picture, const QColor& colour) {
    int greatest = 0;
    for (int x = 0; x < picture.width(); ++x) {
        int run = 0;
        for (int y = 0; y < picture.height(); ++y) {
            run = picture.pixelColor(x, y) == colour ? run + 1 : 0;
            greatest = std::max(greatest, run);
        }
    }
    return greatest;
}

TEST_F(FineScreen, CurvesAreAsWideAsEverythingElse) {
    session().select_stage({});
    QTest::qWait(20);
    const QRect phase = lanes().rect_of(Lane::phase); // with a level end, where a line is a line
    const QImage picture = lanes().grab(phase).toImage();
    const int half = picture.width() / 4 * 3;
    const QImage level = picture.copy(half, 0, picture.width() / 10, picture.height());
    EXPECT_GE(greatest_height(level, theme().ink), 2);
}

TEST_F(FineScreen, NothingIsClipped) {
    for (const Desk desk : all_desks) {
        window->show_desk(desk);
        QTest::qWait(20);
        for (const auto* widget : window->findChildren<QWidget*>()) {
            const bool has_words = qobject_cast<const QAbstractButton*>(widget) != nullptr;
            if (has_words && widget->isVisible()) {
                EXPECT_GE(widget->height(), widget->minimumSizeHint().height() - 1)
                    << widget->accessibleName().toStdString();
            }
        }
        EXPECT_TRUE(window->rect().contains(window->verdict()->geometry()));
    }
}

} // namespace
} // namespace syntonon
