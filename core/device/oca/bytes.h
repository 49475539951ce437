// Values as OCP.1 writes them (AES70-3, "Data type marshaling"): big-endian, one after the other.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <concepts>
#include <cstddef>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon::oca {

using Bytes = std::vector<std::uint8_t>;
using ByteView = std::span<const std::uint8_t>;

class Writer {
public:
    Writer& u8(std::uint8_t value);
    Writer& u16(std::uint16_t value);
    Writer& u32(std::uint32_t value);
    Writer& f32(float value);
    Writer& boolean(bool value) { return u8(value ? 1 : 0); }
    // OcaString: the number of characters (code points), then UTF-8. Cut at 65535 characters.
    Writer& text(std::string_view value);
    Writer& blob(ByteView value); // OcaBlob: its length in 16 bits, cut at 65535
    Writer& raw(ByteView value);
    // OcaList<OcaFloat32>: how many in 16 bits; the caller keeps within them.
    Writer& floats(std::span<const float> values);

    // Puts a number over one that was written there.
    void u32_at(std::size_t place, std::uint32_t value);
    std::size_t size() const { return bytes_.size(); }
    const Bytes& bytes() const& { return bytes_; }
    Bytes bytes() && { return std::move(bytes_); }

private:
    Bytes bytes_;
};

// Reads what somebody sent: never beyond its end. After the first value that is not there all are
// 0 or empty, and ok() is false.
class Reader {
public:
    explicit Reader(ByteView bytes) : bytes_(bytes) {}

    std::uint8_t u8();
    std::uint16_t u16();
    std::uint32_t u32();
    float f32();
    bool boolean() { return u8() != 0; }
    std::string text(); // not ok where that is no UTF-8
    Bytes blob();
    std::vector<float> floats();
    ByteView raw(std::size_t count);
    ByteView rest(); // all that has not been read
    // A list's count, as far as so many elements of at least that size can be there at all.
    std::size_t count_of(std::size_t least_bytes);

    bool ok() const { return ok_; }
    std::size_t left() const { return bytes_.size() - at_; }
    bool is_at_end() const { return ok_ && left() == 0; }
    void fail() { ok_ = false; }

private:
    template <std::unsigned_integral T>
    T number();

    ByteView bytes_;
    std::size_t at_ = 0;
    bool ok_ = true;
};

} // namespace syntonon::oca
