// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/device_work.h"

#include "app/model/delivery_commands.h"
#include "app/widgets/words.h"
#include "core/device/device_map.h"

#include <QPointer>
#include <QThreadPool>
#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

constexpr int soon_ms = 30, live_look_ms = 200;

using HeldLinks = std::vector<std::shared_ptr<oca::DeviceLink>>;

// What waits for a device ends beside the window: first what is still to be set, then connections.
void let_go(HeldLinks links, std::shared_ptr<oca::LiveSettings> live = nullptr) {
    QThreadPool::globalInstance()->start(
        [links = std::move(links), live = std::move(live)]() mutable {
            live.reset();
            links.clear();
        });
}

// In the window's thread, unless the receiver is gone by then.
template <class Tell>
std::function<void()> told_in_window(QObject* receiver, Tell tell) {
    return [receiver = QPointer<QObject>(receiver), tell] {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [receiver, tell] {
                if (receiver != nullptr) {
                    tell();
                }
            },
            Qt::QueuedConnection);
    };
}

bool is_device(const Delivery& delivery) {
    return !delivery.device.address.empty();
}

QString name_of(const oca::DeviceTree& tree) {
    return tree.name.empty() ? QObject::tr("the device") : text_of(tree.name);
}

// The first that does not fit, by its title.
QString what_does_not_fit(const std::vector<oca::MappedChannel>& channels) {
    for (const oca::MappedChannel& channel : channels) {
        if (channel.problem) {
            return text_of(channel.name) + QStringLiteral(": ") + text_of(channel.problem->reason);
        }
        for (const oca::MappedStage& stage : channel.stages) {
            if (stage.problem) {
                return QObject::tr("%1 fits nowhere").arg(text_of(stage.title));
            }
        }
    }
    return {};
}

} // namespace

DeviceWork::DeviceWork(Session& session, DeviceList& devices, QObject* parent)
    : QObject(parent), session_(session), devices_(devices) {
    soon_.setSingleShot(true);
    soon_.setInterval(soon_ms);
    connect(&soon_, &QTimer::timeout, this, &DeviceWork::look_at_links);
    live_look_.setInterval(live_look_ms);
    connect(&live_look_, &QTimer::timeout, this, &DeviceWork::live_changed);
    connect(&session_, &Session::study_changed, this, &DeviceWork::follow);
    connect(&session_, &Session::jobs_changed, this, &DeviceWork::follow);
}

DeviceWork::~DeviceWork() {
    watch_.stop();
    HeldLinks links{std::move(live_link_)};
    for (auto& [address, link] : links_) {
        links.push_back(std::move(link));
    }
    let_go(std::move(links), std::move(live_settings_));
}

// --- what is known ---

std::string DeviceWork::address_of(const std::string& delivery) const {
    const Delivery* found = delivery_of(session_.study(), delivery);
    return found != nullptr ? found->device.address : std::string();
}

DeviceWork::Link DeviceWork::link_of(const std::string& delivery) const {
    const auto found = links_.find(address_of(delivery));
    return found != links_.end() ? found->second : nullptr;
}

const DeviceView* DeviceWork::view(const std::string& delivery) const {
    const auto found = views_.find(delivery);
    return found != views_.end() ? &found->second : nullptr;
}

bool DeviceWork::can_send_back(const std::string& delivery) const {
    const auto before = before_.find(delivery);
    return before != before_.end() && before->second.address == address_of(delivery);
}

const SentToDevice* DeviceWork::sent(const std::string& delivery) const {
    const auto found = sent_.find(delivery);
    return found != sent_.end() ? &found->second : nullptr;
}

std::vector<oca::LevelReading> DeviceWork::levels(const std::string& delivery) const {
    const Link link = link_of(delivery);
    return link != nullptr ? link->levels() : std::vector<oca::LevelReading>();
}

DeviceView DeviceWork::worked_out(const Delivery& delivery) {
    DeviceView made;
    made.delivery = delivery;
    const std::string& address = delivery.device.address;
    if (is_connecting(address)) {
        made.standing = DeviceStanding::connecting;
        return made;
    }
    const auto link = links_.find(address);
    if (link == links_.end()) {
        const auto problem = problems_.find(address);
        made.problem = problem != problems_.end() ? std::optional(problem->second) : std::nullopt;
        return made;
    }
    made.standing = DeviceStanding::there;
    made.tells_changes = link->second->is_told_of_changes();
    made.tree = link->second->tree();
    Briefs& briefs = session_.briefs();
    made.delivery.device = oca::proposed_target(session_.study(), delivery, *made.tree, briefs);
    made.channels = oca::map_to_device(session_.study(), made.delivery, *made.tree, briefs);
    made.plan = oca::plan_transfer(session_.study(), made.delivery, *made.tree, made.channels);
    return made;
}

