// The manual in a window of its own: contents at the left, a page at the right, what was looked
// for. SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/help/manual_pages.h"

#include <QWidget>

class QLineEdit;
class QTextBrowser;
class QToolButton;
class QTreeWidget;

namespace syntonon {

class ManualWindow : public QWidget {
    Q_OBJECT

public:
    explicit ManualWindow(QWidget* parent = nullptr);

    // The page, with the section at the top; a page that there is not is said.
    void show_spot(const ManualSpot& spot);
    const ManualSpot& spot() const { return spot_; }
    // Only what has all of the words stays in the contents.
    void look_for(const QString& words);

    QTreeWidget* contents() const { return contents_; }
    QTextBrowser* page() const { return page_; }
    QLineEdit* search() const { return search_; }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void fill_contents();
    void go(const ManualSpot& spot); // and remembers it
    void turn(int by);
    void show_page();
    void show_page_anew();
    void scroll_to_section();
    void mark_in_contents();

    QTreeWidget* contents_;
    QTextBrowser* page_;
    QLineEdit* search_;
    QToolButton *back_, *forward_;
    ManualSpot spot_;
    QList<ManualSpot> seen_;
    int at_ = -1;
};

// The one window of the program, at that spot.
void show_manual(const ManualSpot& spot);

// F1 anywhere, in dialogs too, opens the manual at the spot of what has the focus or, where that is
// nothing special, of what is under the pointer.
class ManualKey : public QObject {
    Q_OBJECT

public:
    explicit ManualKey(QObject* parent) : QObject(parent) {}

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
};

} // namespace syntonon
