// Pages of which one is shown, in room that is given to them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStackedWidget>

namespace syntonon {

// No page has a say in the room, shown or not. Asked how high they would like to be, all of them
// break the lines of all their words anew, whenever one text changes anywhere in the window.
class PageStack : public QStackedWidget {
public:
    explicit PageStack(QWidget* parent = nullptr) : QStackedWidget(parent) {
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
    }
    bool hasHeightForWidth() const override { return false; }
};

} // namespace syntonon
