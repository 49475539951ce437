// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/guessing.h"

#include <cmath>
#include <numbers>

namespace syntonon {

double probability_by_guessing(int right, int of) {
    double sum = 0;
    for (int k = right; k <= of; ++k) {
        const double log_count =
            std::lgamma(of + 1.0) - std::lgamma(k + 1.0) - std::lgamma(of - k + 1.0);
        sum += std::exp(log_count - of * std::numbers::ln2);
    }
    return right <= 0 ? 1 : sum;
}

} // namespace syntonon