void DeviceWork::refresh() {
    views_.clear();
    for (const Delivery& delivery : session_.study().deliveries) {
        if (is_device(delivery)) {
            views_.emplace(delivery.id, worked_out(delivery));
        }
    }
    if (!live_delivery_.empty() && view(live_delivery_) == nullptr) {
        end_live(); // the delivery is gone, or another study is open
    }
    emit changed();
}

std::optional<DeliveryState> DeviceWork::state(const std::string& delivery) const {
    const DeviceView* seen = view(delivery);
    if (seen == nullptr) {
        return std::nullopt;
    }
    if (sending_ == delivery) {
        return DeliveryState{DeliveryStanding::never, tr("being sent")};
    }
    const QString address = text_of(seen->delivery.device.address);
    if (seen->standing != DeviceStanding::there) {
        return DeliveryState{DeliveryStanding::never, seen->standing == DeviceStanding::connecting
                                                          ? tr("connecting to %1").arg(address)
                                                          : tr("not connected: %1").arg(address)};
    }
    const QString name = name_of(*seen->tree);
    if (!*seen->plan) {
        return DeliveryState{DeliveryStanding::impossible, what_does_not_fit(seen->channels)};
    }
    const std::size_t changes = (*seen->plan)->changes();
    return changes == 0
               ? DeliveryState{DeliveryStanding::as_study, tr("%1, in step").arg(name)}
               : DeliveryState{DeliveryStanding::older,
                               tr("%1: %2").arg(name, counted(static_cast<qint64>(changes),
                                                              "object differs", "objects differ"))};
}

// --- connecting ---

void DeviceWork::use_address(const std::string& delivery, const QString& address) {
    const Delivery* found = delivery_of(session_.study(), delivery);
    const std::string wanted = address.trimmed().toStdString();
    if (found == nullptr || found->device.address == wanted) {
        return;
    }
    DeviceTarget target = found->device;
    const std::string before = std::exchange(target.address, wanted);
    edit_device(delivery, tr("device"), target);
    const auto& all = session_.study().deliveries;
    if (std::ranges::none_of(all, [&](const Delivery& d) { return d.device.address == before; })) {
        disconnect_address(before);
    }
}

void DeviceWork::connect_device(const std::string& delivery) {
    const std::string text = address_of(delivery);
    if (text.empty() || links_.contains(text) || is_connecting(text)) {
        return;
    }
    problems_.erase(text);
    const auto address = oca::address_from_text(text);
    if (!address) {
        problems_[text] = address.error();
        refresh();
        return;
    }
    auto& work = connecting_[text];
    if (work == nullptr) {
        work = std::make_unique<Beside>(this);
    }
    auto told = told_in_window(this, [this] {
        if (!soon_.isActive()) {
            soon_.start();
        }
    });
    work->begin(
        [address = *address, told](const Watch& watch) {
            return oca::DeviceLink::open(address, told, watch).map([](auto made) {
                return Link(std::move(made));
            });
        },
        [this, text](Expected<Link> made) { take_link(text, std::move(made)); });
    refresh();
}

void DeviceWork::take_link(const std::string& address, Expected<Link> made) {
    if (made) {
        devices_.remember(text_of(address), name_of(*(*made)->tree()));
        links_[address] = std::move(*made);
    } else {
        problems_[address] = made.error();
    }
    refresh();
}

bool DeviceWork::is_connecting(const std::string& address) const {
    const auto found = connecting_.find(address);
    return found != connecting_.end() && found->second->is_busy();
}

void DeviceWork::disconnect_device(const std::string& delivery) {
    disconnect_address(address_of(delivery));
}

void DeviceWork::disconnect_address(const std::string& address) {
    const auto link = links_.find(address);
    if (live_link_ != nullptr && link != links_.end() && live_link_ == link->second) {
        end_live();
    }
    if (const auto found = connecting_.find(address); found != connecting_.end()) {
        found->second->stop();
    }
    if (link != links_.end()) {
        let_go({std::move(link->second)});
        links_.erase(link);
    }
    refresh();
}

void DeviceWork::read_again(const std::string& delivery) {
    if (const Link link = link_of(delivery)) {
        link->read_again();
    }
}

