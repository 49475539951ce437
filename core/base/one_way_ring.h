// A queue from one thread to one other that neither allocates nor locks.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <atomic>
#include <cstddef>
#include <optional>

namespace syntonon {

// Holds Size - 1 items at most; what is put into a full one is refused. (L. Lamport, Specifying
// concurrent program modules, ACM TOPLAS 5, 1983.)
template <class T, std::size_t Size>
class OneWayRing {
    static_assert((Size & (Size - 1)) == 0);

public:
    bool put(const T& item) noexcept { // by the one thread only
        const std::size_t at = written_.load(std::memory_order_relaxed);
        if (((at + 1) & (Size - 1)) == read_.load(std::memory_order_acquire)) {
            return false;
        }
        items_[at] = item;
        written_.store((at + 1) & (Size - 1), std::memory_order_release);
        return true;
    }
    std::optional<T> take() noexcept { // by the other thread only
        const std::size_t at = read_.load(std::memory_order_relaxed);
        if (at == written_.load(std::memory_order_acquire)) {
            return {};
        }
        const T item = items_[at];
        read_.store((at + 1) & (Size - 1), std::memory_order_release);
        return item;
    }

private:
    std::array<T, Size> items_{};
    std::atomic<std::size_t> written_ = 0, read_ = 0;
};

} // namespace syntonon
