// The top of the window: menus, channels, desks, sample rate.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk.h"
#include "app/model/session.h"

#include <QWidget>

class QLabel;
class QMenuBar;
class QToolButton;

namespace syntonon {

class TabStrip;

class TopBar : public QWidget {
    Q_OBJECT

public:
    explicit TopBar(Session& session, QWidget* parent = nullptr);

    QMenuBar* menus() const { return menus_; }
    TabStrip* channels() const { return channels_; }
    TabStrip* desks() const { return desks_; }
    QToolButton* list_button() const { return list_; } // shown when more channels than fit
    void show_desk(Desk desk);
    // Beside the desks where there is room: the desktop's title bar says it, too.
    void show_study_name(const QString& name, const QString& path);
    void open_channel_list();
    // A mark that what is changed is set at once on a device; an empty name: none. `problem`: why
    // it is not, at the moment.
    void show_live(const QString& name, const QString& problem);
    QToolButton* live_mark() const { return live_; } // a click on it ends it

signals:
    void live_end_asked_for();
    void desk_chosen(syntonon::Desk desk);
    void rename_asked_for();
    void channel_menu_asked_for(const QPoint& global);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void show_list_button();
    void fill_sample_rates();

    Session& session_;
    QMenuBar* menus_;
    TabStrip *channels_, *desks_;
    QToolButton *list_, *sample_rate_, *live_;
    QLabel* study_name_;
};

} // namespace syntonon