// After one of them has told something.
void DeviceWork::look_at_links() {
    for (auto one = links_.begin(); one != links_.end();) {
        if (auto why = one->second->lost()) {
            problems_[one->first] = *why;
            if (live_link_ == one->second) {
                end_live();
                emit live_ended(tr("Live has ended: %1").arg(text_of(to_text(*why))));
            }
            let_go({std::move(one->second)});
            one = links_.erase(one);
        } else {
            ++one;
        }
    }
    refresh();
}

// --- what goes where ---

void DeviceWork::edit_device(const std::string& delivery, const QString& what,
                             const DeviceTarget& target) {
    const Delivery* found = delivery_of(session_.study(), delivery);
    if (found != nullptr && !(found->device == target)) {
        edit_delivery(session_, delivery, what,
                      [&](Delivery& changed) { changed.device = target; });
        refresh();
    }
}

void DeviceWork::choose_objects(const std::string& delivery, const std::string& channel,
                                const std::string& stage, const std::vector<std::string>& objects) {
    if (const DeviceView* seen = view(delivery); seen != nullptr && seen->tree != nullptr) {
        edit_device(delivery, tr("objects"),
                    oca::with_choice(seen->delivery.device, channel, stage, objects));
    }
}

void DeviceWork::choose_block(const std::string& delivery, const std::string& channel,
                              const std::string& block) {
    if (const DeviceView* seen = view(delivery); seen != nullptr && seen->tree != nullptr) {
        edit_device(delivery, tr("output"), oca::with_block(seen->delivery.device, channel, block));
    }
}

void DeviceWork::propose_anew(const std::string& delivery) {
    const DeviceView* seen = view(delivery);
    if (seen == nullptr || seen->tree == nullptr) {
        return;
    }
    Delivery bare = seen->delivery;
    for (DeviceChannel& channel : bare.device.channels) {
        channel.stages.clear();
    }
    edit_device(delivery, tr("objects proposed anew"),
                oca::proposed_target(session_.study(), bare, *seen->tree, session_.briefs()));
}

void DeviceWork::use_muting(const std::string& delivery, bool mutes, int ramp_ms) {
    if (const Delivery* found = delivery_of(session_.study(), delivery)) {
        DeviceTarget target = found->device;
        target.mutes = mutes;
        target.ramp_ms = ramp_ms;
        edit_device(delivery, tr("how it is set"), target);
    }
}

std::vector<oca::ObjectChoice> DeviceWork::choices(const std::string& delivery,
                                                   const std::string& channel,
                                                   const std::string& stage) {
    const DeviceView* seen = view(delivery);
    return seen != nullptr && seen->tree != nullptr ? oca::choices_for(
               session_.study(), seen->delivery, *seen->tree, channel, stage, session_.briefs())
                                                    : std::vector<oca::ObjectChoice>();
}

// --- sending ---

void DeviceWork::send(const std::string& delivery) {
    refresh();
    const DeviceView* seen = view(delivery);
    if (is_sending() || seen == nullptr || !seen->plan || !*seen->plan) {
        return;
    }
    const oca::TransferPlan plan = **seen->plan;
    const DeviceTarget target = seen->delivery.device;
    edit_device(delivery, tr("objects"), target); // what was sent is what the study says
    send_plan(delivery, plan, false);
}

void DeviceWork::send_back(const std::string& delivery) {
    const DeviceView* seen = view(delivery);
    const auto before = before_.find(delivery);
    if (!is_sending() && seen != nullptr && seen->tree != nullptr && can_send_back(delivery)) {
        if (live_delivery_ == delivery) {
            end_live();
        }
        send_plan(delivery, oca::way_back(before->second.plan, *seen->tree), true);
    }
}

void DeviceWork::send_plan(const std::string& delivery, const oca::TransferPlan& plan,
                           bool is_way_back) {
    const auto address = oca::address_from_text(address_of(delivery));
    if (!address) {
        return;
    }
    sending_ = delivery;
    watch_ = Watch();
    // Not by a Beside: a device must not be left in the middle, whatever becomes of the window.
    auto report = std::make_shared<oca::TransferReport>();
    auto tell = told_in_window(this, [this, delivery, plan, is_way_back, report] {
        take_report(delivery, plan, is_way_back, *report);
    });
    QThreadPool::globalInstance()->start([address = *address, plan, watch = watch_, report, tell] {
        *report = oca::transfer([&] { return oca::Controller::connect(address); }, plan, watch);
        tell();
    });
    emit changed();
}

