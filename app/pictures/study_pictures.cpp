// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pictures/study_pictures.h"

#include "app/desks/deliver_desk.h"
#include "app/desks/listen_desk.h"
#include "app/desks/measure_desk.h"
#include "app/main_window.h"
#include "app/model/device_work.h"
#include "app/model/words_work.h"
#include "app/panes/listen/bench_view.h"
#include "app/panes/listen/span_spectrum.h"
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

namespace {

// The first one that has chosen what is sent through it, if one has.
void select_channel_with_bench(Session& session) {
    const auto& channels = session.study().channels;
    for (std::size_t i = 0; i < channels.size(); ++i) {
        if (!channels[i]->bench.signal.empty()) {
            session.select_channel(static_cast<int>(i));
            return;
        }
    }
}

// The last delivery that is for a processor, with what it makes of the channel.
void choose_words(MainWindow& window) {
    DeliverDesk& desk = window.deliver();
    std::string chosen;
    for (const Delivery& delivery : window.session().study().deliveries) {
        chosen = delivery.processor.empty() ? chosen : delivery.id;
    }
    if (!chosen.empty()) {
        desk.choose(chosen);
        desk.show_words_page();
        wait_until(
            [&] { return desk.words_work().result() != nullptr && !desk.words_work().is_busy(); });
    }
}

// The first delivery to a device of this machine, sent to a simulated one in its place.
bool show_device(MainWindow& window) {
    DeliverDesk& desk = window.deliver();
    const Study& study = window.session().study();
    for (const Delivery& delivery : study.deliveries) {
        const auto address = oca::address_from_text(delivery.device.address);
        const Processor* processor = processor_of(study, delivery.processor);
        if (!address || address->host != "127.0.0.1" || processor == nullptr
            || !desk.devices().start_simulated(*processor, study.sample_rate_hz, address->port)) {
            continue;
        }
        const std::string id = delivery.id; // sending writes objects into the study
        DeviceWork& device = desk.device_work();
        desk.choose(id);
        device.connect_device(id);
        wait_until([&] { return device.view(id)->standing == DeviceStanding::there; });
        device.send(id);
        wait_until([&] { return !device.is_sending() && device.view(id)->is_in_step(); });
        wait_until([&] {
            const auto levels = device.levels(id);
            return !levels.empty() && levels.front().db.value_or(-200) > -100;
        });
        desk.show_device_page();
        desk.show_transfer_page();
        desk.refresh_now();
        wait_until(
            [&] { return desk.words_work().result() != nullptr && !desk.words_work().is_busy(); });
        return true;
    }
    return false;
}

} // namespace

void take_desk_pictures(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    if (!session.study().curves.empty()) {
        session.curve_in_hand().take(session.study().curves.front()->id);
    }
    const Selection before = session.selection();
    const int steps_before = session.history().index();
    for (const Desk desk : {Desk::measure, Desk::listen, Desk::deliver}) {
        if (desk == Desk::listen) {
            select_channel_with_bench(session);
        }
        window.show_desk(desk);
        if (desk == Desk::measure) {
            wait_until([&] { return !window.measure().is_busy(); });
        }
        if (desk == Desk::listen) {
            window.listen().show_levels();
            wait_until([&] { return !window.listen().is_busy(); });
            window.listen().view()->spectrum()->hold_greatest();
        }
        if (desk == Desk::deliver) {
            if (!show_device(window)) {
                choose_words(window);
            }
            window.deliver().set_folder(QStringLiteral("exports"));
        }
        photographer.take(window, "desk-" + key_of(desk));
        session.select(before);
    }
    session.history().setIndex(steps_before); // without the objects that were sent to
    window.show_desk(Desk::shape);
}

} // namespace syntonon
