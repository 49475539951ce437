// What a study file holds that this version does not know, kept so that saving loses nothing.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace syntonon {

// Members of an object, as the JSON text between its braces: it takes the room that it takes in the
// file, however many they are.
class UnknownKeys {
public:
    UnknownKeys() = default;
    // `key` with its quotes; both are JSON.
    void keep(std::string_view key, std::string_view value) {
        members_ += members_.empty() ? "" : ",";
        members_.append(key).append(":").append(value);
    }
    bool empty() const { return members_.empty(); }
    const std::string& members() const { return members_; }

    bool operator==(const UnknownKeys&) const = default;

private:
    std::string members_;
};

} // namespace syntonon
