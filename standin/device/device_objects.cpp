// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/device_objects.h"

#include "core/device/object_stages.h"
#include "core/device/oca/setting_bytes.h"
#include "core/device/oca/setting_numbers.h"
#include "standin/device/single_values.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon::oca {
namespace {

const ClassId manager_of_device = {1, 3, 1}, manager_of_subscriptions = {1, 3, 4};
const ClassId manager_of_network = {1, 3, 6};
constexpr std::uint32_t network_manager = 6;
constexpr std::uint16_t class_version = 2, ocp_version = 1;

ClassId id_of(Kind kind) {
    const KnownClass& known = class_of(kind);
    return {known.id.begin(), known.id.begin() + static_cast<std::ptrdiff_t>(known.id_size)};
}

Writer& put_class(Writer& out, const ClassId& id) {
    out.u16(static_cast<std::uint16_t>(id.size()));
    for (const std::uint16_t part : id) {
        out.u16(part);
    }
    return out.u16(class_version);
}

Parameters text_answer(std::string_view text) {
    Writer out;
    out.text(text);
    return {1, std::move(out).bytes()};
}
Parameters number_answer(std::uint32_t value) {
    Writer out;
    out.u32(value);
    return {1, std::move(out).bytes()};
}
Parameters flag_answer(bool value) {
    Writer out;
    out.boolean(value);
    return {1, std::move(out).bytes()};
}

Response refused(const Command& command, Status status) {
    return {command.handle, static_cast<std::uint8_t>(status), {}};
}
Response done(const Command& command, Parameters parameters = {}) {
    return {command.handle, 0, std::move(parameters)};
}

Limits filter_limits(const DeviceShape& shape) {
    Limits limits;
    const auto nyquist = static_cast<float>(shape.sample_rate_hz / 2);
    limits.frequency_hz = Range{1, nyquist * 0.999f};
    limits.width = Range{0.05f, 200};
    limits.gain_db = Range{-60, 24};
    limits.form_parameter = Range{0, 6};
    limits.order = Range{1, 8};
    limits.sample_rate_hz = static_cast<float>(shape.sample_rate_hz);
    return limits;
}

// What the processor's word can hold of it; nothing where it is beyond.
std::optional<float> in_word(float value, const Word& word) {
    if (!fits(value, word)) {
        return std::nullopt;
    }
    return static_cast<float>(rounded(value, word, Rounding::nearest));
}

bool put_into_words(std::vector<float>& values, const Word& word) {
    for (float& value : values) {
        const auto kept = in_word(value, word);
        if (!kept) {
            return false;
        }
        value = *kept;
    }
    return true;
}

// As the processor holds it.
bool put_into_words(Setting& setting, const Processor& processor) {
    if (auto* s = std::get_if<PolynomialSetting>(&setting)) {
        const Word word = coefficient_values(processor.section_words);
        return put_into_words(s->numerator, word) && put_into_words(s->denominator, word);
    }
    if (auto* s = std::get_if<FirSetting>(&setting)) {
        return put_into_words(s->taps, coefficient_values(processor.tap_words));
    }
    return true;
}

// What does nothing costs nothing.
void add_demand(const Setting& setting, double sample_rate_hz, ChannelDemand& demand) {
    if (is_idle(setting)) {
        return;
    }
    if (const auto* classical = std::get_if<ClassicalSetting>(&setting)) {
        demand.sections += (classical->order + std::size_t(1)) / 2;
    } else if (const auto* fir = std::get_if<FirSetting>(&setting)) {
        demand.taps += fir->taps.size();
    } else if (const auto* delay = std::get_if<DelaySetting>(&setting)) {
        demand.delay_samples +=
            static_cast<std::size_t>(std::lround(delay->seconds * sample_rate_hz));
    } else if (std::holds_alternative<PolynomialSetting>(setting)
               || std::holds_alternative<ParametricSetting>(setting)) {
        ++demand.sections;
    }
}

} // namespace

DeviceObjects::DeviceObjects(const DeviceShape& shape) : shape_(shape) {
    reset();
}

void DeviceObjects::reset() {
    objects_.clear();
    add(0, device_manager, manager_of_device, "Device manager");
    add(0, subscription_manager, manager_of_subscriptions, "Subscription manager");
    add(0, network_manager, manager_of_network, "Network manager");
    add(0, root_block, id_of(Kind::block), "Root");
    for (std::size_t i = 0; i < shape_.outputs; ++i) {
        add_output(i);
    }
}

void DeviceObjects::add(std::uint32_t owner, std::uint32_t number, ClassId class_id,
                        std::string role, std::optional<ObjectState> state) {
    SimulatedObject object;
    object.number = number;
    object.class_id = std::move(class_id);
    object.role = object.label = std::move(role);
    object.owner = owner;
    object.state = std::move(state);
    if (object.state) {
        object.state->is_enabled = true;
    }
    objects_[number] = std::move(object);
}

