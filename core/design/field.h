// The fields of a spec, listed once: for reading, writing, checking, editing and sweeping them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/quantity.h"

#include <algorithm>
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

// Numbers of one sort, as many as there are: coefficients, taps. One is named "b[3]".
template <class Spec>
struct NumberRow {
    std::string_view key; // in the study file, where it is written as such
    const char* caption;
    const char* unit;
    std::size_t (*count)(const Spec&);
    double (*get)(const Spec&, std::size_t); // at an index below the count
    void (*set)(Spec&, std::size_t, double);
    double least = -1e300, most = 1e300; // both allowed
    std::size_t first = 0;               // how people number the first one
};

// Kinds that have some bring rows_of(spec) along; the others have none.
template <class Spec>
std::span<const NumberRow<Spec>> number_rows(const Spec& spec) {
    if constexpr (requires { rows_of(spec); }) {
        return rows_of(spec);
    }
    return {};
}

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
    for (const NumberRow<Spec>& row : number_rows(spec)) {
        constexpr std::size_t enough = 16;
        const std::size_t count = row.count(spec);
        for (std::size_t i = 0; i < std::min(count, enough); ++i) {
            hash = hash * 1000003 + std::hash<double>()(row.get(spec, i));
        }
        hash = hash * 1000003 + count;
    }
    return hash;
}

} // namespace syntonon
