// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/base64.h"

#include <array>
#include <bit>
#include <cstdint>
#include <cstring>

namespace syntonon {
namespace {

static_assert(std::endian::native == std::endian::little, "byte order is taken as it is in memory");

constexpr std::string_view alphabet =
    "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

constexpr std::array<std::int8_t, 256> reverse_alphabet() {
    std::array<std::int8_t, 256> table{};
    table.fill(-1);
    for (std::size_t i = 0; i < alphabet.size(); ++i) {
        table[static_cast<unsigned char>(alphabet[i])] = static_cast<std::int8_t>(i);
    }
    return table;
}

template <class Number>
std::string base64_from(const std::vector<Number>& values) {
    const auto* bytes = reinterpret_cast<const unsigned char*>(values.data());
    const std::size_t count = values.size() * sizeof(Number);
    std::string text;
    text.reserve((count + 2) / 3 * 4);
    for (std::size_t i = 0; i < count; i += 3) {
        const auto byte = [&](std::size_t k) {
            return std::uint32_t{i + k < count ? bytes[i + k] : 0u};
        };
        const std::uint32_t group = byte(0) << 16 | byte(1) << 8 | byte(2);
        text += alphabet[group >> 18];
        text += alphabet[group >> 12 & 63];
        text += i + 1 < count ? alphabet[group >> 6 & 63] : '=';
        text += i + 2 < count ? alphabet[group & 63] : '=';
    }
    return text;
}

template <class Number>
std::optional<std::vector<double>> numbers_from_base64(std::string_view text) {
    static constexpr auto digits = reverse_alphabet();
    if (text.size() % 4 != 0) {
        return std::nullopt;
    }
    std::size_t padding = 0;
    while (padding < 2 && !text.empty() && text.back() == '=') {
        text.remove_suffix(1);
        ++padding;
    }
    std::string bytes;
    bytes.reserve(text.size() / 4 * 3 + 3);
    std::uint32_t group = 0;
    int bits = 0;
    for (const char c : text) {
        const std::int8_t digit = digits[static_cast<unsigned char>(c)];
        if (digit < 0) {
            return std::nullopt;
        }
        group = group << 6 | static_cast<std::uint32_t>(digit);
        bits += 6;
        if (bits >= 8) {
            bits -= 8;
            bytes += static_cast<char>(group >> bits & 0xff);
        }
    }
    if (bytes.size() % sizeof(Number) != 0) {
        return std::nullopt;
    }
    std::vector<Number> values(bytes.size() / sizeof(Number));
    if (!values.empty()) { // memcpy must not see null, not even for nothing
        std::memcpy(values.data(), bytes.data(), bytes.size());
    }
    return std::vector<double>(values.begin(), values.end());
}

} // namespace

std::string base64_from_doubles(const std::vector<double>& values) {
    return base64_from(values);
}

std::string base64_from_floats(const std::vector<float>& values) {
    return base64_from(values);
}

std::optional<std::vector<double>> doubles_from_base64(std::string_view text) {
    return numbers_from_base64<double>(text);
}

std::optional<std::vector<double>> doubles_from_base64_floats(std::string_view text) {
    return numbers_from_base64<float>(text);
}

} // namespace syntonon
