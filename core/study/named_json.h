// Choices by their keys in JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/study/json_reader.h"

#include <fmt/format.h>
#include <string>

namespace syntonon {

template <class Enum>
std::string_view key_of_named(std::span<const NamedValue<Enum>> all, Enum value) {
    return named(all, value).key;
}

// "a, b or c"
template <class Enum>
std::string keys_of(std::span<const NamedValue<Enum>> all) {
    std::string text;
    for (std::size_t i = 0; i < all.size(); ++i) {
        text += (i == 0 ? "" : i + 1 == all.size() ? " or " : ", ") + std::string(all[i].key);
    }
    return text;
}

// Absent it stays as it is.
template <class Enum>
void read_named(ObjectReader& object, std::string_view key, std::span<const NamedValue<Enum>> all,
                Enum& value) {
    if (!object.has(key)) {
        return;
    }
    const std::string text = object.text(key);
    const auto known = std::ranges::find(all, text, &NamedValue<Enum>::key);
    if (known == all.end()) {
        object.fail(key, fmt::format("“{}” is not known to this version", text),
                    "use " + keys_of(all));
        return;
    }
    value = known->value;
}

} // namespace syntonon
