// A filter by the coefficients of its difference equation.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/design.h"
#include "core/design/field.h"
#include "core/design/recursion_start.h"
#include "core/design/roots.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// a[0] y[n] = sum b[k] x[n - k] - sum over k > 0 of a[k] y[n - k].
struct RecursionSpec {
    static constexpr std::string_view kind = "recursion";

    std::vector<double> b{1}, a{1};
    // While it is there, b and a follow from it at the brief's sample rate; those above are not
    // used.
    std::optional<RecursionStart> start;

    bool operator==(const RecursionSpec&) const = default;
};

inline constexpr std::size_t most_recursion_order = 200;

// Those of its start; none else.
std::span<const NumberField<RecursionSpec>> fields_of(const RecursionSpec& spec);
// b and a, while it has no start.
std::span<const NumberRow<RecursionSpec>> rows_of(const RecursionSpec& spec);

// Those of its start, which move its poles.
std::vector<std::string_view> fields_moving_roots(const RecursionSpec& spec, bool poles);

// As roots, gain and delay aside; nothing while it has a start, or where its filter has no roots.
std::optional<RootsSpec> own_roots(const RecursionSpec& spec, const Filter& filter);
// With other roots, multiplied out; a[0] and the filter's delay stay.
RecursionSpec with_own_roots(const RecursionSpec& spec, const Filter& filter,
                             const RootsSpec& roots);

// The same filter by its coefficients, so that its roots go anywhere; nothing without a start.
std::optional<RecursionSpec> freed(const RecursionSpec& spec, const Brief& brief);

// What it is made of at a sample rate.
Expected<Coefficients> coefficients_of(const RecursionSpec& spec, double sample_rate_hz);

// Taps where nothing is fed back, else sections of the polynomials' zeros (polynomial_zeros.h); up
// to the second order the coefficients themselves. The note says so when they, multiplied out
// again, are off by more than 1e-10. Refuses, naming the place: no or more than 201 coefficients,
// one that is not finite, a[0] = 0, an analog channel.
Expected<Design> design(const RecursionSpec& spec, const Brief& brief, const Watch& watch);
bool is_quick(const RecursionSpec& spec);

std::string title_of(const RecursionSpec& spec);
std::string summary_of(const RecursionSpec& spec);
std::string spoken_name_of(const RecursionSpec& spec);

} // namespace syntonon
