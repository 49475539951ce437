// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/c_number.h"

#include "core/base/number_text.h"

#include <fmt/format.h>

namespace syntonon {

std::string c_literal(std::string digits, bool is_single) {
    digits += digits.find_first_of(".e") == std::string::npos ? ".0" : "";
    return is_single ? digits + "f" : digits;
}

std::string c_number(double coefficient, const Arithmetic& how) {
    if (how.is_fixed()) {
        return std::to_string(whole_of(coefficient, how));
    }
    const bool is_single = how.coefficient.kind == WordKind::float32;
    return c_literal(is_single ? fmt::format("{:.9g}", static_cast<float>(coefficient))
                               : text_with_digits(coefficient, 17),
                     is_single);
}

} // namespace syntonon
