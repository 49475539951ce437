// What holds of a chain and its networks, exactly: found by checking, never assumed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/study/chain.h"
#include "core/study/part_curves.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct Identity {
    std::string words;               // "Split sums to one"
    std::vector<std::string> stages; // ids of those it tells of; none: the whole chain
};

// A rational H of order n is the same everywhere when it is at more than 2 n points (and |H| is
// when it is at more than n, since |H|^2 is a quotient of cosine polynomials of degree n): so many
// are looked at, to within a billionth. Minimum phase is read from the roots, where they can be had
// and lie clear of the circle. What is too long for that is not told of.
bool is_all_pass(const Filter& filter);      // of constant level, but not of constant phase
bool is_constant(const Filter& filter);      // a gain and nothing else
bool is_minimum_phase(const Filter& filter); // and stable: no excess phase
// The samples it delays by, at a gain of 1.
std::optional<double> pure_delay_samples(const Filter& filter);
bool are_inverse(const Filter& a, const Filter& b);             // but for a gain
bool are_power_complementary(const Filter& a, const Filter& b); // |A|^2 + |B|^2 = 1

// Of the chain, of stages in it that hold others, and of pairs of stages in one row that cancel, of
// what is switched on.
std::vector<Identity> identities_of(const Chain& chain, const Filter& whole,
                                    const FilterOfStage& filter_of);

} // namespace syntonon