std::uint32_t DeviceObjects::output(std::size_t index) const {
    return static_cast<std::uint32_t>(1000 * (index + 1));
}

void DeviceObjects::add_output(std::size_t index) {
    const std::uint32_t block = output(index);
    const Limits filters = filter_limits(shape_);
    add(root_block, block, id_of(Kind::block), fmt::format("Output {}", index + 1));
    std::uint32_t number = block;
    const auto add_one = [&](Kind kind, std::string role, std::optional<ObjectState> state) {
        add(block, ++number, id_of(kind), std::move(role), std::move(state));
    };
    const auto add_several = [&](std::size_t count, Kind kind, const char* name,
                                 const Setting& setting, const Limits& limits) {
        for (std::size_t i = 1; i <= count; ++i) {
            add_one(kind, count == 1 ? name : fmt::format("{} {}", name, i),
                    ObjectState{setting, limits});
        }
    };
    Limits gain, delay, polynomial = filters, fir = filters, curve = filters;
    gain.gain_db = Range{-120, 20};
    delay.delay_s = Range{0, 1};
    polynomial.most_order = 2;
    fir.taps = shape_.most_taps;
    curve.least_points = 2;
    curve.most_points = 1024;
    add_one(Kind::gain, "Gain", ObjectState{GainSetting{}, gain});
    add_one(Kind::polarity, "Polarity", ObjectState{PolaritySetting{}, {}});
    ClassicalSetting pass;
    pass.frequency_hz = 10;
    pass.passband = Passband::high_pass;
    add_several(shape_.classical, Kind::classical_filter, "Pass", pass, filters);
    add_several(shape_.parametric, Kind::parametric_filter, "Filter", ParametricSetting{}, filters);
    add_several(shape_.polynomial, Kind::polynomial_filter, "Section", PolynomialSetting{},
                polynomial);
    add_several(shape_.fir, Kind::fir_filter, "FIR", FirSetting{}, fir);
    add_several(shape_.curves, Kind::curve_filter, "Curve",
                CurveSetting{{20, 20'000}, {1, 1}, {0, 0}}, curve);
    add_one(Kind::delay, "Delay", ObjectState{DelaySetting{}, delay});
    add_one(Kind::mute, "Mute", ObjectState{MuteSetting{}, {}});
    add_one(Kind::level_sensor, "Level", {});
}

const SimulatedObject* DeviceObjects::object(std::uint32_t number) const {
    const auto found = objects_.find(number);
    return found == objects_.end() ? nullptr : &found->second;
}

std::vector<const SimulatedObject*> DeviceObjects::of_output(std::size_t index) const {
    std::vector<const SimulatedObject*> all;
    for (const auto& [number, object] : objects_) {
        if (object.owner == output(index)) {
            all.push_back(&object);
        }
    }
    return all;
}

void DeviceObjects::show_reading(std::uint32_t sensor, float db,
                                 std::vector<PropertyChange>& changes) {
    float& reading = objects_.at(sensor).reading_db;
    if (reading != db) {
        Writer value;
        value.f32(db);
        changes.push_back({sensor, reading_property, value.bytes()});
    }
    reading = db;
}

bool DeviceObjects::sets(const Command& command) const {
    const SimulatedObject* called = object(command.object);
    return called != nullptr && called->state
           && (command.method == method::set_enabled
               || setting_after(called->state->setting, command).has_value());
}

Status DeviceObjects::enable(std::uint32_t number, bool is_enabled,
                             std::vector<PropertyChange>& changes) {
    SimulatedObject& object = objects_.at(number);
    const auto before = std::exchange(object.state->is_enabled, is_enabled);
    if (!budget().fits()) {
        object.state->is_enabled = before;
        return Status::buffer_overflow;
    }
    if (before != is_enabled) {
        changes.push_back({number, enabled_property, {static_cast<std::uint8_t>(is_enabled)}});
    }
    return Status::ok;
}

Status DeviceObjects::set(std::uint32_t number, Setting setting,
                          std::vector<PropertyChange>& changes) {
    SimulatedObject& object = objects_.at(number);
    if (!check_within(setting, object.state->limits)
        || !put_into_words(setting, shape_.processor)) {
        return Status::parameter_out_of_range;
    }
    if (const auto* polynomial = std::get_if<PolynomialSetting>(&setting);
        polynomial != nullptr
        && (polynomial->numerator.empty() || polynomial->denominator.empty()
            || polynomial->denominator[0] != 1)) {
        return Status::parameter_error;
    }
    const Setting before = std::exchange(object.state->setting, std::move(setting));
    if (!budget().fits()) {
        object.state->setting = before;
        return Status::buffer_overflow;
    }
    for (const SingleValue& value : changed_values(before, object.state->setting)) {
        changes.push_back({number, value.property, value.bytes});
    }
    return Status::ok;
}

Budget DeviceObjects::budget() const {
    std::vector<ChannelDemand> demands;
    for (std::size_t i = 0; i < shape_.outputs; ++i) {
        ChannelDemand demand;
        demand.structure = shape_.processor.structures.front().structure;
        for (const SimulatedObject* object : of_output(i)) {
            if (object->state && !object->state->is_off()) {
                add_demand(object->state->setting, shape_.sample_rate_hz, demand);
            }
        }
        demands.push_back(demand);
    }
    return budget_of(demands, shape_.processor, shape_.sample_rate_hz,
                     shape_.processor.block_frames.front());
}

DeviceObjects::Answer DeviceObjects::answer(const Command& command) {
    const SimulatedObject* found = object(command.object);
    return found != nullptr ? answer_of(*found, command)
                            : Answer{refused(command, Status::bad_object), {}};
}

std::optional<Parameters> DeviceObjects::names(const SimulatedObject& object,
                                               const MethodId& asked) const {
    if (asked == method::get_class) {
        Writer out;
        put_class(out, object.class_id);
        return Parameters{1, std::move(out).bytes()};
    }
    if (asked == MethodId{1, 2}) { // lockable
        return flag_answer(false);
    }
    if (asked == method::get_role) {
        return text_answer(object.role);
    }
    const bool is_worker = object.class_id.size() >= 2 && object.class_id[1] == 1;
    if (is_worker && asked == method::get_enabled) {
        return flag_answer(!object.state || !object.state->is_off());
    }
    if (is_worker && asked == method::get_label) {
        return text_answer(object.label);
    }
    if (is_worker && asked == MethodId{2, 10}) { // owner
        return number_answer(object.owner);
    }
    if (object.number != device_manager) {
        return std::nullopt;
    }
    if (asked == method::get_ocp_version) {
        Writer out;
        out.u16(ocp_version);
        return Parameters{1, std::move(out).bytes()};
    }
    if (asked == method::get_device_name) {
        return text_answer(shape_.name);
    }
    if (asked == method::get_serial_number) {
        return text_answer("simulated");
    }
    if (asked == method::get_model_description) {
        Writer out;
        out.text("Syntonon").text(shape_.processor.name).text("1");
        return Parameters{1, std::move(out).bytes()};
    }
    return std::nullopt;
}

Response DeviceObjects::members(const SimulatedObject& block, std::uint32_t handle) const {
    Writer list;
    std::uint16_t count = 0;
    for (const auto& [number, object] : objects_) {
        if (object.owner == block.number) {
            list.u32(number);
            put_class(list, object.class_id);
            ++count;
        }
    }
    Writer out;
    out.u16(count).raw(list.bytes());
    return {handle, 0, {1, std::move(out).bytes()}};
}

DeviceObjects::Answer DeviceObjects::answer_of(const SimulatedObject& object,
                                               const Command& command) {
    if (const auto named = names(object, command.method)) {
        return {done(command, *named), {}};
    }
    const auto kind = kind_of_class(object.class_id);
    if (kind == Kind::block && command.method == method::get_members) {
        return {members(object, command.handle), {}};
    }
    if (kind == Kind::level_sensor && command.method == method::get_value) {
        Writer out;
        out.f32(object.reading_db).f32(-200).f32(40);
        return {done(command, {3, std::move(out).bytes()}), {}};
    }
    if (!kind || !object.state) {
        return {refused(command, Status::bad_method), {}};
    }
    const std::vector<MethodId> readings = reading_methods(*kind);
    if (const auto at = std::ranges::find(readings, command.method); at != readings.end()) {
        const auto place = static_cast<std::size_t>(at - readings.begin());
        return {done(command, answers_of(*object.state)[place]), {}};
    }
    if (command.method == method::set_enabled) {
        Reader in(command.parameters.bytes);
        const bool is_enabled = in.u8() != 0;
        Answer answer;
        const Status status =
            in.is_at_end() ? enable(object.number, is_enabled, answer.changes) : Status::bad_format;
        answer.response = {command.handle, static_cast<std::uint8_t>(status), {}};
        return answer;
    }
    const auto wanted = setting_after(object.state->setting, command);
    if (!wanted) {
        return {refused(command, wanted.error()), {}};
    }
    Answer answer;
    const Status status = set(object.number, *wanted, answer.changes);
    answer.response = {command.handle, static_cast<std::uint8_t>(status), {}};
    return answer;
}

} // namespace syntonon::oca
