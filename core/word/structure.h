// The ways in which a second-order section is computed, each as a network of sums: one description
// for running it in words, for its noise, its headroom, its cost and its source text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/filter/biquad.h"

#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace syntonon {

// Sources: direct and transposed forms in A. V. Oppenheim and R. W. Schafer, Discrete-Time Signal
// Processing, 3rd ed., 2010, sections 6.3 and 6.4; coupled form: C. M. Rader and B. Gold, Effects
// of parameter quantization on the poles of a digital filter, Proc. IEEE 55, 1967; normalised
// lattice: A. H. Gray and J. D. Markel, A normalized digital filter structure, IEEE Trans. ASSP 23,
// 1975; state-variable: trapezoidal integrators, V. Zavalishin, The Art of VA Filter Design, 2018,
// section 4.4; error feedback of first order: T. Thong and B. Liu, Error spectrum shaping in
// narrow-band recursive filters, IEEE Trans. ASSP 25, 1977.
enum class Structure {
    direct_form_1,
    direct_form_2,
    transposed_form_1,
    transposed_form_2,
    coupled_form,
    normalised_lattice,
    state_variable,
    error_feedback // direct form I whose sum adds what the last one lost by rounding
};
std::span<const NamedValue<Structure>> structures();

struct NetworkSignal {
    enum class From { input, state, sum } from = From::input;
    int index = 0; // of the state or sum
    bool operator==(const NetworkSignal&) const = default;
};
struct NetworkProduct {
    int coefficient = 0; // which; -1: none, the signal itself
    NetworkSignal signal;
    bool subtracted = false;
    bool doubled = false;
};
struct NetworkSum {
    std::string_view name;
    std::vector<NetworkProduct> products;
};
// Of one sample: the sums in their order, each rounded to the word of the states; the output,
// rounded to the word of the data, is the last sum that `output` names; then every state takes its
// next value.
struct Network {
    std::vector<std::string_view> coefficients;
    std::vector<NetworkSum> sums;
    std::vector<NetworkSignal> next; // of each state
    int output = 0;                  // a sum
    // Which numbers make the poles, and which what comes out; others are not for tuning.
    std::vector<std::size_t> pole_numbers, output_numbers;
    bool feeds_error_back = false; // of the output's sum
    int multiplies() const;
    int adds() const;
};

// Two real poles have a coupled form of their own.
const Network& network_of(Structure structure, bool real_poles);

// Whether a signal is the input or a state that holds it, as direct form I's first two, and so a
// word of the data; all others are words of the states.
bool carries_input(const NetworkSignal& signal, const Network& network);

// The same with a sum for each product and each addition, and one of its own at the end of each of
// the network's sums, under its name: for words that are rounded at every step.
Network step_by_step(const Network& network);

// A section's numbers, in the order of its network's coefficients.
struct StructuredSection {
    bool real_poles = false; // counts for the coupled form only
    std::vector<double> values;

    bool operator==(const StructuredSection&) const = default;
};
// Nothing where the structure cannot hold the section: lattice and state-variable hold stable ones
// only, and the coupled form none with a double real pole at 1 or beyond.
std::optional<StructuredSection> structured(const Biquad& section, Structure structure);
// What the numbers, rounded or not, make: the transfer function of the network.
Biquad biquad_of(const StructuredSection& section, Structure structure);

} // namespace syntonon
