// A filter run one sample at a time, with what its delay lines hold to be looked at.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <memory>
#include <string>
#include <vector>

namespace syntonon {

class Filter;

// What a line of delays holds: the newest sample first, as many as have come in so far.
struct DelayLine {
    std::string name; // "delay of 48 samples"
    std::size_t length = 0;
    std::vector<double> taps;
};

// Started from rest. The next output is at_once * input + held: a loop without delay has that
// equation solved for its output (A. Harma, Implementation of recursive filters having delay free
// loops, Proc. ICASSP 1998).
class Stepper {
public:
    virtual ~Stepper() = default;

    // How the next output depends on the next input; the same for all samples.
    virtual double at_once() const = 0;
    // What the past alone contributes to the next output.
    virtual double held() const = 0;
    // One sample in, one out.
    virtual double take(double input) = 0;
    // Back to rest, with room for all that will be held: from then on taking samples allocates
    // nothing.
    virtual void rest() = 0;
    // Of delays and FIRs, in the order of the signal; a recursion's two states are none. At most so
    // many taps of each.
    virtual void add_lines(std::size_t most_taps, std::vector<DelayLine>& out) const = 0;
};

std::unique_ptr<Stepper> stepper_of(const Filter& filter);

} // namespace syntonon
