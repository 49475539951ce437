// A parameter that goes to where it is sent, so that nothing clicks. It needs nothing but the
// standard library, since what instruments are given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>

namespace syntonon::modelled {

// Towards its goal by an equal share of what is left with each sample; frequencies by ratios. What
// has arrived is the very value that was set.
class Glide {
public:
    // At once.
    void jump(double value, bool by_ratio) {
        by_ratio_ = by_ratio;
        value_ = goal_ = value;
        at_ = to_ = by_ratio ? std::log(value) : value;
    }
    void send(double value) {
        goal_ = value;
        to_ = by_ratio_ ? std::log(value) : value;
    }
    bool moves() const { return value_ != goal_; }
    double value() const { return value_; }
    void step(double share) {
        constexpr double arrived = 1e-6;
        at_ += share * (to_ - at_);
        if (std::abs(to_ - at_) < arrived) {
            at_ = to_;
            value_ = goal_;
        } else {
            value_ = by_ratio_ ? std::exp(at_) : at_;
        }
    }

private:
    bool by_ratio_ = false;
    double value_ = 0, goal_ = 0; // as set
    double at_ = 0, to_ = 0;      // their logarithms where it goes by ratios
};

// Of a way of 20 ms to a hundredth of what is left.
inline double glide_share(double sample_rate_hz) {
    constexpr double time_s = 0.02, left = 0.01;
    return 1 - std::exp(std::log(left) / (time_s * sample_rate_hz));
}

} // namespace syntonon::modelled
