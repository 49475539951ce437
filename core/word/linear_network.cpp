// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/linear_network.h"

namespace syntonon {
namespace {

// Every signal as a sum of states, input and the errors of the sums.
struct SignalRow {
    LinearSignal of;
    std::vector<double> errors;

    void add(const SignalRow& other, double factor) {
        for (std::size_t i = 0; i < of.states.size(); ++i) {
            of.states[i] += factor * other.of.states[i];
        }
        of.input += factor * other.of.input;
        for (std::size_t i = 0; i < other.errors.size(); ++i) {
            errors[i] += factor * other.errors[i];
        }
    }
};

SignalRow row_of(const NetworkSignal& signal, const std::vector<SignalRow>& sums,
                 std::size_t errors) {
    SignalRow row{{}, std::vector<double>(errors)};
    switch (signal.from) {
    case NetworkSignal::From::input:
        row.of.input = 1;
        return row;
    case NetworkSignal::From::state:
        row.of.states[static_cast<std::size_t>(signal.index)] = 1;
        return row;
    case NetworkSignal::From::sum:
        break;
    }
    return sums[static_cast<std::size_t>(signal.index)];
}

} // namespace

LinearNetwork linear_network(const Network& network, std::span<const double> values) {
    const std::size_t kept = network.next.size();
    const auto output = static_cast<std::size_t>(network.output);
    std::vector<SignalRow> sums;
    for (const NetworkSum& sum : network.sums) {
        SignalRow row{{}, std::vector<double>(network.sums.size())};
        for (const NetworkProduct& p : sum.products) {
            const double value =
                p.coefficient < 0 ? 1 : values[static_cast<std::size_t>(p.coefficient)];
            row.add(row_of(p.signal, sums, network.sums.size()),
                    value * (p.subtracted ? -1 : 1) * (p.doubled ? 2 : 1));
        }
        row.errors[sums.size()] = 1;
        if (network.feeds_error_back && sums.size() == output) {
            row.of.states[kept] = 1;
        }
        sums.push_back(row);
    }
    LinearNetwork made;
    made.states = kept + (network.feeds_error_back ? 1 : 0);
    made.injected.resize(sums.size());
    for (const NetworkSignal& signal : network.next) {
        const SignalRow row = row_of(signal, sums, sums.size());
        for (std::size_t j = 0; j < sums.size(); ++j) {
            made.injected[j].next[made.next.size()] = row.errors[j];
        }
        made.next.push_back(row.of);
    }
    if (network.feeds_error_back) {
        // What the sum lost by rounding is what was added to it, taken away again.
        made.injected[output].next[kept] = -1;
        made.next.emplace_back();
    }
    for (std::size_t j = 0; j < sums.size(); ++j) {
        made.sums.push_back(sums[j].of);
        made.injected[j].output = sums[output].errors[j];
    }
    made.output = sums[output].of;
    return made;
}

} // namespace syntonon
