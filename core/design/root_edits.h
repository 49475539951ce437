// What one does to the roots of a stage by hand: conjugates stay whole whatever happens.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/roots.h"

#include <complex>
#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// A root on the axis, or a pair by either of its two.
struct RootPlace {
    bool is_pole = false;
    std::size_t index = 0; // in the list of poles or zeros

    auto operator<=>(const RootPlace&) const = default; // NOLINT(modernize-use-nullptr): it is none
};

const std::vector<std::complex<double>>& list_of(const RootsSpec& spec, bool poles);
// The other one of its pair; nothing on the axis.
std::optional<std::size_t> mate_of(const std::vector<std::complex<double>>& list,
                                   std::size_t index);

// A root taken to a place. A pair within `snap` of the axis becomes two roots on it; a root on the
// axis that is taken off by more, while another of its sort lies within `snap`, makes a pair with
// it, and otherwise stays on the axis. Indices keep their meaning.
RootsSpec moved(const RootsSpec& spec, const RootPlace& place, std::complex<double> to,
                double snap);
// Several, all turned and stretched like the one that is held, about the plane's origin.
RootsSpec moved(const RootsSpec& spec, const std::vector<RootPlace>& places, const RootPlace& held,
                std::complex<double> to, double snap);

// With the gain that gives it the level of another one at a place of the plane, as far as both have
// one there.
RootsSpec as_loud_as(RootsSpec spec, const RootsSpec& other, std::complex<double> at,
                     Domain domain);

// At the circle or the imaginary axis, the level kept by the gain: the phase changes. What lies at
// z = 0 stays.
RootsSpec mirrored(const RootsSpec& spec, std::span<const RootPlace> places, Domain domain);
// Poles that do not die away only.
RootsSpec reflected_inside(const RootsSpec& spec, Domain domain);
// Onto the circle or the imaginary axis, at the same angle (imaginary part).
RootsSpec put_on_circle(const RootsSpec& spec, std::span<const RootPlace> places, Domain domain);

// A root of the other sort in each place: together they do nothing.
RootsSpec cancelled(const RootsSpec& spec, std::span<const RootPlace> places);
// One on the axis, or a pair; it is the last of its list, a pair's upper one the last but one.
RootsSpec with_added(const RootsSpec& spec, bool pole, std::complex<double> at);
RootsSpec duplicated(const RootsSpec& spec, std::span<const RootPlace> places);
RootsSpec without(const RootsSpec& spec, std::span<const RootPlace> places);

} // namespace syntonon
