// The objects of a simulated processor and what it answers to calls: a device's side of AES70.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/settings.h"
#include "core/device/oca/status.h"
#include "core/word/budget.h"
#include "core/word/processor.h"

#include <cstddef>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace syntonon::oca {

struct DeviceShape {
    std::string name = "Simulated processor";
    Processor processor;           // its words are those that coefficients become
    double sample_rate_hz = 48000; // one of the processor's
    std::size_t outputs = 4;
    // Of each output.
    std::size_t parametric = 8, classical = 2, polynomial = 16, fir = 1, curves = 0;
    std::size_t most_taps = 4096;
};

// One, as a device holds it.
struct SimulatedObject {
    std::uint32_t number = 0;
    ClassId class_id;
    std::string role, label;
    std::uint32_t owner = 0;          // the block that it is in
    std::optional<ObjectState> state; // what is set; nothing: a block, a manager, a sensor
    float reading_db = -200;          // of a sensor
};

// A property that has changed, as it is told to subscribers.
struct PropertyChange {
    std::uint32_t object = 0;
    PropertyId property;
    Bytes value;
};

class DeviceObjects {
public:
    // Every output is a block "Output 1" with mute, gain, polarity, delay, filters and a level
    // sensor.
    explicit DeviceObjects(const DeviceShape& shape);

    struct Answer {
        Response response;
        std::vector<PropertyChange> changes;
    };
    // Does what is called, but for subscriptions, which belong to a connection.
    Answer answer(const Command& command);
    // Sets it as a call does: rounded to the processor's words. Refused where its limits, its words
    // or the processor's budget do not hold it.
    Status set(std::uint32_t object, Setting setting, std::vector<PropertyChange>& changes);
    // Whether the command sets something, were it not refused.
    bool sets(const Command& command) const;
    void show_reading(std::uint32_t sensor, float db, std::vector<PropertyChange>& changes);
    // As it was when it was switched on.
    void reset();
    // What of the processor all outputs use.
    Budget budget() const;

    const DeviceShape& shape() const { return shape_; }
    const SimulatedObject* object(std::uint32_t number) const;
    const std::map<std::uint32_t, SimulatedObject>& all() const { return objects_; }
    std::uint32_t output(std::size_t index) const; // its block's number, from 0
    // Of an output, in the order of the signal.
    std::vector<const SimulatedObject*> of_output(std::size_t index) const;

private:
    void add(std::uint32_t owner, std::uint32_t number, ClassId class_id, std::string role,
             std::optional<ObjectState> state = {});
    void add_output(std::size_t index);
    Answer answer_of(const SimulatedObject& object, const Command& command);
    Status enable(std::uint32_t object, bool is_enabled, std::vector<PropertyChange>& changes);
    Response members(const SimulatedObject& block, std::uint32_t handle) const;
    std::optional<Parameters> names(const SimulatedObject& object, const MethodId& method) const;

    DeviceShape shape_;
    std::map<std::uint32_t, SimulatedObject> objects_;
};

} // namespace syntonon::oca
