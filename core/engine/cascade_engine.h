// Sections in series at work, in a structure of choice.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/base/problem.h"
#include "core/engine/engine.h"
#include "core/filter/biquad.h"

#include <memory>

namespace syntonon {

enum class SectionStructure { direct_1, transposed_2, coupled, normalised_lattice, state_variable };
std::span<const NamedValue<SectionStructure>> names_of_section_structures();

// Refused with the section's place where the structure cannot hold it. Transposed direct form II is
// the quickest: eight sections go on at a time, each a sample behind the one before.
Expected<std::unique_ptr<Engine>> cascade_engine(const Cascade& cascade,
                                                 SectionStructure structure);

} // namespace syntonon
