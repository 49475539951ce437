// Objects of a device as stages, and stages as what objects are set to.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/settings.h"
#include "core/filter/filter.h"
#include "core/study/stage.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon::oca {

// The stage that does what the object does; nothing for what does nothing (a filter that is off, a
// gain of 0 dB). Parametric and classical objects are taken by the equations of this program, which
// need not be the device's, curves by taps that go through them (see curve_setting.h). Refused:
// forms that no stage has.
Expected<std::optional<StageSpec>> stage_from(const Setting& setting, double sample_rate_hz);

// What an object of that kind is set to for the stage alone: a bell on a parametric object, a
// Butterworth filter on a classical one, a delay. Nothing where that kind of object cannot be it
// exactly; polynomial and FIR objects take filters, not stages (see settings_for).
std::optional<Setting> setting_for(const StageSpec& spec, Kind kind, double sample_rate_hz);

// One for each section of what a filter consists of; its taps; its whole delay.
struct FilterSettings {
    std::vector<PolynomialSetting> sections;
    std::optional<FirSetting> taps;
    std::optional<DelaySetting> delay;
};
// Refused where the filter is made of something else (see series_parts_of).
Expected<FilterSettings> settings_for(const Filter& filter, double sample_rate_hz);

// What an object of that kind is when it does nothing; with the values of `now` where they are
// free.
Setting idle_setting(const Setting& now);
bool is_idle(const Setting& setting);

} // namespace syntonon::oca
