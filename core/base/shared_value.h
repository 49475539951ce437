// A value that is cheap to copy: copies share it until one of them is edited.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <atomic>
#include <cstddef>
#include <utility>

namespace syntonon {

// Reads like a pointer to const; edit() gives a T of one's own. An undo history of whole studies
// then costs only what changed between them. T need not be complete where a SharedValue is only
// copied and handed on. What was moved from may only be assigned to or destroyed.
//
// Copies may live in different threads, each reading and editing its own. std::shared_ptr would not
// do: its use_count() orders no memory, so "nobody else holds it" would not mean that everybody
// else's reading is over when the editing begins.
template <class T>
class SharedValue {
public:
    SharedValue() : held_(new Held(T())) {}
    SharedValue(T value) : held_(new Held(std::move(value))) {}
    SharedValue(const SharedValue& other) noexcept : held_(other.held_) {
        if (held_ != nullptr) {
            held_->count.fetch_add(1, std::memory_order_relaxed);
        }
    }
    SharedValue(SharedValue&& other) noexcept : held_(std::exchange(other.held_, nullptr)) {}
    SharedValue& operator=(SharedValue other) noexcept {
        std::swap(held_, other.held_);
        return *this;
    }
    ~SharedValue() {
        // Releases what was read, and where nobody is left acquires what all others have read.
        if (held_ != nullptr && held_->count.fetch_sub(1, std::memory_order_acq_rel) == 1) {
            held_->destroy(held_);
        }
    }

    const T& operator*() const { return value(); }
    const T* operator->() const { return &value(); }

    T& edit() {
        if (held_->count.load(std::memory_order_acquire) != 1) {
            *this = SharedValue(value());
        }
        return *held_->value;
    }

    // True when both are the very same object, which is quicker to know than equality.
    bool same_as(const SharedValue& other) const { return held_ == other.held_; }
    bool operator==(const SharedValue& other) const {
        return held_ == other.held_ || value() == other.value();
    }

private:
    struct Counted {
        std::atomic<std::size_t> count;
        T* value;
        void (*destroy)(Counted*);
    };
    struct Held : Counted {
        explicit Held(T made)
            : Counted{1, &own, [](Counted* counted) { delete static_cast<Held*>(counted); }},
              own(std::move(made)) {}
        T own;
    };
    const T& value() const { return *held_->value; }

    Counted* held_;
};

} // namespace syntonon
