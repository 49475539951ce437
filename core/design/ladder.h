// A ladder of four poles, of transistors or diodes, for instruments and effects; see
// filter/modelled/ladder_kernel.h and ladder_filter_kernel.h for its equations and their sources.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/design/design.h"
#include "core/design/field.h"
#include "core/filter/modelled/ladder_build.h"

#include <span>
#include <string>
#include <string_view>

namespace syntonon {

struct LadderSpec {
    static constexpr std::string_view kind = "ladder";

    modelled::LadderType type = modelled::LadderType::transistor;
    modelled::LadderResponse response = modelled::LadderResponse::low_24;
    double frequency_hz = 1000;
    double resonance = 0;         // 1: where it begins to swing by itself; below 1 where linear
    double drive_db = 0;          // into the stages' bend, and out again
    double bass_compensation = 0; // 0 to 1, low-passes only
    bool saturating = true;       // the stages
    bool prewarped = true;
    int oversampling = 2; // 1, 2, 4, 8

    bool operator==(const LadderSpec&) const = default;
};

modelled::LadderBuild build_of(const LadderSpec& spec);
modelled::LadderKnobs knobs_of(const LadderSpec& spec);

// Refuses, naming the field: a frequency off the axis or beyond what its rate allows, a resonance
// at which a linear one grows without end, an oversampling that there is not.
Expected<Design> design(const LadderSpec& spec, const Brief& brief, const Watch& watch);
std::span<const NumberField<LadderSpec>> fields_of(const LadderSpec& spec);
std::span<const NamedValue<modelled::LadderType>> names_of_ladder_types();
std::span<const NamedValue<modelled::LadderResponse>> names_of_ladder_responses();
std::string title_of(const LadderSpec& spec);
std::string summary_of(const LadderSpec& spec);
std::string spoken_name_of(const LadderSpec& spec);

} // namespace syntonon
