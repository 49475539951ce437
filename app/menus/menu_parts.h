// What the menus are built with.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/main_window.h"
#include "app/widgets/message_bar.h"
#include "app/widgets/words.h"

#include <QKeySequence>
#include <QMenu>
#include <functional>

namespace syntonon {

template <class Action>
QAction* add(QMenu& menu, const QString& text, const QKeySequence& keys, QObject* context,
             Action action) {
    QAction* made = menu.addAction(text);
    made->setShortcut(keys);
    QObject::connect(made, &QAction::triggered, context, action);
    return made;
}

// A submenu that is filled anew each time it opens.
inline void add_filled(QMenu& menu, const QString& title, const std::function<void(QMenu&)>& fill) {
    QMenu* sub = menu.addMenu(title);
    QObject::connect(sub, &QMenu::aboutToShow, sub, [sub, fill] { fill(*sub); });
}

inline void say(MainWindow& window, const Expected<void>& done) {
    if (!done) {
        window.message()->show_message(MessageKind::problem,
                                       QString::fromStdString(to_text(done.error())));
    }
}

} // namespace syntonon
