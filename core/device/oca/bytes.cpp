// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/bytes.h"

#include <algorithm>
#include <bit>

namespace syntonon::oca {
namespace {

constexpr std::size_t most_in_16_bits = 0xffff;

template <std::unsigned_integral T>
void append(Bytes& bytes, T value) {
    for (int shift = 8 * (static_cast<int>(sizeof(T)) - 1); shift >= 0; shift -= 8) {
        bytes.push_back(static_cast<std::uint8_t>(value >> shift));
    }
}

// Of a character's first byte; 0: none begins so (RFC 3629, section 4).
std::size_t bytes_of_character(std::uint8_t first) {
    return first < 0x80   ? 1
           : first < 0xc2 ? 0
           : first < 0xe0 ? 2
           : first < 0xf0 ? 3
           : first < 0xf5 ? 4
                          : 0;
}
bool is_within_character(std::uint8_t byte) {
    return (byte & 0xc0) == 0x80;
}

} // namespace

Writer& Writer::u8(std::uint8_t value) {
    bytes_.push_back(value);
    return *this;
}

Writer& Writer::u16(std::uint16_t value) {
    append(bytes_, value);
    return *this;
}

Writer& Writer::u32(std::uint32_t value) {
    append(bytes_, value);
    return *this;
}

Writer& Writer::f32(float value) {
    return u32(std::bit_cast<std::uint32_t>(value));
}

Writer& Writer::text(std::string_view value) {
    std::size_t characters = 0, end = 0;
    while (end < value.size() && characters < most_in_16_bits) {
        do {
            ++end;
        } while (end < value.size() && is_within_character(static_cast<std::uint8_t>(value[end])));
        ++characters;
    }
    u16(static_cast<std::uint16_t>(characters));
    bytes_.insert(bytes_.end(), value.begin(), value.begin() + static_cast<std::ptrdiff_t>(end));
    return *this;
}

Writer& Writer::blob(ByteView value) {
    const ByteView kept = value.first(std::min(value.size(), most_in_16_bits));
    u16(static_cast<std::uint16_t>(kept.size()));
    return raw(kept);
}

Writer& Writer::raw(ByteView value) {
    bytes_.insert(bytes_.end(), value.begin(), value.end());
    return *this;
}

Writer& Writer::floats(std::span<const float> values) {
    u16(static_cast<std::uint16_t>(values.size()));
    for (const float value : values) {
        f32(value);
    }
    return *this;
}

void Writer::u32_at(std::size_t place, std::uint32_t value) {
    for (std::size_t i = 0; i < 4; ++i) {
        bytes_[place + i] = static_cast<std::uint8_t>(value >> (24 - 8 * i));
    }
}

ByteView Reader::raw(std::size_t count) {
    if (!ok_ || count > left()) {
        ok_ = false;
        return {};
    }
    at_ += count;
    return bytes_.subspan(at_ - count, count);
}

ByteView Reader::rest() {
    return raw(left());
}

template <std::unsigned_integral T>
T Reader::number() {
    T value = 0;
    for (const std::uint8_t byte : raw(sizeof(T))) {
        value = static_cast<T>(static_cast<std::uint64_t>(value) << 8 | byte);
    }
    return value;
}

std::uint8_t Reader::u8() {
    return number<std::uint8_t>();
}
std::uint16_t Reader::u16() {
    return number<std::uint16_t>();
}
std::uint32_t Reader::u32() {
    return number<std::uint32_t>();
}
float Reader::f32() {
    return std::bit_cast<float>(u32());
}

std::string Reader::text() {
    const std::size_t characters = u16();
    const ByteView after = ok_ ? bytes_.subspan(at_) : ByteView();
    std::size_t end = 0;
    for (std::size_t i = 0; ok_ && i < characters; ++i) {
        const std::size_t size = end < after.size() ? bytes_of_character(after[end]) : 0;
        ok_ = size > 0 && end + size <= after.size();
        for (std::size_t k = 1; ok_ && k < size; ++k) {
            ok_ = is_within_character(after[end + k]);
        }
        end += size;
    }
    const ByteView text = raw(end);
    return {text.begin(), text.end()};
}

Bytes Reader::blob() {
    const ByteView bytes = raw(u16());
    return {bytes.begin(), bytes.end()};
}

std::size_t Reader::count_of(std::size_t least_bytes) {
    const std::size_t count = u16();
    ok_ = ok_ && count * least_bytes <= left();
    return ok_ ? count : 0;
}

std::vector<float> Reader::floats() {
    std::vector<float> values(count_of(sizeof(float)));
    for (float& value : values) {
        value = f32();
    }
    return values;
}

} // namespace syntonon::oca
