// The real window with the demo study, and hands to use it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/main_window.h"
#include "app/panes/companion.h"
#include "app/panes/goal_pane.h"
#include "app/panes/rail.h"
#include "app/panes/stage_card.h"
#include "app/panes/trim/parametric_trim.h"
#include "app/panes/trim_strip.h"
#include "app/panes/verdict_bar.h"
#include "app/plot/lane_stack.h"
#include "app/widgets/field.h"
#include "app/widgets/message_bar.h"
#include "app/widgets/tab_strip.h"
#include "app/widgets/theme.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"
#include "tests/support/scratch.h"

#include <QApplication>
#include <QComboBox>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTest>
#include <gtest/gtest.h>
#include <memory>

namespace syntonon::test {

class Window : public testing::Test {
protected:
    void SetUp() override {
        window = std::make_unique<MainWindow>(make_store());
        window->resize(1280, 800);
        window->session().replace_study(brightwater_study());
        window->show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(window.get()));
        window->activateWindow();
        QTest::qWait(20);
    }
    void TearDown() override {
        if (window == nullptr) {
            return; // skipped before there was one
        }
        session().mark_saved(); // or closing would ask
        window->files().close();
        window.reset();
    }

    // Tests with kinds of their own bring one.
    virtual std::shared_ptr<DesignStore> make_store() { return std::make_shared<DesignStore>(); }

    Session& session() { return window->session(); }
    LaneStack& lanes() { return *window->lanes(); }
    const ParametricSpec& spec(int stage) {
        return std::get<ParametricSpec>(
            *session().channel()->stages.at(static_cast<std::size_t>(stage))->spec);
    }
    const std::string& id(int stage) {
        return session().channel()->stages.at(static_cast<std::size_t>(stage))->id;
    }
    std::size_t stages() { return session().channel()->stages.size(); }
    ParametricTrim& trim() { return dynamic_cast<ParametricTrim&>(*window->trim()->panel()); }
    QString undo_name() { return session().history().undoText(); }

    // A drag with moves in between, as a hand makes it; the button stays down without `release`.
    static void drag(QWidget& widget, const QPointF& from, const QPointF& to,
                     Qt::KeyboardModifiers keys = {}, bool release = true) {
        QTest::mousePress(&widget, Qt::LeftButton, keys, from.toPoint());
        constexpr int steps = 8;
        for (int i = 1; i <= steps; ++i) {
            const QPointF at = from + (to - from) * i / steps;
            QMouseEvent move(QEvent::MouseMove, at, widget.mapToGlobal(at), Qt::NoButton,
                             Qt::LeftButton, keys);
            QApplication::sendEvent(&widget, &move);
            QApplication::processEvents();
        }
        if (release) {
            QTest::mouseRelease(&widget, Qt::LeftButton, keys, to.toPoint());
        }
    }
    // Nothing but the channel's stages, of which there are none.
    void use_empty_channel() {
        session().edit_channel("Empty", [](Channel& c) {
            c.stages.clear();
            c.measured.clear();
            c.goal.clear();
        });
    }
    // What a button's menu offers by that name.
    static void choose(const QPushButton& button, const QString& title) {
        for (QAction* action : button.menu()->actions()) {
            if (action->text() == title) {
                action->trigger();
                QApplication::processEvents();
                return;
            }
        }
        FAIL() << title.toStdString();
    }
    // Replaces what stands in a field and presses Enter.
    static void type(Field* field, const QString& text) {
        field->editor()->setFocus();
        field->editor()->selectAll();
        QTest::keyClicks(field->editor(), text);
        QTest::keyClick(field->editor(), Qt::Key_Return);
    }
    // As a user chooses from a box.
    static void choose_item(QComboBox* box, int index) {
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
    static void hover(QWidget& widget, const QPointF& at) {
        QMouseEvent move(QEvent::MouseMove, at, widget.mapToGlobal(at), Qt::NoButton, Qt::NoButton,
                         Qt::NoModifier);
        QApplication::sendEvent(&widget, &move);
    }
    // A shortcut, as the window system would deliver it.
    void shortcut(Qt::Key key, Qt::KeyboardModifiers keys) {
        QTest::keyClick(QApplication::focusWidget() != nullptr ? QApplication::focusWidget()
                                                               : window.get(),
                        key, keys);
    }

    Scratch scratch;
    std::unique_ptr<MainWindow> window;
};

} // namespace syntonon::test
