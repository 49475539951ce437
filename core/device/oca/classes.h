// The classes of objects that this program knows, by what they are for (AES70-2).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/messages.h"

#include <array>
#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

namespace syntonon::oca {

// The way through the tree of classes: OcaGain is 1.1.1.5. A class of a maker's own begins with a
// known one and goes on by other numbers.
using ClassId = std::vector<std::uint16_t>;

enum class Kind {
    block,
    gain,
    mute,
    polarity,
    delay,
    parametric_filter,
    classical_filter,
    polynomial_filter,
    fir_filter,
    curve_filter,
    level_sensor
};
struct KnownClass {
    Kind kind;
    std::string_view name; // of the standard: "OcaGain"
    std::array<std::uint16_t, 4> id;
    std::size_t id_size;
};
inline constexpr std::array<KnownClass, 11> known_classes = {{
    {Kind::block, "OcaBlock", {1, 1, 3}, 3},
    {Kind::mute, "OcaMute", {1, 1, 1, 2}, 4},
    {Kind::polarity, "OcaPolarity", {1, 1, 1, 3}, 4},
    {Kind::gain, "OcaGain", {1, 1, 1, 5}, 4},
    {Kind::delay, "OcaDelay", {1, 1, 1, 7}, 4},
    {Kind::classical_filter, "OcaFilterClassical", {1, 1, 1, 9}, 4},
    {Kind::parametric_filter, "OcaFilterParametric", {1, 1, 1, 10}, 4},
    {Kind::polynomial_filter, "OcaFilterPolynomial", {1, 1, 1, 11}, 4},
    {Kind::fir_filter, "OcaFilterFIR", {1, 1, 1, 12}, 4},
    {Kind::curve_filter, "OcaFilterArbitraryCurve", {1, 1, 1, 13}, 4},
    {Kind::level_sensor, "OcaLevelSensor", {1, 1, 2, 2}, 4},
}};

// The class itself or one derived from it; nothing for others.
std::optional<Kind> kind_of_class(const ClassId& id);
const KnownClass& class_of(Kind kind);

// Objects that every device has.
inline constexpr std::uint32_t device_manager = 1, subscription_manager = 4, root_block = 100;

namespace method {
inline constexpr MethodId get_class = {1, 1}, get_role = {1, 5};      // OcaRoot
inline constexpr MethodId get_enabled = {2, 1}, set_enabled = {2, 2}; // OcaWorker
inline constexpr MethodId get_label = {2, 8};
inline constexpr MethodId get_members = {3, 5}; // OcaBlock
inline constexpr MethodId get_members_recursive = {3, 6};
inline constexpr MethodId get_ocp_version = {3, 1}; // OcaDeviceManager
inline constexpr MethodId get_serial_number = {3, 3}, get_device_name = {3, 4},
                          get_model_description = {3, 6}, get_managers = {3, 19};
inline constexpr MethodId add_subscription = {3, 1}, remove_subscription = {3, 2}; // of events
inline constexpr MethodId get_value = {4, 1}, set_value = {4, 2}; // of objects of one value
inline constexpr MethodId get_frequency = {4, 1}, set_frequency = {4, 2};
// OcaFilterParametric
inline constexpr MethodId get_shape = {4, 3}, get_width = {4, 5}, get_in_band_gain = {4, 7},
                          get_shape_parameter = {4, 9}, set_multiple = {4, 11};
// OcaFilterClassical
inline constexpr MethodId get_passband = {4, 3}, get_classical_shape = {4, 5}, get_order = {4, 7},
                          get_parameter = {4, 9};
// OcaFilterPolynomial
inline constexpr MethodId get_coefficients = {4, 1}, set_coefficients = {4, 2},
                          get_sample_rate = {4, 3}, set_sample_rate = {4, 4},
                          get_most_order = {4, 5};
// OcaFilterFIR
inline constexpr MethodId get_length = {4, 1}, get_taps = {4, 2}, set_taps = {4, 3},
                          get_fir_sample_rate = {4, 4}, set_fir_sample_rate = {4, 5};
// OcaFilterArbitraryCurve
inline constexpr MethodId get_curve = {4, 1}, set_curve = {4, 2}, get_curve_sample_rate = {4, 3},
                          get_least_points = {4, 5}, get_most_points = {4, 6};
} // namespace method

// Of OcaRoot.
inline constexpr EventId property_changed = {1, 1};
// Of OcaWorker; of sensors.
inline constexpr PropertyId enabled_property = {2, 1}, reading_property = {4, 1};

} // namespace syntonon::oca
