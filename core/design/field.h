// The fields of a spec, listed once: for reading, writing, checking, editing and sweeping them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/quantity.h"

#include <cmath>
#include <cstddef>
#include <fmt/format.h>
#include <functional>
#include <optional>
#include <span>
#include <string_view>

namespace syntonon {

enum class FieldSteps { by_ratio, by_tenth, by_one, whole }; // whole: only whole numbers

template <class Spec>
struct NumberField {
    std::string_view key; // in the study file
    const char* caption;  // for people, without the unit
    const char* unit;     // empty: none
    Dimension dimension;
    double least, most;                        // both allowed
    FieldSteps steps;                          // how it is scrubbed and swept
    std::optional<double> (*get)(const Spec&); // nothing where it does not apply
    void (*set)(Spec&, double);
};

// For kinds without numbers.
template <class Spec>
std::span<const NumberField<Spec>> no_fields() {
    return {};
}

// Refuses, naming the field, a number that is out of its range or none.
template <class Spec>
Expected<void> check_fields(const Spec& spec) {
    for (const NumberField<Spec>& field : fields_of(spec)) {
        const auto value = field.get(spec);
        if (value && !(*value >= field.least && *value <= field.most)) {
            return refuse(std::string(field.key),
                          std::isfinite(*value) ? fmt::format("{} is out of range", *value)
                                                : "is not a finite number",
                          fmt::format("stay between {} and {}", field.least, field.most));
        }
    }
    return {};
}

// Equal specs have equal ones.
template <class Spec>
std::size_t hash_of_fields(const Spec& spec) {
    std::size_t hash = 0;
    for (const NumberField<Spec>& field : fields_of(spec)) {
        const auto value = field.get(spec);
        hash = hash * 1000003 + (value ? std::hash<double>()(*value) : 1);
    }
    return hash;
}

} // namespace syntonon
