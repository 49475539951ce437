// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/device_list.h"

#include "app/widgets/words.h"
#include "standin/device/running_device.h"

#include <QSettings>
#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr auto settings_key = "devices";
constexpr std::size_t most_known = 12;
// Those after the port that the program of the simulated processor takes by itself.
constexpr quint16 first_port = 65001, ports = 24;

// One that the processor has.
double rate_near(double sample_rate_hz, const Processor& processor) {
    const auto& rates = processor.sample_rates_hz;
    const auto nearest = std::ranges::min_element(
        rates, {}, [&](double rate) { return std::abs(rate - sample_rate_hz); });
    return nearest != rates.end() ? *nearest : sample_rate_hz;
}

QString local_address(quint16 port) {
    return QStringLiteral("127.0.0.1:%1").arg(port);
}

} // namespace

struct DeviceList::Running {
    QString address;
    std::unique_ptr<oca::RunningDevice> device;
};

DeviceList::DeviceList(QObject* parent) : QObject(parent) {
    QSettings settings;
    const int count = settings.beginReadArray(settings_key);
    for (int i = 0; i < count; ++i) {
        settings.setArrayIndex(i);
        known_.push_back({settings.value("address").toString(), settings.value("name").toString()});
    }
    settings.endArray();
}

DeviceList::~DeviceList() = default;

std::vector<KnownDevice> DeviceList::all() const {
    std::vector<KnownDevice> devices;
    for (const Running& one : running_) {
        devices.push_back({one.address, text_of(one.device->shape().name), true});
    }
    for (const KnownDevice& one : known_) {
        if (simulated(one.address) == nullptr) {
            devices.push_back(one);
        }
    }
    return devices;
}

void DeviceList::remember(const QString& address, const QString& name) {
    if (simulated(address) != nullptr) {
        return; // it is on the list while it runs
    }
    std::erase_if(known_, [&](const KnownDevice& one) { return one.address == address; });
    known_.insert(known_.begin(), {address, name});
    known_.resize(std::min(known_.size(), most_known));
    keep();
}

void DeviceList::keep() {
    QSettings settings;
    settings.remove(settings_key);
    settings.beginWriteArray(settings_key, static_cast<int>(known_.size()));
    for (std::size_t i = 0; i < known_.size(); ++i) {
        settings.setArrayIndex(static_cast<int>(i));
        settings.setValue("address", known_[i].address);
        settings.setValue("name", known_[i].name);
    }
    settings.endArray();
    emit changed();
}

void DeviceList::forget(const QString& address) {
    const auto found = std::ranges::find(known_, address, &KnownDevice::address);
    if (found == known_.end()) {
        return;
    }
    known_.erase(found);
    keep();
}

Expected<QString> DeviceList::start_simulated(const Processor& processor, double sample_rate_hz) {
    Expected<QString> started = refuse("", "no port of this machine is free", "stop another one");
    for (quint16 i = 0; i < ports && !started; ++i) {
        started = start_simulated(processor, sample_rate_hz, first_port + i);
    }
    return started;
}

Expected<QString> DeviceList::start_simulated(const Processor& processor, double sample_rate_hz,
                                              quint16 port) {
    oca::DeviceShape shape;
    shape.name = "Simulated " + processor.name;
    shape.processor = processor;
    shape.sample_rate_hz = rate_near(sample_rate_hz, processor);
    shape.curves = 1;
    return oca::RunningDevice::start(shape, port)
        .map([&](std::unique_ptr<oca::RunningDevice> device) {
            QString address = local_address(device->server().port());
            running_.push_back({address, std::move(device)});
            emit changed();
            return address;
        });
}

void DeviceList::stop_simulated(const QString& address) {
    std::erase_if(running_, [&](const Running& one) { return one.address == address; });
    emit changed();
}

void DeviceList::fail_next_transfer(const QString& address, oca::FaultKind fault) {
    constexpr int in_the_middle = 5; // call that sets something: after the mutes
    if (oca::RunningDevice* device = simulated(address)) {
        device->server().set_faults({{fault, in_the_middle}});
    }
}

oca::RunningDevice* DeviceList::simulated(const QString& address) const {
    const auto found = std::ranges::find(running_, address, &Running::address);
    return found != running_.end() ? found->device.get() : nullptr;
}

} // namespace syntonon
