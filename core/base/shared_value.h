// A value that is cheap to copy: copies share it until one of them is edited.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <memory>
#include <utility>

namespace syntonon {

// Reads like a pointer to const; edit() gives a T of one's own. An undo history of whole studies
// then costs only what changed between them.
template <class T>
class SharedValue {
public:
    SharedValue() : value_(std::make_shared<T>()) {}
    SharedValue(T value) : value_(std::make_shared<T>(std::move(value))) {}

    const T& operator*() const { return *value_; }
    const T* operator->() const { return value_.get(); }

    T& edit() {
        if (value_.use_count() != 1) {
            value_ = std::make_shared<T>(*value_);
        }
        return *value_;
    }

    // True when both are the very same object, which is quicker to know than equality.
    bool same_as(const SharedValue& other) const { return value_ == other.value_; }
    bool operator==(const SharedValue& other) const {
        return value_ == other.value_ || *value_ == *other.value_;
    }

private:
    std::shared_ptr<T> value_;
};

} // namespace syntonon
