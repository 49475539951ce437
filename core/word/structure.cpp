// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/structure.h"

#include "core/word/linear_network.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon {
namespace {
namespace networks { // their short names are nobody else's

using From = NetworkSignal::From;

constexpr NetworkSignal in{From::input, 0};
constexpr NetworkSignal state(int index) {
    return {From::state, index};
}
constexpr NetworkSignal sum(int index) {
    return {From::sum, index};
}
constexpr NetworkProduct plus(int coefficient, NetworkSignal signal) {
    return {coefficient, signal};
}
constexpr NetworkProduct minus(int coefficient, NetworkSignal signal) {
    return {coefficient, signal, true};
}
constexpr NetworkProduct alone(NetworkSignal signal) {
    return {-1, signal};
}
constexpr NetworkProduct twice(NetworkSignal signal) {
    return {-1, signal, false, true};
}

// b0 b1 b2 a1 a2, by their places.
enum DirectNumber { b0, b1, b2, a1, a2 };
const std::vector<std::string_view> direct = {"b0", "b1", "b2", "a1", "a2"};
const std::vector<std::size_t> direct_poles = {a1, a2}, direct_outputs = {b0, b1, b2};

const Network direct_form_1{direct,
                            {{"y",
                              {plus(b0, in), plus(b1, state(0)), plus(b2, state(1)),
                               minus(a1, state(2)), minus(a2, state(3))}}},
                            {in, state(0), sum(0), state(2)},
                            0,
                            direct_poles,
                            direct_outputs};
const Network error_feedback{direct_form_1.coefficients,
                             direct_form_1.sums,
                             direct_form_1.next,
                             0,
                             direct_poles,
                             direct_outputs,
                             true};
const Network direct_form_2{direct,
                            {{"w", {alone(in), minus(a1, state(0)), minus(a2, state(1))}},
                             {"y", {plus(b0, sum(0)), plus(b1, state(0)), plus(b2, state(1))}}},
                            {sum(0), state(0)},
                            1,
                            direct_poles,
                            direct_outputs};
const Network transposed_form_1{direct,
                                {{"w", {alone(in), alone(state(0))}},
                                 {"p1", {minus(a1, sum(0)), alone(state(1))}},
                                 {"p2", {minus(a2, sum(0))}},
                                 {"y", {plus(b0, sum(0)), alone(state(2))}},
                                 {"q1", {plus(b1, sum(0)), alone(state(3))}},
                                 {"q2", {plus(b2, sum(0))}}},
                                {sum(1), sum(2), sum(4), sum(5)},
                                3,
                                direct_poles,
                                direct_outputs};
const Network transposed_form_2{direct,
                                {{"y", {plus(b0, in), alone(state(0))}},
                                 {"s1", {plus(b1, in), minus(a1, sum(0)), alone(state(1))}},
                                 {"s2", {plus(b2, in), minus(a2, sum(0))}}},
                                {sum(1), sum(2)},
                                0,
                                direct_poles,
                                direct_outputs};
// d, c1, c2: what input and states give the output; g: the input's share of the first state.
enum CoupledNumber { d, c1, c2, g, p, q };
const Network coupled_complex{{"d", "c1", "c2", "g", "p", "q"},
                              {{"y", {plus(d, in), plus(c1, state(0)), plus(c2, state(1))}},
                               {"s1", {plus(g, in), plus(p, state(0)), plus(q, state(1))}},
                               {"s2", {plus(p, state(1)), minus(q, state(0))}}},
                              {sum(1), sum(2)},
                              0,
                              {p, q},
                              {d, c1, c2}};
const Network coupled_real{{"d", "c1", "c2", "g", "p1", "p2"},
                           {{"y", {plus(d, in), plus(c1, state(0)), plus(c2, state(1))}},
                            {"s1", {plus(g, in), plus(p, state(0))}},
                            {"s2", {alone(state(0)), plus(q, state(1))}}},
                           {sum(1), sum(2)},
                           0,
                           {p, q},
                           {d, c1, c2}};
enum LatticeNumber { k1, l1, k2, l2, v0, v1, v2 }; // l1, l2: the rotations' other numbers
const Network normalised_lattice{{"k1", "c1", "k2", "c2", "v0", "v1", "v2"},
                                 {{"f1", {plus(l2, in), minus(k2, state(1))}},
                                  {"g2", {plus(k2, in), plus(l2, state(1))}},
                                  {"f0", {plus(l1, sum(0)), minus(k1, state(0))}},
                                  {"g1", {plus(k1, sum(0)), plus(l1, state(0))}},
                                  {"y", {plus(v0, sum(2)), plus(v1, sum(3)), plus(v2, sum(1))}}},
                                 {sum(2), sum(3)},
                                 4,
                                 {k1, l1, k2, l2},
                                 {v0, v1, v2}};
// g: tan(w / 2), r: damping plus g, h: 1 / (1 + g r); m: what input, band and low give the output.
enum VariableNumber { svf_g, svf_r, svf_h, m0, m1, m2 };
const Network state_variable{{"g", "r", "h", "m0", "m1", "m2"},
                             {{"u", {alone(in), minus(svf_r, state(0)), {-1, state(1), true}}},
                              {"high", {plus(svf_h, sum(0))}},
                              {"band", {plus(svf_g, sum(1)), alone(state(0))}},
                              {"low", {plus(svf_g, sum(2)), alone(state(1))}},
                              {"y", {plus(m0, in), plus(m1, sum(2)), plus(m2, sum(3))}},
                              {"s1", {twice(sum(2)), {-1, state(0), true}}},
                              {"s2", {twice(sum(3)), {-1, state(1), true}}}},
                             {sum(5), sum(6)},
                             4,
                             {svf_g, svf_r, svf_h},
                             {m0, m1, m2}};

} // namespace networks

// A power of two by which the input is so small that no sine of full scale takes a state, which
// answers by so much at most, beyond it.
double held_down(double answer) {
    return answer > 1 && std::isfinite(answer) ? std::exp2(std::floor(-std::log2(answer))) : 1;
}

// The input's share: as above, but not so small that what comes out would have to be multiplied by
// more than 2, which few words hold.
double input_share(double answer, double out1, double out2) {
    const double most = std::max(std::abs(out1), std::abs(out2));
    return most > 0 ? std::max(held_down(answer), std::exp2(std::ceil(std::log2(most / 1.999))))
                    : held_down(answer);
}

// With c(z) = (b1 - b0 a1) z + (b2 - b0 a2), H = b0 + c(z) / (z^2 + a1 z + a2).
std::optional<StructuredSection> in_coupled_form(const Biquad& s) {
    const double first = s.b1 - s.b0 * s.a1, last = s.b2 - s.b0 * s.a2;
    const double middle = -s.a1 / 2, square = s.a2 - middle * middle;
    if (square > 0) {
        const double turn = std::sqrt(square);
        // States are sums of the answers of both poles, half of each.
        const double radius = std::sqrt(s.a2);
        const std::complex<double> pole(middle, turn);
        const double own = 1 / (1 - radius), other = 1 / std::abs(1.0 - pole * pole / radius);
        const double second = -(last + first * middle) / turn;
        const double in_share = input_share((own + other) / 2, first, second);
        return StructuredSection{
            false, {s.b0, first / in_share, second / in_share, in_share, middle, turn}};
    }
    // The larger pole first, the other from the product: nothing cancels.
    const double root = std::sqrt(-square);
    const double large = middle < 0 ? middle - root : middle + root;
    const double small = large == 0 ? 0 : s.a2 / large;
    const double second = last + first * small;
    const double in_share =
        input_share(1 / ((1 - std::abs(large)) * (1 - std::abs(small))), first, second);
    return StructuredSection{true,
                             {s.b0, first / in_share, second / in_share, in_share, large, small}};
}

std::optional<StructuredSection> in_lattice(const Biquad& s) {
    const double second = s.a2, once = s.a1 / (1 + s.a2);
    if (!(std::abs(once) < 1 && std::abs(second) < 1)) {
        return std::nullopt;
    }
    const double c_once = std::sqrt((1 - once) * (1 + once));
    const double c_second = std::sqrt((1 - second) * (1 + second));
    const double tap1 = (s.b1 - s.b2 * s.a1) / c_second;
    const double tap0 = (s.b0 - s.b2 * second - tap1 * c_second * once) / (c_once * c_second);
    return StructuredSection{false, {once, c_once, second, c_second, tap0, tap1, s.b2}};
}

// With s = (z - 1) / (g (z + 1)) the loop's s^2 + k s + 1 has these coefficients in z.
std::optional<StructuredSection> in_state_variables(const Biquad& s) {
    const double at_0 = 1 + s.a1 + s.a2, at_half_rate = 1 - s.a1 + s.a2;
    if (!(at_0 > 0 && at_half_rate > 0 && s.a2 < 1)) {
        return std::nullopt;
    }
    const double step = std::sqrt(at_0 / at_half_rate), whole = 4 / at_half_rate;
    const double damping_step = (1 - s.a2) * whole / 2;
    const double high = (s.b0 - s.b1 + s.b2) / at_half_rate;
    const double low = (s.b0 + s.b1 + s.b2) / at_0 - high;
    const double band = ((s.b0 - s.b2) * whole / 2 - high * damping_step) / step;
    return StructuredSection{
        false,
        {step, damping_step / step + step, 1 / (1 + damping_step + step * step), high, band, low}};
}

constexpr NamedValue<Structure> all_structures[] = {
    {Structure::direct_form_1, "direct_form_1", "direct form I"},
    {Structure::direct_form_2, "direct_form_2", "direct form II"},
    {Structure::transposed_form_1, "transposed_form_1", "transposed form I"},
    {Structure::transposed_form_2, "transposed_form_2", "transposed form II"},
    {Structure::coupled_form, "coupled_form", "coupled form"},
    {Structure::normalised_lattice, "normalised_lattice", "normalised lattice"},
    {Structure::state_variable, "state_variable", "state-variable"},
    {Structure::error_feedback, "error_feedback", "direct form I, error fed back"}};

} // namespace