void DeviceWork::take_report(const std::string& delivery, const oca::TransferPlan& plan,
                             bool is_way_back, const oca::TransferReport& report) {
    sending_.clear();
    sent_[delivery] = {report, QDateTime::currentDateTime()};
    const bool is_done = report.end == oca::TransferEnd::done;
    if (is_done && is_way_back) {
        before_.erase(delivery);
    } else if (is_done && plan.changes() > 0) {
        before_[delivery] = {address_of(delivery), plan};
    }
    const Link link = link_of(delivery);
    if (link != nullptr && (!link->is_told_of_changes() || !is_done)) {
        link->read_again();
    }
    refresh();
    if (std::exchange(begins_live_, false) && live_delivery_ == delivery) {
        if (is_done) {
            begin_live();
        } else {
            end_live();
            emit live_ended(
                tr("Live has not begun: %1")
                    .arg(report.problem ? text_of(to_text(*report.problem)) : QString()));
        }
    }
}

// --- live ---

QString DeviceWork::live_name() const {
    const Delivery* found = delivery_of(session_.study(), live_delivery_);
    return found != nullptr ? text_of(found->name) : QString();
}

QString DeviceWork::live_problem() const {
    if (live_problem_) {
        return text_of(to_text(*live_problem_));
    }
    const auto state = live_settings_ != nullptr ? live_settings_->state().problem : std::nullopt;
    return state ? text_of(to_text(*state)) : QString();
}

void DeviceWork::set_live(const std::string& delivery, bool is_live) {
    if (!is_live || delivery != live_delivery_) {
        end_live();
    }
    if (!is_live || !live_delivery_.empty() || is_sending() || link_of(delivery) == nullptr) {
        return;
    }
    live_delivery_ = delivery;
    begins_live_ = true;
    send(delivery);
    if (!is_sending()) { // it does not fit
        begins_live_ = false;
        end_live();
    }
    emit live_changed();
}

void DeviceWork::begin_live() {
    live_link_ = link_of(live_delivery_);
    const DeviceView* seen = view(live_delivery_);
    if (live_link_ == nullptr || seen == nullptr || !seen->plan || !*seen->plan) {
        end_live();
        return;
    }
    oca::TransferPlan now = **seen->plan; // as it was just sent
    for (oca::PlannedObject& object : now.objects) {
        object.before = object.after;
        object.was_enabled = object.will_be_enabled;
    }
    live_settings_ = std::make_unique<oca::LiveSettings>(live_link_->controller(), now);
    live_look_.start();
    follow();
    emit live_changed();
}

// At every step of what is being changed.
void DeviceWork::follow() {
    if (live_settings_ == nullptr) {
        return;
    }
    const Delivery* delivery = delivery_of(session_.study(), live_delivery_);
    if (delivery == nullptr || link_of(live_delivery_) != live_link_) { // another device now
        end_live();
        return;
    }
    const DeviceView now = worked_out(*delivery);
    live_problem_ = now.plan && !*now.plan ? std::optional(now.plan->error()) : std::nullopt;
    if (now.plan && *now.plan) {
        live_settings_->want(**now.plan);
    }
}

void DeviceWork::end_live() {
    live_look_.stop();
    begins_live_ = false;
    live_problem_.reset();
    const bool was_live = !live_delivery_.empty();
    live_delivery_.clear();
    let_go({std::exchange(live_link_, nullptr)}, std::move(live_settings_));
    if (was_live) {
        emit live_changed();
        emit changed();
    }
}

// --- reading ---

Expected<void> DeviceWork::read_into_takes(const std::string& delivery) {
    const DeviceView* seen = view(delivery);
    if (seen == nullptr || seen->tree == nullptr) {
        return refuse("", "the device is not connected", "connect it");
    }
    std::map<std::string, Chain> read;
    for (const DeviceChannel& channel : seen->delivery.device.channels) {
        if (channel.block.empty()) {
            continue;
        }
        auto chain =
            oca::chain_from_output(*seen->tree, channel.block, session_.study().sample_rate_hz);
        if (!chain) {
            return tl::unexpected(chain.error());
        }
        read[channel.channel] = std::move(*chain);
    }
    const QString name =
        tr("in %1, %2")
            .arg(name_of(*seen->tree),
                 QDateTime::currentDateTime().toString(QStringLiteral("HH:mm:ss")));
    session_.edit(tr("Read %1 into takes").arg(name_of(*seen->tree)), [&](Study& study) {
        for (auto& channel : study.channels) {
            if (const auto found = read.find(channel->id); found != read.end()) {
                Take take;
                take.id = fresh_take_id(*channel);
                take.name = name.toStdString();
                take.stages = found->second;
                channel.edit().takes.emplace_back(std::move(take));
            }
        }
    });
    return {};
}

} // namespace syntonon
