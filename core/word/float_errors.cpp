// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/float_errors.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace syntonon {
namespace {

int mantissa(const Word& word) {
    return word.kind == WordKind::float32 ? 24 : 53;
}

// The power of two of a value's last bit, as one of so many; nothing for 0.
std::optional<int> last_bit(double value, int bits) {
    if (value == 0) {
        return std::nullopt;
    }
    return std::ilogb(value) - bits + 1;
}

// Of a number whose last bits may be 0.
std::optional<int> last_bit_set(double value) {
    if (value == 0) {
        return std::nullopt;
    }
    int exponent = 0;
    auto whole = static_cast<std::int64_t>(std::ldexp(std::frexp(value, &exponent), 53));
    exponent -= 53;
    while (whole % 2 == 0) {
        whole /= 2;
        ++exponent;
    }
    return exponent;
}

// What is cut off of a value, whose finest bit is that, as it becomes one of so many bits.
double error_power(double value, int finest, int bits) {
    const auto last = last_bit(value, bits);
    if (!last || *last <= finest) {
        return 0;
    }
    const double cut = std::exp2(2.0 * (finest - *last));
    return std::exp2(2.0 * *last) / 12 * (1 - cut);
}

// A sum of the network with what is known of it beforehand.
struct WatchedNode {
    struct Operand {
        std::size_t signal;
        double factor;
        int bits;           // of the signal's values
        int last_of_factor; // its last bit that is set
    };
    std::vector<Operand> operands;
    int bits = 53; // of its own values
    double power = 0;
};

class WatchedRun {
public:
    WatchedRun(const Network& network, std::span<const double> values, const Arithmetic& how)
        : network_(network), signals_(1 + network.next.size() + network.sums.size()) {
        for (const NetworkSum& sum : network.sums) {
            WatchedNode node;
            node.bits = mantissa(sum.name.empty() ? how.accumulator : how.state);
            for (const NetworkProduct& p : sum.products) {
                add_operand(p, values, how, node);
            }
            nodes_.push_back(std::move(node));
        }
    }

    double step(double x, bool counts) {
        signals_[0] = x;
        for (std::size_t j = 0; j < nodes_.size(); ++j) {
            signals_[first_sum() + j] = value_of(nodes_[j], counts);
        }
        const double out = signals_[first_sum() + static_cast<std::size_t>(network_.output)];
        std::vector<double> after;
        for (const NetworkSignal& next : network_.next) {
            after.push_back(signals_[place_of(next)]);
        }
        std::ranges::copy(after, signals_.begin() + 1);
        return out;
    }
    const std::vector<WatchedNode>& nodes() const { return nodes_; }

private:
    std::size_t first_sum() const { return 1 + network_.next.size(); }
    std::size_t place_of(const NetworkSignal& signal) const {
        const auto index = static_cast<std::size_t>(signal.index);
        return signal.from == NetworkSignal::From::input   ? 0
               : signal.from == NetworkSignal::From::state ? 1 + index
                                                           : first_sum() + index;
    }
    // What a signal's values are rounded to.
    int bits_of(const NetworkSignal& signal, const Arithmetic& how) const {
        if (signal.from == NetworkSignal::From::sum) {
            return nodes_[static_cast<std::size_t>(signal.index)].bits;
        }
        return mantissa(carries_input(signal, network_) ? how.data : how.state);
    }
    void add_operand(const NetworkProduct& p, std::span<const double> values, const Arithmetic& how,
                     WatchedNode& node) const {
        const double value =
            p.coefficient >= 0 ? values[static_cast<std::size_t>(p.coefficient)] : 1;
        const double factor = (p.subtracted ? -value : value) * (p.doubled ? 2 : 1);
        if (const auto last = last_bit_set(factor)) {
            node.operands.push_back({place_of(p.signal), factor, bits_of(p.signal, how), *last});
        }
    }
    double value_of(WatchedNode& node, bool counts) {
        double value = 0;
        std::optional<int> finest;
        for (const WatchedNode::Operand& operand : node.operands) {
            const double signal = signals_[operand.signal];
            value += operand.factor * signal;
            if (const auto last = last_bit(signal, operand.bits)) {
                finest = std::min(finest.value_or(*last + operand.last_of_factor),
                                  *last + operand.last_of_factor);
            }
        }
        if (counts && finest) {
            node.power += error_power(value, *finest, node.bits);
        }
        return value;
    }

    const Network& network_;
    std::vector<WatchedNode> nodes_;
    std::vector<double> signals_;
};

} // namespace

FloatErrors float_errors(const Network& step_by_step, std::span<const double> values,
                         const Arithmetic& how, std::span<double> signal) {
    WatchedRun run(step_by_step, values, how);
    FloatErrors errors;
    const std::size_t from = signal.size() / 2;
    const auto counted = static_cast<double>(std::max(signal.size() - from, std::size_t{1}));
    for (std::size_t n = 0; n < signal.size(); ++n) {
        signal[n] = run.step(signal[n], n >= from);
        if (const auto last = last_bit(signal[n], mantissa(how.state)); last && n >= from) {
            errors.of_output += error_power(signal[n], *last, mantissa(how.data)) / counted;
        }
    }
    for (const WatchedNode& node : run.nodes()) {
        errors.of_sums.push_back(node.power / counted);
    }
    return errors;
}

} // namespace syntonon
