// Choices by their plain names, in the study file ("inverse_chebyshev") and for people.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <span>
#include <string_view>

namespace syntonon {

template <class Enum>
struct NamedValue {
    Enum value;
    std::string_view key, title;
};

// Of those that name every value.
template <class Enum>
const NamedValue<Enum>& named(std::span<const NamedValue<Enum>> all, Enum value) {
    return *std::ranges::find(all, value, &NamedValue<Enum>::value);
}

} // namespace syntonon
