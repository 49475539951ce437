// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/network_paths.h"

#include <Eigen/Dense>

namespace syntonon {
namespace {

using StateMatrix = Eigen::MatrixXd;
using StateColumn = Eigen::VectorXd;
using StateRow = Eigen::RowVectorXd;

StateRow states_of(const LinearSignal& signal, Eigen::Index count) {
    return Eigen::Map<const StateRow>(signal.states.data(), count);
}

// (zI - A)^-1 by its numerator's matrices, highest power first, and its denominator.
struct Resolvent {
    std::vector<StateMatrix> numerator;
    NetworkPolynomial denominator;
};

Resolvent resolvent_of(const StateMatrix& a) {
    const Eigen::Index n = a.rows();
    Resolvent made{{}, {1}};
    StateMatrix next = StateMatrix::Identity(n, n);
    for (Eigen::Index k = 1; k <= n; ++k) {
        made.numerator.push_back(next);
        const StateMatrix turned = a * next;
        made.denominator.push_back(-turned.trace() / static_cast<double>(k));
        next = turned + made.denominator.back() * StateMatrix::Identity(n, n);
    }
    return made;
}

// row (zI - A)^-1 column + at_once, as a numerator.
NetworkPolynomial path(const Resolvent& resolvent, const StateRow& row, const StateColumn& column,
                       double at_once) {
    NetworkPolynomial made{at_once};
    for (std::size_t k = 0; k < resolvent.numerator.size(); ++k) {
        made.push_back(row * resolvent.numerator[k] * column
                       + at_once * resolvent.denominator[k + 1]);
    }
    return made;
}

} // namespace

NetworkPaths network_paths(const LinearNetwork& network) {
    const auto n = static_cast<Eigen::Index>(network.states);
    StateMatrix a(n, n);
    StateColumn in(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const LinearSignal& next = network.next[static_cast<std::size_t>(i)];
        a.row(i) = states_of(next, n);
        in(i) = next.input;
    }
    const Resolvent resolvent = resolvent_of(a);
    const StateRow out = states_of(network.output, n);
    NetworkPaths made;
    made.poles = resolvent.denominator;
    made.through = path(resolvent, out, in, network.output.input);
    for (std::size_t j = 0; j < network.sums.size(); ++j) {
        const LinearSignal& sum = network.sums[j];
        made.to_sums.push_back(path(resolvent, states_of(sum, n), in, sum.input));
        const auto& error = network.injected[j];
        made.to_output.push_back(path(
            resolvent, out, Eigen::Map<const StateColumn>(error.next.data(), n), error.output));
    }
    return made;
}

double power_at(std::span<const double> polynomial, std::complex<double> z) {
    double re = 0, im = 0;
    for (const double c : polynomial) {
        const double turned = re * z.real() - im * z.imag() + c;
        im = re * z.imag() + im * z.real();
        re = turned;
    }
    return re * re + im * im;
}

} // namespace syntonon
