// Networks nobody thought of, the same for the same seed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/form.h"

#include <array>
#include <random>

namespace syntonon {

class NetworkMaker {
public:
    explicit NetworkMaker(unsigned seed) : random_(seed) {}

    Filter network(int depth) {
        if (depth == 0) {
            return leaf();
        }
        switch (random_() % 4) {
        case 0: {
            const auto loop = closed_loop({network(depth - 1), number(1), network(depth - 1)});
            return loop ? *loop : leaf();
        }
        case 1:
            return Filter(
                ParallelSum{{{number(1), network(depth - 1)}, {number(1), network(depth - 1)}}});
        case 2:
            return repeated(network(depth - 1), 1 + random_() % 4);
        default:
            return series(std::array{network(depth - 1), network(depth - 1)});
        }
    }

private:
    double number(double most) {
        return std::uniform_real_distribution<double>(-most, most)(random_);
    }
    Filter leaf() {
        const double c = number(0.95);
        switch (random_() % 6) {
        case 0:
            return Filter(Delay{random_() % 5 == 0 ? random_() % 100'000 : random_() % 8});
        case 1:
            return Filter(Gain{number(1.5)});
        case 2:
            return Filter(Cascade{{Biquad{c, 1, 0, c, 0}}});
        case 3:
            return Filter(Cascade{{Biquad{1 - c, 0, 0, -c, 0}}});
        case 4:
            return Filter(Taps({number(1), number(1), 0, number(1)}));
        default:
            return {};
        }
    }

    std::mt19937 random_;
};

} // namespace syntonon
