// A filter by its poles and zeros.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/design.h"
#include "core/design/field.h"

#include <complex>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// Conjugates written out. z-plane: H = gain prod(1 - zero/z) / prod(1 - pole/z); s-plane, in an
// analog channel: H = gain prod(s - zero) / prod(s - pole), rad/s.
struct RootsSpec {
    static constexpr std::string_view kind = "roots";

    std::vector<std::complex<double>> zeros, poles;
    double gain = 1;

    bool operator==(const RootsSpec&) const = default;
};

inline constexpr std::size_t most_roots = 400;

std::span<const NumberField<RootsSpec>> fields_of(const RootsSpec& spec);
// Radius (analog: rad/s) and angle in degrees of each pole and zero, a pair by its upper one: in
// the order of the lists without lower ones.
std::span<const NumberRow<RootsSpec>> rows_of(const RootsSpec& spec);
// Poles with the nearest zeros, ascending Q, the gain in the first section. Refuses, naming the
// place ("poles[3]"): a root without its conjugate or not finite, too many, and in the s-plane more
// zeros than poles. Poles on or beyond the edge of stability are designed: they are judged.
Expected<Design> design(const RootsSpec& spec, const Brief& brief, const Watch& watch);

// What edits of roots start from and end in (root_drag.h). The roots at the origin of the filter
// are the delay that the lists make: they come anew.
std::optional<RootsSpec> own_roots(const RootsSpec& spec, const Filter& filter);
RootsSpec with_own_roots(const RootsSpec& spec, const Filter& filter, const RootsSpec& roots);

// The sections for roots that keep to what is said above; whole samples of delay are taken up where
// sections have room, else by sections of their own.
Filter filter_of_roots(const Roots& roots);

std::string title_of(const RootsSpec& spec);
std::string summary_of(const RootsSpec& spec);
std::string spoken_name_of(const RootsSpec& spec);

} // namespace syntonon
