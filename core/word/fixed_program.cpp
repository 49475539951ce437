// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/fixed_program.h"

#include <algorithm>
#include <bit>

namespace syntonon {
namespace {

int bits_for(std::size_t count) { // by which a sum of so many may be longer than each
    return static_cast<int>(std::bit_width(std::max(count, std::size_t{1}) - 1));
}

} // namespace

FixedProgram fixed_program(const Network& network, const Arithmetic& how) {
    const Word numbers = coefficient_values(how);
    FixedProgram program;
    program.to_state = how.accumulator.fraction_bits - how.state.fraction_bits;
    program.to_data = how.state.fraction_bits - how.data.fraction_bits;
    for (const NetworkSum& sum : network.sums) {
        std::vector<FixedProduct> products;
        int widest = how.accumulator.bits();
        for (const NetworkProduct& p : sum.products) {
            const Word& word = carries_input(p.signal, network) ? how.data : how.state;
            const bool has_number = p.coefficient >= 0;
            const int fraction = word.fraction_bits + (has_number ? numbers.fraction_bits : 0);
            const int places = fraction - how.accumulator.fraction_bits;
            const int bits = word.bits() + (has_number ? numbers.bits() : 0) + (p.doubled ? 1 : 0);
            widest = std::max(widest, bits + std::max(0, -places) + 1);
            products.push_back({p, places});
        }
        program.widest_sum_bits =
            std::max(program.widest_sum_bits, widest + bits_for(products.size() + 1));
        program.sums.push_back(std::move(products));
    }
    return program;
}

FixedTaps fixed_taps(std::size_t count, const Arithmetic& how) {
    const Word numbers = coefficient_values(how);
    const int fraction = numbers.fraction_bits + how.data.fraction_bits;
    FixedTaps made;
    made.to_sum = fraction - how.accumulator.fraction_bits;
    made.to_data = how.accumulator.fraction_bits - how.data.fraction_bits;
    const int product = numbers.bits() + how.data.bits() + std::max(0, -made.to_sum);
    made.widest_sum_bits = std::max(product, how.accumulator.bits()) + bits_for(count);
    return made;
}

} // namespace syntonon
