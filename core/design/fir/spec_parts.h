// Parts of an FIR's settings that not every method has.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir.h"

#include <optional>
#include <variant>

namespace syntonon {

// Null where it is another method.
template <class Method>
const Method* method_as(const FirSpec& spec) {
    return std::get_if<Method>(&spec.method);
}

// Its own delay, whatever the method.
inline const std::optional<double>* own_delay(const FirSpec& spec) {
    return std::visit(
        []<class Method>(const Method& method) -> const std::optional<double>* {
            if constexpr (requires { method.delay_samples.has_value(); }) {
                return &method.delay_samples;
            }
            return nullptr;
        },
        spec.method);
}

} // namespace syntonon
