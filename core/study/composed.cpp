// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/composed.h"

#include <fmt/format.h>

namespace syntonon {

std::string short_number(double value) {
    const std::string number = fmt::format("{:.3g}", value);
    return number.starts_with('-') ? "−" + number.substr(1) : number;
}

} // namespace syntonon
