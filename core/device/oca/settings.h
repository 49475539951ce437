// What an object of a device is set to, and within which limits: the values of its class as the
// standard has them (AES70-2).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/classes.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace syntonon::oca {

struct GainSetting {
    float gain_db = 0;
    bool operator==(const GainSetting&) const = default;
};

struct MuteSetting {
    bool is_muted = false;
    bool operator==(const MuteSetting&) const = default;
};

struct PolaritySetting {
    bool is_inverted = false;
    bool operator==(const PolaritySetting&) const = default;
};

struct DelaySetting {
    float seconds = 0;
    bool operator==(const DelaySetting&) const = default;
};

// OcaParametricEQShape.
enum class ParametricForm : std::uint8_t {
    none,
    peak,
    low_shelf,
    high_shelf,
    low_pass,
    high_pass,
    band_pass,
    all_pass,
    notch
};
// The device makes the filter of it, by its own equations.
struct ParametricSetting {
    float frequency_hz = 1000;
    ParametricForm form = ParametricForm::none;
    float width = 1; // Q
    float in_band_gain_db = 0;
    float form_parameter = 0; // of forms that have one
    bool operator==(const ParametricSetting&) const = default;
};

// OcaFilterPassband, OcaClassicalFilterShape.
enum class Passband : std::uint8_t { high_pass = 1, low_pass, band_pass, band_reject, all_pass };
enum class ClassicalForm : std::uint8_t { butterworth = 1, bessel, chebyshev, linkwitz_riley };
struct ClassicalSetting {
    float frequency_hz = 1000;
    Passband passband = Passband::low_pass;
    ClassicalForm form = ClassicalForm::butterworth;
    std::uint16_t order = 2;
    float parameter = 0; // ripple in dB, of Chebyshev
    bool operator==(const ClassicalSetting&) const = default;
};

// H(z) = sum of numerator[k] z^-k over sum of denominator[k] z^-k; in the standard A and B.
struct PolynomialSetting {
    std::vector<float> numerator = {1}, denominator = {1};
    bool operator==(const PolynomialSetting&) const = default;
};

struct FirSetting {
    std::vector<float> taps = {1};
    bool operator==(const FirSetting&) const = default;
};

// OcaTransferFunction: three lists of one length.
struct CurveSetting {
    std::vector<float> frequency_hz, amplitude, phase_rad; // amplitude as a ratio
    bool operator==(const CurveSetting&) const = default;
};

using Setting =
    std::variant<GainSetting, MuteSetting, PolaritySetting, DelaySetting, ParametricSetting,
                 ClassicalSetting, PolynomialSetting, FirSetting, CurveSetting>;

struct Range {
    float least = 0, greatest = 0;

    bool holds(float value) const { return value >= least && value <= greatest; }
    bool operator==(const Range&) const = default;
};
// Of its class those that there are; the others are left out.
struct Limits {
    std::optional<Range> frequency_hz, width, gain_db, form_parameter, delay_s, order;
    std::optional<std::size_t> most_order, taps, least_points, most_points;
    std::optional<float> sample_rate_hz;
    bool operator==(const Limits&) const = default;
};
struct ObjectState {
    Setting setting;
    Limits limits;
    std::optional<bool> is_enabled = {}; // as every OcaWorker; nothing: the device does not say

    bool is_off() const { return is_enabled == false; }
    bool operator==(const ObjectState&) const = default;
};

// Whether objects of that kind have settings: blocks and sensors have none.
bool has_setting(Kind kind);
Kind kind_of(const Setting& setting);

} // namespace syntonon::oca