std::span<const NamedValue<Structure>> structures() {
    return all_structures;
}

int Network::multiplies() const {
    int count = 0;
    for (const NetworkSum& each : sums) {
        count += static_cast<int>(
            std::ranges::count_if(each.products, [](auto& one) { return one.coefficient >= 0; }));
    }
    return count;
}

int Network::adds() const {
    int count = feeds_error_back ? 1 : 0;
    for (const NetworkSum& each : sums) {
        count += static_cast<int>(each.products.size()) - 1;
    }
    return count;
}

const Network& network_of(Structure structure, bool real_poles) {
    switch (structure) {
    case Structure::direct_form_1:
        return networks::direct_form_1;
    case Structure::direct_form_2:
        return networks::direct_form_2;
    case Structure::transposed_form_1:
        return networks::transposed_form_1;
    case Structure::transposed_form_2:
        return networks::transposed_form_2;
    case Structure::coupled_form:
        return real_poles ? networks::coupled_real : networks::coupled_complex;
    case Structure::normalised_lattice:
        return networks::normalised_lattice;
    case Structure::state_variable:
        return networks::state_variable;
    case Structure::error_feedback:
        break;
    }
    return networks::error_feedback;
}

bool carries_input(const NetworkSignal& signal, const Network& network) {
    return signal.from == NetworkSignal::From::input
           || (signal.from == NetworkSignal::From::state
               && carries_input(network.next[static_cast<std::size_t>(signal.index)], network));
}

