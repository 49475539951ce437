// Digits of texts that no locale changes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon {

inline bool is_digit(char c) {
    return c >= '0' && c <= '9';
}
inline bool is_hexadecimal(char c) {
    return is_digit(c) || (c >= 'a' && c <= 'f') || (c >= 'A' && c <= 'F');
}

} // namespace syntonon
