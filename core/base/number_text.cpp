// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/number_text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {

std::optional<double> number_from_text(std::string_view text) {
    if (text.size() > 1 && text.front() == '+' && text[1] != '-') {
        text.remove_prefix(1);
    }
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size()) {
        return std::nullopt;
    }
    return value;
}

std::string shortest_text(double value) {
    return fmt::format("{}", value);
}

std::string text_with_digits(double value, int digits) {
    return fmt::format("{:.{}g}", value, std::clamp(digits, 1, 17));
}

std::string signed_text(double value, int places) {
    std::string text = fmt::format("{:+.{}f}", value, places);
    const bool is_zero = text.find_first_of("123456789") == std::string::npos;
    if (std::isfinite(value) && is_zero) {
        return text.substr(1);
    }
    if (text.front() == '-') {
        text.replace(0, 1, "−");
    }
    return text;
}

namespace {

std::string plain_text(double shown, int digits) {
    // {:g} would change to an exponent for 870 at two digits; whole numbers stay whole.
    const int places =
        shown == 0 || !std::isfinite(shown)
            ? 0
            : std::max(0, digits - 1 - static_cast<int>(std::floor(std::log10(std::abs(shown)))));
    std::string text = fmt::format("{:.{}f}", shown, places);
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.') {
            text.pop_back();
        }
    }
    return text;
}

} // namespace

std::string frequency_text(double hz, int digits) {
    const bool kilo = std::abs(hz) >= 1000.0;
    return plain_text(kilo ? hz / 1000.0 : hz, digits) + (kilo ? " kHz" : " Hz");
}

std::string frequency_range_text(double from_hz, double to_hz, int digits) {
    const bool kilo = std::abs(to_hz) >= 1000.0;
    const double unit = kilo ? 1000.0 : 1.0;
    return plain_text(from_hz / unit, digits) + "–" + plain_text(to_hz / unit, digits)
           + (kilo ? " kHz" : " Hz");
}

std::string time_text(double seconds, int digits) {
    const double size = std::abs(seconds);
    return size >= 1                   ? plain_text(seconds, digits) + " s"
           : size >= 1e-3 || size == 0 ? plain_text(seconds * 1e3, digits) + " ms"
                                       : plain_text(seconds * 1e6, digits) + " µs";
}

std::string_view trimmed(std::string_view text) {
    constexpr std::string_view blanks = " \t\r\n\v\f";
    const auto first = text.find_first_not_of(blanks);
    if (first == std::string_view::npos) {
        return {};
    }
    return text.substr(first, text.find_last_not_of(blanks) - first + 1);
}

std::string lower_case(std::string_view text) {
    std::string lower(text);
    std::ranges::transform(lower, lower.begin(), [](unsigned char c) {
        return static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
    });
    return lower;
}

} // namespace syntonon
