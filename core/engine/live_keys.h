// Keys that are pressed while something plays, on a keyboard, on the screen or over MIDI.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <atomic>
#include <cmath>
#include <cstddef>
#include <cstdint>

namespace syntonon {

// Any thread presses, any number of threads look; nobody waits.
class LiveKeys {
public:
    static constexpr std::size_t count = 128;

    struct State {
        std::uint32_t presses = 0; // so far
        double velocity = 0;       // 0: let go

        bool operator==(const State&) const = default;
    };

    // `velocity` above 0 to 1.
    void press(std::size_t key, double velocity) {
        const std::uint32_t presses = words_[key].load(std::memory_order_relaxed) >> velocity_bits;
        const auto size = static_cast<std::uint32_t>(std::lround(velocity * most_velocity));
        const std::uint32_t held = size < 1 ? 1 : size > most_velocity ? most_velocity : size;
        words_[key].store((presses + 1) << velocity_bits | held, std::memory_order_relaxed);
    }
    void release(std::size_t key) {
        const std::uint32_t presses = words_[key].load(std::memory_order_relaxed) >> velocity_bits;
        words_[key].store(presses << velocity_bits, std::memory_order_relaxed);
    }
    void release_all() {
        for (std::size_t key = 0; key < count; ++key) {
            release(key);
        }
    }
    State at(std::size_t key) const {
        const std::uint32_t word = words_[key].load(std::memory_order_relaxed);
        return {word >> velocity_bits, (word & most_velocity) / double(most_velocity)};
    }

private:
    static constexpr std::uint32_t velocity_bits = 7, most_velocity = 127;
    std::array<std::atomic<std::uint32_t>, count> words_{};
};

} // namespace syntonon