Network step_by_step(const Network& network) {
    Network made = network;
    made.sums.clear();
    std::vector<int> ends; // where each of the network's sums is now
    const auto moved = [&](NetworkSignal signal) {
        return signal.from == NetworkSignal::From::sum
                   ? networks::sum(ends[static_cast<std::size_t>(signal.index)])
                   : signal;
    };
    const auto add = [&](std::string_view name, std::vector<NetworkProduct> products) {
        made.sums.push_back({name, std::move(products)});
        return networks::sum(static_cast<int>(made.sums.size()) - 1);
    };
    for (const NetworkSum& sum : network.sums) {
        std::optional<NetworkSignal> total;
        for (NetworkProduct p : sum.products) {
            p.signal = moved(p.signal);
            const NetworkSignal product = add("", {p});
            total = total ? add("", {networks::alone(*total), networks::alone(product)}) : product;
        }
        ends.push_back(add(sum.name, {networks::alone(*total)}).index);
    }
    std::ranges::transform(made.next, made.next.begin(), moved);
    made.output = ends[static_cast<std::size_t>(network.output)];
    return made;
}

std::optional<StructuredSection> structured(const Biquad& section, Structure structure) {
    switch (structure) {
    case Structure::coupled_form:
        return in_coupled_form(section);
    case Structure::normalised_lattice:
        return in_lattice(section);
    case Structure::state_variable:
        return in_state_variables(section);
    default:
        break;
    }
    return StructuredSection{false, {section.b0, section.b1, section.b2, section.a1, section.a2}};
}

Biquad biquad_of(const StructuredSection& section, Structure structure) {
    const Network& network = network_of(structure, section.real_poles);
    const auto& v = section.values;
    if (network.coefficients.size() == 5) { // of a direct form
        return {v[0], v[1], v[2], v[3], v[4]};
    }
    // H = D + C (z - A)^-1 B of two states.
    const LinearNetwork linear = linear_network(network, v);
    const LinearSignal &first = linear.next[0], &second = linear.next[1];
    const double a11 = first.states[0], a12 = first.states[1];
    const double a21 = second.states[0], a22 = second.states[1];
    const double in1 = first.input, in2 = second.input, through = linear.output.input;
    const double out1 = linear.output.states[0], out2 = linear.output.states[1];
    const double trace = a11 + a22, determinant = a11 * a22 - a12 * a21;
    return {through, out1 * in1 + out2 * in2 - through * trace,
            out1 * (a12 * in2 - a22 * in1) + out2 * (a21 * in1 - a11 * in2) + through * determinant,
            -trace, determinant};
}

} // namespace syntonon
