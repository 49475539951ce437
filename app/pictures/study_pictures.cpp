// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pictures/study_pictures.h"

#include "app/desks/deliver_desk.h"
#include "app/main_window.h"
#include "app/pictures/photographer.h"

namespace syntonon {

void take_channel_pictures(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    for (int i = 0; i < static_cast<int>(session.study().channels.size()); ++i) {
        session.select_channel(i);
        const Chain& stages = session.channel()->stages;
        session.select_stage(stages.empty() ? std::string() : stages.front()->id);
        photographer.take(window, "channel-" + QString::fromStdString(session.channel()->id));
    }
}

void take_desk_pictures(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    if (!session.study().curves.empty()) {
        session.curve_in_hand().take(session.study().curves.front()->id);
    }
    for (const Desk desk : {Desk::measure, Desk::listen, Desk::deliver}) {
        window.show_desk(desk);
        if (desk == Desk::deliver) {
            window.deliver().set_folder(QStringLiteral("exports"));
        }
        photographer.take(window, "desk-" + key_of(desk));
    }
    window.show_desk(Desk::shape);
}

} // namespace syntonon
