// Numbers to and from text, independent of the locale.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace syntonon {

// The whole of `text` as a number, or nothing. A leading '+' is allowed; "nan" and "inf" are read
// as such, so the caller decides what to say about them.
std::optional<double> number_from_text(std::string_view text);

// Shortest text that reads back as the same double ("0.1", "1e-20").
std::string shortest_text(double value);

// `digits` significant digits, trailing zeros removed; 17 digits read back as the same double.
std::string text_with_digits(double value, int digits);

// `places` digits after the point with a true minus sign or plus sign in front: "+3.20", "−4.60".
std::string signed_text(double value, int places);

// A frequency as a person writes it: "870 Hz", "2.41 kHz", "16 kHz". `digits` significant digits.
std::string frequency_text(double hz, int digits = 3);

// Two of them in one unit, the upper one's: "40–250 Hz", "0.25–16 kHz".
std::string frequency_range_text(double from_hz, double to_hz, int digits = 3);

// A time as a person writes it: "24 µs", "1.16 ms", "63.5 s".
std::string time_text(double seconds, int digits = 3);

// Text without blanks at its ends.
std::string_view trimmed(std::string_view text);

// A copy in lower case; ASCII only, other bytes are left alone.
std::string lower_case(std::string_view text);

} // namespace syntonon
