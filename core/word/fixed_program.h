// A network in fixed words, step by step: what is shifted by how much.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/arithmetic.h"
#include "core/word/structure.h"

#include <vector>

namespace syntonon {

struct FixedProduct {
    NetworkProduct product;
    int places = 0; // by which it is shifted down, or up, into the accumulator
};
struct FixedProgram {
    std::vector<std::vector<FixedProduct>> sums; // parallel to the network's
    int to_state = 0;                            // from the accumulator into the states' word
    int to_data = 0;                             // from there into the data's
    // Of an accumulator that loses nothing of what comes in, with its sign.
    int widest_sum_bits = 0;
};
FixedProgram fixed_program(const Network& network, const Arithmetic& how);

// The same of an FIR: from products into the accumulator, and from there into the data's word.
struct FixedTaps {
    int to_sum = 0, to_data = 0;
    int widest_sum_bits = 0;
};
FixedTaps fixed_taps(std::size_t count, const Arithmetic& how);

} // namespace syntonon
