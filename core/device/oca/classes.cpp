// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/classes.h"

#include <algorithm>

namespace syntonon::oca {

std::optional<Kind> kind_of_class(const ClassId& id) {
    for (const KnownClass& known : known_classes) {
        if (id.size() >= known.id_size
            && std::equal(known.id.begin(),
                          known.id.begin() + static_cast<std::ptrdiff_t>(known.id_size),
                          id.begin())) {
            return known.kind;
        }
    }
    return std::nullopt;
}

const KnownClass& class_of(Kind kind) {
    return *std::ranges::find(known_classes, kind, &KnownClass::kind);
}

} // namespace syntonon::oca
