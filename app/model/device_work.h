// Deliveries that go to devices: connected, mapped, sent, read, kept in step while something is
// changed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/delivery_records.h"
#include "app/model/device_list.h"
#include "app/model/session.h"
#include "core/device/device_link.h"
#include "core/device/live_settings.h"
#include "core/device/object_choices.h"

#include <QDateTime>
#include <QObject>
#include <QTimer>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

enum class DeviceStanding { apart, connecting, there };

// What is known of a delivery's device now.
struct DeviceView {
    DeviceStanding standing = DeviceStanding::apart;
    std::optional<Problem> problem;              // why it is apart
    std::shared_ptr<const oca::DeviceTree> tree; // null while apart
    bool tells_changes = false;                  // else it is to be read again by hand
    Delivery delivery;                           // with objects for all stages that fit somewhere
    std::vector<oca::MappedChannel> channels;
    std::optional<Expected<oca::TransferPlan>> plan; // there as long as the tree is

    bool is_in_step() const { return plan && *plan && (*plan)->changes() == 0; }
};

struct SentToDevice {
    oca::TransferReport report;
    QDateTime when;
};

class DeviceWork : public QObject {
    Q_OBJECT

public:
    // `devices` must outlive it.
    DeviceWork(Session& session, DeviceList& devices, QObject* parent = nullptr);
    ~DeviceWork() override;

    DeviceList& devices() { return devices_; }
    // Works the views out anew, where something that counts has changed.
    void refresh();
    // Null for a delivery that goes to no device.
    const DeviceView* view(const std::string& delivery) const;
    // For the list of deliveries; nothing for one that goes to no device.
    std::optional<DeliveryState> state(const std::string& delivery) const;
    std::vector<oca::LevelReading> levels(const std::string& delivery) const;

    // Makes it the delivery's address where it is another one; empty: it goes to no device.
    void use_address(const std::string& delivery, const QString& address);
    void connect_device(const std::string& delivery);
    void disconnect_device(const std::string& delivery);
    void read_again(const std::string& delivery);

    // Each a step of the history.
    void choose_objects(const std::string& delivery, const std::string& channel,
                        const std::string& stage, const std::vector<std::string>& objects);
    void choose_block(const std::string& delivery, const std::string& channel,
                      const std::string& block);
    void propose_anew(const std::string& delivery);
    void use_muting(const std::string& delivery, bool mutes, int ramp_ms);
    std::vector<oca::ObjectChoice> choices(const std::string& delivery, const std::string& channel,
                                           const std::string& stage);

    // Beside the window; what was sent is in sent(). Nothing happens while one is on its way.
    void send(const std::string& delivery);
    // What was there before the last send.
    void send_back(const std::string& delivery);
    bool can_send_back(const std::string& delivery) const; // to the device that it was sent to
    void stop_sending() { watch_.stop(); }
    bool is_sending() const { return !sending_.empty(); }
    const std::string& sending() const { return sending_; } // which delivery; empty: none
    double done() const { return watch_.done(); }
    const SentToDevice* sent(const std::string& delivery) const;

    // What is changed in the study is set at once, on one device at a time. Begins by sending
    // everything.
    void set_live(const std::string& delivery, bool is_live);
    const std::string& live() const { return live_delivery_; } // which; empty: none
    QString live_name() const;
    // Why the device does not follow at the moment; empty: it does.
    QString live_problem() const;

    // Of every channel what its output is set to, as a take that is shown; one step of the history.
    Expected<void> read_into_takes(const std::string& delivery);

signals:
    void changed();                      // any view, what was sent
    void live_changed();                 // begun, ended, follows or not
    void live_ended(const QString& why); // not by hand

private:
    using Link = std::shared_ptr<oca::DeviceLink>;

    Link link_of(const std::string& delivery) const;
    bool is_connecting(const std::string& address) const;
    struct SentPlan {
        std::string address;
        oca::TransferPlan plan;
    };
    std::string address_of(const std::string& delivery) const;
    void disconnect_address(const std::string& address);
    DeviceView worked_out(const Delivery& delivery);
    void edit_device(const std::string& delivery, const QString& what, const DeviceTarget& target);
    void take_link(const std::string& address, Expected<Link> made);
    void look_at_links();
    void send_plan(const std::string& delivery, const oca::TransferPlan& plan, bool is_way_back);
    void take_report(const std::string& delivery, const oca::TransferPlan& plan, bool is_way_back,
                     const oca::TransferReport& report);
    void begin_live();
    void follow();
    void end_live();

    Session& session_;
    DeviceList& devices_;
    std::map<std::string, Link> links_;                         // by address
    std::map<std::string, std::unique_ptr<Beside>> connecting_; // by address
    std::map<std::string, Problem> problems_;                   // of addresses that are apart
    std::map<std::string, DeviceView> views_;                   // by delivery
    std::map<std::string, SentToDevice> sent_;                  // by delivery
    std::map<std::string, SentPlan> before_;                    // what was sent, by delivery
    std::string sending_;
    Watch watch_; // of what is being sent
    std::string live_delivery_;
    bool begins_live_ = false; // when it is sent
    Link live_link_;
    std::unique_ptr<oca::LiveSettings> live_settings_; // ends before its link
    std::optional<Problem> live_problem_;
    QTimer soon_, live_look_;
};

} // namespace syntonon
