// Everything that takes a hand can be had with the keyboard, and says what it is.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/every_view.h"
#include "tests/app/window_fixture.h"

#include "app/dialogs/history_dialog.h"
#include "app/dialogs/import_dialog.h"
#include "app/dialogs/recovery_dialog.h"
#include "app/dialogs/stage_out_dialog.h"
#include "app/panes/stage_card.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QComboBox>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <QScrollBar>
#include <algorithm>
#include <set>

namespace syntonon {
namespace {

// A part of another control, which is reached and named with it.
bool is_part(const QWidget& widget) {
    for (const QWidget* at = widget.parentWidget(); at != nullptr; at = at->parentWidget()) {
        if (qobject_cast<const QComboBox*>(at) != nullptr
            || qobject_cast<const QAbstractSpinBox*>(at) != nullptr
            || qobject_cast<const QAbstractItemView*>(at) != nullptr
            || qobject_cast<const QMenuBar*>(at) != nullptr) {
            return true;
        }
    }
    // A card's switch is turned by Space on the card (RailAndTrim tests it).
    return qobject_cast<const QScrollBar*>(&widget) != nullptr
           || qobject_cast<const StageSwitch*>(&widget) != nullptr;
}

bool takes_a_hand(const QWidget& widget) {
    return qobject_cast<const QAbstractButton*>(&widget) != nullptr
           || qobject_cast<const QComboBox*>(&widget) != nullptr
           || qobject_cast<const QLineEdit*>(&widget) != nullptr
           || qobject_cast<const QPlainTextEdit*>(&widget) != nullptr
           || qobject_cast<const QAbstractSpinBox*>(&widget) != nullptr
           || qobject_cast<const QAbstractItemView*>(&widget) != nullptr
           || (widget.focusPolicy() & Qt::TabFocus) != 0;
}

std::string described(const QWidget& widget) {
    const auto* button = qobject_cast<const QAbstractButton*>(&widget);
    return std::string(widget.metaObject()->className()) + " “"
           + (button != nullptr ? button->text() : widget.accessibleName()).toStdString() + "” in "
           + (widget.parentWidget() != nullptr ? widget.parentWidget()->metaObject()->className()
                                               : "nothing");
}

class Reach : public test::Window {
protected:
    // Those that the Tab key comes to, once round.
    static std::set<const QWidget*> tab_stops(QWidget& root) {
        std::set<const QWidget*> stops;
        root.activateWindow();
        root.setFocus();
        constexpr int most = 400;
        for (int i = 0; i < most; ++i) {
            const QWidget* before = QApplication::focusWidget();
            QTest::keyClick(before != nullptr ? QApplication::focusWidget() : &root, Qt::Key_Tab);
            const QWidget* now = QApplication::focusWidget();
            if (now == nullptr || now == before || !stops.insert(now).second) {
                break;
            }
        }
        return stops;
    }
    test::VisitView visit() {
        return [this](const std::string& where) { expect_all_in_reach(*window, where); };
    }
    void expect_all_in_reach(QWidget& root, const std::string& where) {
        QApplication::processEvents();
        const auto stops = tab_stops(root);
        for (const QWidget* widget : root.findChildren<QWidget*>()) {
            if (!widget->isVisible() || !widget->isEnabled() || !takes_a_hand(*widget)
                || is_part(*widget)) {
                continue;
            }
            const auto* accessible =
                QAccessible::queryAccessibleInterface(const_cast<QWidget*>(widget));
            const bool is_named =
                accessible != nullptr && !accessible->text(QAccessible::Name).isEmpty();
            if (!is_named && told_.insert(widget->metaObject()->className() + where).second) {
                ADD_FAILURE() << "without a name: " << described(*widget) << ", " << where;
            }
            const auto* button = qobject_cast<const QAbstractButton*>(widget);
            const bool is_of_a_group = button != nullptr && button->autoExclusive();
            if (!stops.contains(widget) && !is_of_a_group
                && told_.insert(described(*widget)).second) {
                ADD_FAILURE() << "out of reach: " << described(*widget) << ", " << where;
            }
        }
    }

private:
    std::set<std::string> told_; // once is enough
};

TEST_F(Reach, EveryDeskByKeyboard) {
    test::each_desk(*window, visit());
}

TEST_F(Reach, EveryPageOfTheShapeDesk) {
    test::each_page_of_shape(*window, visit());
}

TEST_F(Reach, TheFieldsOfEveryKindOfStage) {
    use_empty_channel();
    test::each_kind_of_stage(*window, visit());
}

TEST_F(Reach, TheTabsOfTheGoal) {
    test::each_tab_of_the_goal(*window, visit());
}

TEST_F(Reach, EveryDialog) {
    scratch.write("curve.txt", "20 1\n200 2\n2000 3\n");
    ImportDialog import(session(), QString::fromStdString(scratch.file("curve.txt").string()),
                        UseAs::measured, window.get());
    HistoryDialog history(session(), window.get());
    RecoveryDialog recovery(window->files(), window.get());
    session().select_stage(id(0));
    StageOutDialog out(session(), window.get());
    for (QDialog* dialog : std::initializer_list<QDialog*>{&import, &history, &recovery, &out}) {
        dialog->show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(dialog));
        expect_all_in_reach(*dialog, dialog->metaObject()->className());
        dialog->hide();
    }
}

} // namespace
} // namespace syntonon
