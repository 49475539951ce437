// Which channel and which position a file is of, by its name.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class NameRule {
    channel_first,  // "Zenith, row A", "zenith_row_A"
    position_first, // "row A - Zenith"
    position_only,  // all of them of one channel
    channel_only    // "low", "high": each of a channel of its own, as the ways of a loudspeaker
};

struct PositionName {
    std::string channel;  // one of the known ones as it is written there; empty: none
    std::string position; // never empty

    bool operator==(const PositionName&) const = default;
};

// A known channel counts where its name stands, however it is written, alone between parting signs
// (, ; - _ and blanks), the longest that does; else the word up to the first of them (or from the
// last of them on). What is left is the position; '_' is read as a blank.
PositionName position_name(std::string_view name, NameRule rule,
                           std::span<const std::string> channels);

// The first of the rules by which most names begin or end with a known channel; channel_first where
// most at least have several words.
NameRule likely_rule(std::span<const std::string> names, std::span<const std::string> channels);

// "row 2" before "row 10", capitals as small letters.
bool comes_before(std::string_view a, std::string_view b);

// A name that is not among the taken ones: "row A", "row A (2)".
std::string free_name(std::string_view wish, std::span<const std::string> taken);

// What comes next after one that ends in a number or a single capital: "row B" after "row A", "seat
// 10" after "seat 9"; the same where it ends in neither.
std::string next_position_name(std::string_view name);

} // namespace syntonon
